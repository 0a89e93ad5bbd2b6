import { findClip } from '@flimzy/core/piece';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { Button } from '../look/Button';
import { TextField } from '../look/Field';
import { Sheet } from '../look/Sheet';
import { Text } from '../look/Text';
import { ACTIONS, GROUPS, type Action } from '../open/actions';
import { edit, useEditor, usePiece } from '../open/editor';
import { keysOf, keyWords, useChosenKeys } from '../open/keys';
import { closePanel, usePanel } from '../open/panels';
import { situation } from '../open/situation';

/** Whether an action makes sense just now. */
export function isPossible(action: Action): boolean {
  const now = situation();
  return !action.when || (now !== null && action.when(now));
}

/** One action as a line: its words, and its key where there is a keyboard. */
export function ActionLine({ action, chosen = false, onRun }: { action: Action; chosen?: boolean; onRun: () => void }) {
  const keys = useChosenKeys((s) => s.chosen);
  const [key] = keysOf(action, keys);
  const possible = isPossible(action);
  return (
    <Pressable
      accessibilityRole="button"
      accessibilityLabel={action.words}
      testID={`do-${action.id}`}
      accessibilityState={{ disabled: !possible, selected: chosen }}
      disabled={!possible}
      onPress={onRun}
      className={`min-h-[44px] flex-row items-center justify-between gap-3 rounded-xl px-2 active:bg-raised ${chosen ? 'bg-raised' : ''}`}
    >
      <Text className={`shrink ${possible ? '' : 'text-muted'}`}>{action.words}</Text>
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
      low
      testID="more-sheet"
    >
      <View className="gap-4">
        {found ? <OneClip key={found.clip.id} clip={found.clip} /> : null}
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

function OneClip({ clip }: { clip: { id: string; name: string } }) {
  const [name, setName] = useState(clip.name);
  const rename = () => {
    if (name.trim() && name.trim() !== clip.name) edit('rename', { clip: clip.id, name });
    closePanel();
  };
  return (
    <View className="gap-2">
      <TextField label="Name of this clip" value={name} onChange={setName} testID="clip-name" />
      <Button label="Rename" onPress={rename} />
    </View>
  );
}
