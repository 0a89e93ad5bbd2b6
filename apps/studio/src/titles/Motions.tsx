import type { Clip } from '@flimzy/core/piece';
import {
  MOTION_BY_NAMES,
  MOTION_MAX,
  MOTION_NAMES,
  MotionBy,
  MotionKind,
  sayFade,
  typedSeconds,
  valueOf,
  type Motion,
} from '@flimzy/core/properties';
import { fromSeconds } from '@flimzy/core/time';
import { View } from 'react-native';
import { Button } from '../look/Button';
import { Choice } from '../look/Choice';
import { FigureField } from '../look/Field';
import { Text } from '../look/Text';
import { moveTo, play } from '../open/editor';
import { setTitle } from '../open/titles';

const KINDS = [{ id: 'none', name: 'None' } as const, ...MotionKind.options.map((id) => ({ id, name: MOTION_NAMES[id] }))];
const BY = MotionBy.options.map((id) => ({ id, name: MOTION_BY_NAMES[id] }));
const DIRECTIONS = [
  { id: 'up', name: 'Up' },
  { id: 'down', name: 'Down' },
  { id: 'left', name: 'To the left' },
  { id: 'right', name: 'To the right' },
] as const;

/** Motions in which a direction is seen. */
const DIRECTED: readonly MotionKind[] = ['rise', 'slide', 'unveil', 'swing', 'hop'];

/** Plays the title from where it begins. */
async function seeMotion(clip: Clip): Promise<void> {
  moveTo(clip.start);
  await play();
}

const TENTH = fromSeconds(0.1);
const NEW: Motion = { kind: 'fade', length: fromSeconds(0.5), by: 'whole', direction: 'up' };

/** How a title comes in, and how it goes. */
export function Motions({ clip }: { clip: Clip }) {
  return (
    <>
      <MotionOf clip={clip} name="motionIn" label="Comes in" />
      <MotionOf clip={clip} name="motionOut" label="Goes" />
      {clip.motionIn === undefined && clip.motionOut === undefined ? null : (
        <Button label="See it come and go" onPress={() => void seeMotion(clip)} testID="see-motion" />
      )}
    </>
  );
}

function MotionOf({ clip, name, label }: { clip: Clip; name: 'motionIn' | 'motionOut'; label: string }) {
  const value = valueOf(clip, name);
  const set = (motion: Motion | 'none') => setTitle(clip, { [name]: motion });
  return (
    <View className="gap-2" testID={name}>
      <Text kind="label">{label}</Text>
      <Choice
        label={label}
        value={value === 'none' ? 'none' : value.kind}
        options={KINDS}
        onChange={(kind) => set(kind === 'none' ? 'none' : { ...(value === 'none' ? NEW : value), kind })}
      />
      {value === 'none' ? null : (
        <>
          <View className="rounded-2xl bg-raised px-4">
            <FigureField
              label="Length"
              testID={`${name}-length`}
              value={sayFade(value.length)}
              onSubmit={(text) => {
                const typed = typedSeconds(text);
                if (typed === null || typed <= 0 || typed > MOTION_MAX) return 'Seconds, between 0 and 10.';
                return set({ ...value, length: Math.round(typed) }) ? null : 'It cannot be set.';
              }}
              onStep={(by) => set({ ...value, length: Math.min(MOTION_MAX, Math.max(TENTH, value.length + by * TENTH)) })}
            />
          </View>
          <Choice label={`${label}: in parts`} value={value.by} options={BY} onChange={(by) => set({ ...value, by })} />
          {DIRECTED.includes(value.kind) ? (
            <Choice
              label={`${label}: direction`}
              value={value.direction}
              options={DIRECTIONS}
              onChange={(direction) => set({ ...value, direction })}
            />
          ) : null}
        </>
      )}
    </View>
  );
}
