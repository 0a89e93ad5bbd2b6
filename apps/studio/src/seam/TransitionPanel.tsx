import { draftOf } from '@flimzy/core/edits';
import { TRANSITIONS } from '@flimzy/core/frame';
import { clipEnd, findClip, seamAt, seamsOf, type Clip, type Piece, type Seam } from '@flimzy/core/piece';
import { sayFade, TRANSITION_NAMES, typedColour, typedNumber, typedSeconds, valueOf, type Transition } from '@flimzy/core/properties';
import { formatTimecode, toGrid } from '@flimzy/core/time';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronUp from 'lucide-react-native/icons/chevron-up';
import Repeat from 'lucide-react-native/icons/repeat';
import Square from 'lucide-react-native/icons/square';
import { useMemo, useState } from 'react';
import { Pressable, View } from 'react-native';
import { Button, IconButton } from '../look/Button';
import { Choice } from '../look/Choice';
import { Dock } from '../look/Dock';
import { FigureField } from '../look/Field';
import { Text } from '../look/Text';
import { edit, moveTo, useSettledPiece } from '../open/editor';
import { setLength } from '../open/lengths';
import { useLoop } from '../open/loop';
import { closePanel, openPanel, usePanel } from '../open/panels';
import { kindsByUse, materialFor, newTransition, noteUse, setHabits, setTransitions, useHabits } from '../open/transitions';
import { Still } from '../preview/Still';

const DIRECTIONS = [
  { id: 'left', name: 'To the left' },
  { id: 'right', name: 'To the right' },
  { id: 'up', name: 'Up' },
  { id: 'down', name: 'Down' },
] as const;

/** How wide each kind is shown, in pixels: five beside each other on a phone, as long as the piece is not wide. */
const tileOf = ({ format }: Piece) => (format.width > format.height ? 84 : 58);

/** How one picture goes over into the next: each kind seen over the two clips themselves, with its figures. */
export function TransitionPanel() {
  const panel = usePanel((s) => (s.panel?.name === 'transition' ? s.panel : null));
  const piece = useSettledPiece();
  const found = panel && piece ? findClip(piece, panel.clip) : null;
  if (!panel || !piece) return null;
  if (!found)
    return (
      <Dock title="Transition" onClose={closePanel} testID="transition-panel">
        <Text kind="note">That clip is not there any more.</Text>
      </Dock>
    );
  return (
    <Open
      key={`${found.clip.id} ${panel.end}`}
      piece={piece}
      clip={found.clip}
      seam={panel.end ? null : seamAt(piece, found.clip.id)}
      end={panel.end}
    />
  );
}

