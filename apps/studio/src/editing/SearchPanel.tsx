import { useMemo, useState } from 'react';
import { Pressable, View } from 'react-native';
import { Button } from '../look/Button';
import { TextField } from '../look/Field';
import { Sheet } from '../look/Sheet';
import { Text } from '../look/Text';
import { ACTIONS, GROUPS, type Action } from '../open/actions';
import { chooseKey, keyName, keysOf, keyWords, resetKeys, useChosenKeys } from '../open/keys';
import { ActionLine, isPossible, runFromSheet } from './MorePanel';
import { closePanel, usePanel } from '../open/panels';

/** The actions whose words hold every word typed. */
function matching(text: string): Action[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  return ACTIONS.filter((a) => words.every((word) => `${a.words} ${a.caption} ${a.group}`.toLowerCase().includes(word)));
}

const lineId = (action = '') => `found-${action}`;

/** Finds any action by its words, and does it: Enter does the first that can be done, arrows choose another. */
export function SearchPanel() {
  const open = usePanel((s) => s.panel?.name === 'search');
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const found = useMemo(() => matching(text), [text]);
  if (!open) return null;
  const possible = found.filter(isPossible);
  const chosen = possible[Math.min(at, possible.length - 1)];
  const run = (action: Action | undefined) => {
    if (!action) return;
    setText('');
    setAt(0);
    runFromSheet(action);
  };
  const choose = (n: number) => {
    const next = Math.max(0, Math.min(possible.length - 1, n));
    setAt(next);
    document.getElementById(lineId(possible[next]?.id))?.scrollIntoView({ block: 'nearest' });
  };
  return (
    <Sheet title="Search actions" open onClose={closePanel} tall testID="search-sheet">
      <TextField
        label="What do you want to do?"
        value={text}
        onChange={(typed) => {
          setText(typed);
          setAt(0);
        }}
        autoFocus
        testID="search-text"
        onKey={(key) => {
          if (key === 'Enter') run(chosen);
          if (key === 'ArrowDown') choose(at + 1);
          if (key === 'ArrowUp') choose(at - 1);
        }}
      />
      <View className="pt-3">
        {found.map((action) => (
          <View key={action.id} nativeID={lineId(action.id)}>
            <ActionLine action={action} chosen={action === chosen} onRun={() => run(action)} />
          </View>
        ))}
        {found.length === 0 ? <Text kind="note">No action has these words. Try fewer of them.</Text> : null}
      </View>
    </Sheet>
  );
}

/** Every key, to read and to change. */
export function KeysPanel() {
  const open = usePanel((s) => s.panel?.name === 'keys');
  const chosen = useChosenKeys((s) => s.chosen);
  const [text, setText] = useState('');
  const [waiting, setWaiting] = useState<string | null>(null);
  const found = useMemo(() => matching(text), [text]);
  if (!open) return null;
  return (
    <Sheet
      title="Keys"
      open
      onClose={closePanel}
      tall
      testID="keys-sheet"
      footer={<Button label="Back to the keys it came with" kind="quiet" onPress={resetKeys} testID="keys-reset" />}
    >
      <View className="gap-4">
        <TextField label="Search" value={text} onChange={setText} testID="keys-search" />
        <Text kind="note">Touch a key to give the action another one.</Text>
        {GROUPS.map((group) => {
          const actions = found.filter((a) => a.group === group);
          if (actions.length === 0) return null;
          return (
            <View key={group}>
              <Text kind="small" className="pb-1">
                {group}
              </Text>
              {actions.map((action) => (
                <View key={action.id} className="min-h-[44px] flex-row items-center justify-between gap-3">
                  <Text className="shrink">{action.words}</Text>
                  <KeyButton
                    action={action}
                    waiting={waiting === action.id}
                    keys={keysOf(action, chosen)}
                    onWait={() => setWaiting(waiting === action.id ? null : action.id)}
                    onChosen={(key) => {
                      chooseKey(action, key);
                      setWaiting(null);
                    }}
                  />
                </View>
              ))}
            </View>
          );
        })}
      </View>
    </Sheet>
  );
}

/** The keys of an action; touched, it takes the next one pressed. */
function KeyButton({
  action,
  keys,
  waiting,
  onWait,
  onChosen,
}: {
  action: Action;
  keys: readonly string[];
  waiting: boolean;
  onWait: () => void;
  onChosen: (key: string) => void;
}) {
  const hear = (node: unknown) => {
    if (!(node instanceof HTMLElement)) return;
    node.onkeydown = null;
    if (!waiting) return;
    node.onkeydown = (event) => {
      if (['Shift', 'Control', 'Alt', 'Meta', 'Tab'].includes(event.key)) return;
      event.preventDefault();
      event.stopPropagation();
      if (event.key === 'Escape') onWait();
      else onChosen(keyName(event));
    };
    node.focus();
  };
  return (
    <Pressable
      ref={hear}
      accessibilityRole="button"
      accessibilityLabel={`Key for ${action.words}: ${keys.map(keyWords).join(', ') || 'none'}. Change`}
      testID={`key-${action.id}`}
      onPress={onWait}
      className={`min-h-[40px] min-w-[64px] items-center justify-center rounded-lg px-3 ${waiting ? 'bg-paper' : 'bg-raised active:bg-hairline'}`}
    >
      <Text kind="small" className={`font-mono ${waiting ? 'text-onpaper' : 'text-ink'}`}>
        {waiting ? 'press a key' : keys.map(keyWords).join(', ') || '—'}
      </Text>
    </Pressable>
  );
}
