import { TRANSITIONS } from '@flimzy/core/frame';
import type { Piece, Seam } from '@flimzy/core/piece';
import { sayFade, typedColour, typedNumber, typedSeconds, type Transition } from '@flimzy/core/properties';
import { formatTimecode, fromSeconds } from '@flimzy/core/time';
import { View } from 'react-native';
import { Button } from '../look/Button';
import { Choice } from '../look/Choice';
import { FigureField } from '../look/Field';
import { Text } from '../look/Text';
import { setLength } from '../open/lengths';
import { openPanel } from '../open/panels';
import { materialFor } from '../open/transitions';
import { DrawnShape } from './DrawnShape';

const DIRECTIONS = [
  { id: 'left', name: 'To the left' },
  { id: 'right', name: 'To the right' },
  { id: 'up', name: 'Up' },
  { id: 'down', name: 'Down' },
] as const;

const SHAPES = [
  { id: 'star', name: 'Star' },
  { id: 'heart', name: 'Heart' },
  { id: 'diamond', name: 'Diamond' },
  { id: 'burst', name: 'Burst' },
  { id: 'kite', name: 'Kite' },
  { id: 'drawn', name: 'Draw one' },
] as const;

/** The least length by steps, and one step: 0.1 s, in flicks. */
const TENTH = fromSeconds(0.1);

/** The figures of a transition, and what is missing for it. */
export function TransitionFigures({
  value,
  write,
  seam,
  piece,
}: {
  value: Transition;
  write: (next: Transition) => boolean;
  seam: Seam | null;
  piece: Piece;
}) {
  const { takes } = TRANSITIONS[value.kind];
  const room = seam ? materialFor(seam) : Infinity;
  const short = seam !== null && room < value.length;
  return (
    <View className="gap-3">
      <View className="rounded-2xl bg-raised px-4">
        <FigureField
          label="Length"
          testID="transition-length"
          value={sayFade(value.length)}
          onSubmit={(text) => {
            const typed = typedSeconds(text);
            if (typed === null || typed <= 0 || !setLength('transition', typed)) return 'Seconds, between 0 and 10.';
            return write({ ...value, length: Math.round(typed) }) ? null : 'It cannot be set.';
          }}
          onStep={(by) => write({ ...value, length: Math.max(TENTH, value.length + by * TENTH) })}
        />
        {takes.includes('soft') ? (
          <FigureField
            label="Softness"
            testID="transition-soft"
            value={`${Math.round(value.soft * 100)} %`}
            onSubmit={(text) => {
              const typed = typedNumber(text, /%/);
              if (typed === null || typed < 0 || typed > 100) return 'Between 0 and 100 %.';
              return write({ ...value, soft: typed / 100 }) ? null : 'It cannot be set.';
            }}
            onStep={(by) => write({ ...value, soft: Math.max(0, Math.min(1, value.soft + by * 0.05)) })}
          />
        ) : null}
        {takes.includes('colour') ? (
          <FigureField
            label="Colour"
            testID="transition-colour"
            value={value.colour}
            onSubmit={(text) => {
              const colour = typedColour(text);
              return colour !== null && write({ ...value, colour }) ? null : 'A colour as #rrggbb.';
            }}
          />
        ) : null}
      </View>
      {takes.includes('shape') ? (
        <>
          <Choice label="Shape" value={value.shape} options={SHAPES} onChange={(shape) => write({ ...value, shape })} />
          {value.shape === 'drawn' ? <DrawnShape value={value} write={write} /> : null}
        </>
      ) : null}
      {takes.includes('direction') ? (
        <Choice label="Direction" value={value.direction} options={DIRECTIONS} onChange={(direction) => write({ ...value, direction })} />
      ) : null}
      {short ? (
        <View className="gap-2" testID="transition-short">
          <Text kind="note" className="text-warn">
            {room > 0 ? `There is material left for ${formatTimecode(room, piece.format.rate)}` : 'There is no material left'} at this join:
            what is missing is a frame that stands still.
          </Text>
          {room > 0 ? (
            <Button
              label={`Only ${formatTimecode(room, piece.format.rate)} long`}
              onPress={() => write({ ...value, length: room })}
              testID="transition-shorter"
            />
          ) : null}
          <Button label="Move the join" onPress={() => seam && openPanel({ name: 'seam', clip: seam.after.id })} testID="transition-seam" />
        </View>
      ) : null}
    </View>
  );
}
