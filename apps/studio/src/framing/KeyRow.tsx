import type { Clip } from '@flimzy/core/piece';
import { changes, CURVE_NAMES, keys, valueOf, type Ease } from '@flimzy/core/properties';
import Before from 'lucide-react-native/icons/chevron-up';
import Diamond from 'lucide-react-native/icons/diamond';
import After from 'lucide-react-native/icons/chevron-down';
import { View } from 'react-native';
import { IconButton } from '../look/Button';
import { Choice } from '../look/Choice';
import { Text } from '../look/Text';
import { useEditor } from '../open/editor';
import { goToKey, momentOf, setEase, toggleKeys } from '../open/framing';

const EASES = [
  { id: 'slowBoth', name: 'Slow at both' },
  { id: 'even', name: 'Even' },
  { id: 'slowStart', name: 'Slow start' },
  { id: 'slowEnd', name: 'Slow end' },
  { id: 'hold', name: 'Jump' },
] as const satisfies readonly { id: Ease; name: string }[];

/** Keys of the framing: one here, from one to the next, and how it goes on from the one at the playhead. */
export function KeyRow({ clips }: { clips: readonly Clip[] }) {
  const playhead = useEditor((s) => s.playhead);
  const [first] = clips;
  if (!first) return null;
  const at = momentOf(first, playhead);
  const names = CURVE_NAMES.filter((name) => changes(first[name]));
  const key = names.map((name) => keys.keyAt(valueOf(first, name), at)).find(Boolean);
  const all = names.length > 0 && names.every((name) => keys.keyAt(valueOf(first, name), at));
  return (
    <View className="gap-2">
      <View className="flex-row items-center gap-1.5">
        <IconButton
          icon={Before}
          label="To the key before"
          onPress={() => goToKey(first, -1)}
          disabled={names.length === 0}
          testID="key-before"
        />
        <View className="flex-1">
          <IconButton
            icon={Diamond}
            label={all ? 'Take away the key here' : 'Set a key here: what is changed elsewhere then leaves this as it is'}
            caption={all ? 'Take the key away' : 'Key here'}
            active={all}
            onPress={() => toggleKeys(clips)}
            testID="key-here"
          />
        </View>
        <IconButton
          icon={After}
          label="To the next key"
          onPress={() => goToKey(first, 1)}
          disabled={names.length === 0}
          testID="key-after"
        />
      </View>
      {key ? (
        <View className="gap-1.5">
          <Text kind="label">From this key on to the next</Text>
          <Choice label="From this key on to the next" value={key.ease} options={EASES} onChange={(ease) => setEase(first, at, ease)} />
        </View>
      ) : null}
    </View>
  );
}