function Open({ piece, clip, seam, end }: { piece: Piece; clip: Clip; seam: Seam | null; end: boolean }) {
  const field = end ? 'ending' : 'transition';
  const value = valueOf(clip, field);
  const sound = useHabits((s) => s.sound);
  const [kinds] = useState(kindsByUse);
  const at = end ? clipEnd(clip) : clip.start;
  const tile = tileOf(piece);
  const loop = useLoop(at);
  const close = () => {
    loop.stop();
    closePanel();
  };
  const write = (next: Transition | null): boolean => {
    const done = end ? edit('set', { clips: [clip.id], values: { ending: next ?? 'none' } }) : setTransitions(piece, [clip.id], next);
    if (done && loop.on) loop.again();
    return done;
  };
  const choose = (next: Transition) => {
    if (!write(next)) return;
    noteUse(next);
    if (!loop.on) moveTo(toGrid(at, piece.format.rate));
  };
  const joins = seam ? seamsOf(seam.track) : [];
  const index = joins.findIndex((one) => one.id === clip.id);
  const go = (by: number) => {
    const next = joins[index + by];
    if (!next) return;
    loop.stop();
    moveTo(next.start);
    openPanel({ name: 'transition', clip: next.id, end: false });
  };
  return (
    <Dock
      title={seam ? `${seam.before.name} → ${clip.name}` : end ? `End of ${clip.name}` : `Start of ${clip.name}`}
      onClose={close}
      testID="transition-panel"
      footer={
        <View className="flex-row items-center gap-2">
          <IconButton label="The join before" icon={ChevronUp} onPress={() => go(-1)} disabled={index <= 0} testID="join-before" />
          <View className="flex-1">
            <Button
              label={loop.on ? 'Stop' : 'Loop it'}
              icon={loop.on ? Square : Repeat}
              kind={loop.on ? 'plain' : 'main'}
              onPress={loop.toggle}
              testID="transition-loop"
            />
          </View>
          <IconButton
            label="The next join"
            icon={ChevronDown}
            onPress={() => go(1)}
            disabled={index < 0 || index >= joins.length - 1}
            testID="join-after"
          />
        </View>
      }
    >
      <View className="gap-4">
        <View accessibilityRole="radiogroup" accessibilityLabel="Transition" className="flex-row flex-wrap gap-2">
          <Tile name="Plain cut" width={tile} chosen={value === 'none'} onPress={() => write(null)} testID="transition-none">
            <View
              className="items-center justify-center rounded-[10px] bg-raised"
              style={{ width: tile, height: Math.round((tile * piece.format.height) / piece.format.width) }}
            >
              <Text kind="small">cut</Text>
            </View>
          </Tile>
          {kinds.map((kind) => (
            <Tile
              key={kind}
              name={TRANSITION_NAMES[kind]}
              width={tile}
              chosen={value !== 'none' && value.kind === kind}
              onPress={() => choose(value === 'none' ? newTransition(kind) : { ...value, kind })}
              testID={`transition-${kind}`}
            >
              <Shown
                piece={piece}
                clip={clip}
                field={field}
                transition={value === 'none' ? newTransition(kind) : { ...value, kind }}
                at={at}
              />
            </Tile>
          ))}
        </View>
        {value === 'none' ? null : <Figures value={value} write={write} seam={seam} piece={piece} />}
        {seam && seam.handOver !== null ? (
          <Choice
            label="Its sound"
            value={sound ? 'along' : 'stays'}
            options={[
              { id: 'along', name: 'Sound crossfades along' },
              { id: 'stays', name: 'Sound as it is' },
            ]}
            onChange={(id) => setHabits({ sound: id === 'along' })}
          />
        ) : null}
        {value !== 'none' && joins.length > 1 ? (
          <Button
            label={`The same at all ${joins.length} joins of this track`}
            onPress={() =>
              setTransitions(
                piece,
                joins.map((one) => one.id),
                value,
              )
            }
            testID="transition-all"
          />
        ) : null}
      </View>
    </Dock>
  );
}

interface TileProps {
  name: string;
  width: number;
  chosen: boolean;
  onPress: () => void;
  testID: string;
  children: React.ReactNode;
}

function Tile({ name, width, chosen, onPress, testID, children }: TileProps) {
  return (
    <Pressable
      accessibilityRole="radio"
      accessibilityLabel={name}
      aria-checked={chosen}
      onPress={onPress}
      testID={testID}
      className="items-center gap-1"
      style={{ width: width + 6 }}
    >
      <View className={`rounded-xl border-2 p-0.5 ${chosen ? 'border-paper' : 'border-transparent'}`}>{children}</View>
      <Text kind="small" className="text-center text-ink" numberOfLines={2}>
        {name}
      </Text>
    </Pressable>
  );
}

/** A transition over the two clips themselves, somewhat before its middle. */
function Shown({
  piece,
  clip,
  field,
  transition,
  at,
}: {
  piece: Piece;
  clip: Clip;
  field: 'transition' | 'ending';
  transition: Transition;
  at: number;
}) {
  const asked = JSON.stringify(transition);
  const draft = useMemo(
    () => draftOf(piece, 'set', { clips: [clip.id], values: { [field]: JSON.parse(asked) as Transition } }),
    [piece, clip.id, field, asked],
  );
  const early = field === 'ending' ? transition.length * 0.6 : transition.length * 0.1;
  const time = Math.max(0, toGrid(at - early, piece.format.rate));
  return <Still piece={draft} time={time} width={tileOf(piece)} label="" />;
}

/** The figures of a transition, and what is missing for it. */
function Figures({
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
          onStep={(by) => write({ ...value, length: Math.max(70_560_000, value.length + by * 70_560_000) })}
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
