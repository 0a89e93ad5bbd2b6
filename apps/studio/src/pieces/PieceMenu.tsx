import type { PieceSummary } from '@flimzy/contract';
import { useRouter } from 'expo-router';
import { useEffect, useState } from 'react';
import { View } from 'react-native';
import { v4 as uuid } from 'uuid';
import { addressOf } from '../api/address';
import { call } from '../api/client';
import { KEYS, putInto, queryClient, takeOut } from '../api/queries';
import { Button } from '../look/Button';
import { TextField } from '../look/Field';
import { saveFrom } from '../look/saveFile';
import { Sheet } from '../look/Sheet';
import { Text } from '../look/Text';
import { say, sayWhy } from '../look/Toast';

/** What can be done with a piece from the list. */
export function PieceMenu({ piece, onClose }: { piece: PieceSummary | null; onClose: () => void }) {
  const router = useRouter();
  const [name, setName] = useState('');
  useEffect(() => setName(piece?.name ?? ''), [piece]);
  if (!piece) return null;
  const { id } = piece;
  const rename = async () => {
    onClose();
    if (!name.trim() || name.trim() === piece.name) return;
    const { refused } = await call('editPiece', {
      params: { id },
      body: { since: piece.revision, requests: [{ kind: 'do', id: uuid(), name: 'rename', params: { clip: null, name } }] },
    });
    if (refused[0]) say(refused[0].sentence);
    await queryClient.invalidateQueries({ queryKey: KEYS.pieces });
  };
  const copy = async () => {
    onClose();
    const made = await call('copyPiece', { params: { id } });
    putInto(KEYS.pieces, made);
    router.push({ pathname: '/piece/[id]', params: { id: made.id } });
  };
  const archive = () => {
    onClose();
    saveFrom(addressOf('pieceArchive', { id }), `${piece.name}.flimzy.zip`);
  };
  const remove = async () => {
    onClose();
    takeOut(KEYS.pieces, id);
    await call('deletePiece', { params: { id } });
    const restore = async () => putInto(KEYS.pieces, await call('restorePiece', { params: { id } }));
    say(`“${piece.name}” is deleted.`, { label: 'Undo', run: () => void restore().catch(sayWhy) });
  };
  return (
    <Sheet title={piece.name} open onClose={onClose} testID="piece-menu">
      <View className="gap-3">
        <TextField label="Name" value={name} onChange={setName} testID="rename-piece" />
        <Button label="Rename" onPress={() => void rename().catch(sayWhy)} />
        <Button label="Open as a copy" onPress={() => void copy().catch(sayWhy)} testID="copy-piece" />
        <View className="gap-1">
          <Button label="Keep as an archive" onPress={archive} testID="archive-piece" />
          <Text kind="small" className="px-2 leading-[16px]">
            One ZIP file with its history and all its media as they were brought in. Any Flimzy can bring it in again.
          </Text>
        </View>
        <Button label="Delete" kind="danger" onPress={() => void remove().catch(sayWhy)} testID="delete-piece" />
      </View>
    </Sheet>
  );
}
