import { useQuery } from '@tanstack/react-query';
import { format } from 'date-fns/format';
import { useRouter } from 'expo-router';
import Trash from 'lucide-react-native/icons/trash';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '../api/client';
import { KEYS, putInto, queryClient } from '../api/queries';
import { Button, IconButton } from '../look/Button';
import { TextField } from '../look/Field';
import { Sheet } from '../look/Sheet';
import { Text } from '../look/Text';
import { say, sayWhy } from '../look/Toast';
import { AsidePart } from './AsidePart';
import { backTo, forwardTo, showOlder, undoDeeper, useEditor } from '../open/editor';
import { closePanel, usePanel } from '../open/panels';
import { saved } from '../open/saved';

const when = (at: string) => (at.startsWith('1970') ? '' : format(new Date(at), 'd MMM, HH:mm:ss'));

/** What was done, by name and time: a touch goes back to that moment. And versions that were given a name. */
export function HistoryPanel() {
  const open = usePanel((s) => s.panel?.name === 'history');
  const head = useEditor((s) => s.session?.current ?? null);
  const [shown, setShown] = useState(60);
  if (!open || !head) return null;
  const undo = [...head.undo].reverse();
  const older = Math.max(0, undo.length - shown) + undoDeeper();
  return (
    <Sheet title="History" open onClose={closePanel} tall testID="history-sheet">
      <AsidePart />
      <Versions />
      <Text kind="small" className="pb-1 pt-5">
        Edits, last first. Touch one to go back to just after it.
      </Text>
      {[...head.redo].map((entry) => (
        <Line key={entry.id} title={entry.title} at={when(entry.at)} state="undone" onPress={() => forwardTo(entry.id)} />
      ))}
      {undo.slice(0, shown).map((entry, i) => (
        <Line key={entry.id} title={entry.title} at={when(entry.at)} state={i === 0 ? 'now' : 'done'} onPress={() => backTo(entry.id)} />
      ))}
      {older > 0 ? (
        <Button
          label={`Show ${older} older`}
          kind="quiet"
          testID="history-older"
          onPress={() => {
            setShown(shown + 200);
            if (undo.length < shown + 200) showOlder().catch(sayWhy);
          }}
        />
      ) : (
        <Line title="As it was made" at="" state={undo.length === 0 ? 'now' : 'done'} onPress={() => backTo(null)} />
      )}
    </Sheet>
  );
}

function Line({ title, at, state, onPress }: { title: string; at: string; state: 'undone' | 'now' | 'done'; onPress: () => void }) {
  return (
    <Pressable
      accessibilityRole="button"
      accessibilityLabel={`${title}${state === 'now' ? ', where you are' : state === 'undone' ? ', undone' : ''}`}
      testID={`history-${state}`}
      onPress={onPress}
      className="min-h-[44px] flex-row items-center gap-3 rounded-xl px-2 active:bg-raised"
    >
      <View className={`h-2.5 w-2.5 rounded-full ${state === 'now' ? 'bg-signal' : 'bg-hairline'}`} />
      <Text className={`shrink flex-1 ${state === 'undone' ? 'text-muted line-through' : ''}`} numberOfLines={1}>
        {title}
      </Text>
      <Text kind="small" className="font-mono">
        {at}
      </Text>
    </Pressable>
  );
}

function Versions() {
  const id = useEditor((s) => s.id) ?? '';
  const router = useRouter();
  const [name, setName] = useState('');
  const key = ['versions', id];
  const { data: versions } = useQuery({ queryKey: key, queryFn: () => call('listVersions', { params: { id } }), enabled: id !== '' });
  const again = () => queryClient.invalidateQueries({ queryKey: key });
  const save = async () => {
    await saved();
    await call('saveVersion', { params: { id }, body: { name: name.trim() } });
    setName('');
    await again();
    say('The version is kept.');
  };
  const copy = async (version: string) => {
    const made = await call('copyVersion', { params: { id, version } });
    putInto(KEYS.pieces, made);
    closePanel();
    router.replace({ pathname: '/piece/[id]', params: { id: made.id } });
  };
  const remove = async (version: string) => {
    await call('deleteVersion', { params: { id, version } });
    await again();
  };
  return (
    <View className="gap-2">
      <View className="flex-row items-end gap-2">
        <View className="flex-1">
          <TextField label="Name of this version" value={name} onChange={setName} testID="version-name" />
        </View>
        <Button label="Keep" kind="main" disabled={!name.trim()} onPress={() => void save().catch(sayWhy)} testID="version-save" />
      </View>
      {(versions ?? []).map((version) => (
        <View key={version.id} testID="version" className="flex-row items-center gap-2 rounded-2xl bg-raised py-1 pl-4 pr-1">
          <View className="min-w-0 flex-1">
            <Text numberOfLines={1}>{version.name}</Text>
            <Text kind="small" className="font-mono">
              {when(version.at)}
            </Text>
          </View>
          <Button label="Open as a copy" kind="quiet" onPress={() => void copy(version.id).catch(sayWhy)} />
          <IconButton label={`Forget ${version.name}`} icon={Trash} onPress={() => void remove(version.id).catch(sayWhy)} />
        </View>
      ))}
    </View>
  );
}
