import { findClip } from '@flimzy/core/piece';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { Button } from '../look/Button';
import { TextField } from '../look/Field';
import { Sheet } from '../look/Sheet';
import { Text } from '../look/Text';
import { ACTIONS, GROUPS, type Action } from './actions';
import { edit, useEditor, usePiece } from './editor';
import { keysOf, keyWords, useChosenKeys } from './keys';
import { closePanel, usePanel } from './panels';
import { situation } from './situation';

/** One action as a line: its words, and its key where there is a keyboard. */
export function ActionLine({ action, onRun }: { action: Action; onRun: () => void }) {
  const chosen = useChosenKeys((s) => s.chosen);
  const [key] = keysOf(action, chosen);
  const now = situation();
  const possible = !action.when || (now !== null && action.when(now));
  return (
    <Pressable
      accessibilityRole="button"
      accessibilityLabel={action.words}
      testID={`do-${action.id}`}
      disabled={!possible}
      onPress={onRun}
      className={`min-h-[44px] flex-row items-center justify-between gap-3 rounded-xl px-2 active:bg-raised ${possible ? '' : 'opacity-40'}`}
    >
      <Text className="shrink">{action.words}</Text>
      {key ? (
        <Text kind="small" className="font-mono">
          {keyWords(key)}
        </Text>
      ) : null}
    </Pressable>
  );
}

/** Runs an action from a sheet: the sheet closes first, so that one it opens stays open. */
export function runFromSheet(action: Action): void {
  closePanel();
  action.run();
}

/** Everything that can be done, by what it is about. */
export function MorePanel() {
  const open = usePanel((s) => s.panel?.name === 'more');
  const piece = usePiece();
  const selected = useEditor((s) => s.selected);
  const found = piece && selected.length === 1 ? findClip(piece, selected[0] ?? '') : null;
  if (!open) return null;
  const groups = GROUPS.filter((group) => group !== 'Go');
  return (
    <Sheet
      title={found ? found.clip.name : selected.length > 1 ? `${selected.length} clips` : 'More'}
      open
      onClose={closePanel}
      tall
      testID="more-sheet"
    >
      <View className="gap-4">
        {found ? <OneClip key={found.clip.id} clip={found.clip} picture={found.track.kind === 'picture'} /> : null}
        {groups.map((group) => (
          <View key={group}>
            <Text kind="small" className="px-2 pb-1">
              {group}
            </Text>
            {ACTIONS.filter((a) => a.group === group).map((action) => (
              <ActionLine key={action.id} action={action} onRun={() => runFromSheet(action)} />
            ))}
          </View>
        ))}
      </View>
    </Sheet>
  );
}

function OneClip({
  clip,
  picture,
}: {
  clip: { id: string; name: string; fit: 'fit' | 'fill'; backdrop: 'black' | 'blur' };
  picture: boolean;
}) {
  const [name, setName] = useState(clip.name);
  const rename = () => {
    if (name.trim() && name.trim() !== clip.name) edit('rename', { clip: clip.id, name });
    closePanel();
  };
  return (
    <View className="gap-2">
      <TextField label="Name of this clip" value={name} onChange={setName} testID="clip-name" />
      <Button label="Rename" onPress={rename} />
      {picture && clip.fit === 'fit' ? (
        <Button
          label={clip.backdrop === 'blur' ? 'Black behind the picture' : 'Its own blur behind the picture'}
          onPress={() => {
            edit('set', { clips: [clip.id], values: { fit: 'fit', backdrop: clip.backdrop === 'blur' ? 'black' : 'blur' } });
            closePanel();
          }}
        />
      ) : null}
    </View>
  );
}
