import { draftOf } from '@flimzy/core/edits';
import { clipEnd, findClip, seamAt, seamsOf, type Clip, type Piece, type Seam } from '@flimzy/core/piece';
import { TRANSITION_MAX, TRANSITION_NAMES, valueOf, type Transition } from '@flimzy/core/properties';
import { toGrid } from '@flimzy/core/time';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronUp from 'lucide-react-native/icons/chevron-up';
import Repeat from 'lucide-react-native/icons/repeat';
import Square from 'lucide-react-native/icons/square';
import { useMemo, useState } from 'react';
import { Pressable, View } from 'react-native';
import { Button, IconButton } from '../look/Button';
import { Choice } from '../look/Choice';
import { Dock } from '../look/Dock';
import { Text } from '../look/Text';
import { edit, moveTo, useSettledPiece } from '../open/editor';
import { useLoop } from '../open/loop';
import { closePanel, openPanel, usePanel } from '../open/panels';
import { kindsByUse, newTransition, noteUse, setHabits, setTransitions, useHabits } from '../open/transitions';
import { Still } from '../preview/Still';
import { TransitionFigures } from './TransitionFigures';

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
  const near = useMemo(() => around(piece, at), [piece, at]);
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
                piece={near}
                clip={clip}
                field={field}
                transition={value === 'none' ? newTransition(kind) : { ...value, kind }}
                at={at}
              />
            </Tile>
          ))}
        </View>
        {value === 'none' ? null : <TransitionFigures value={value} write={write} seam={seam} piece={piece} />}
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

/** A piece with only what can be seen near a time: each kind is drawn on a copy of it, which goes to a worker. */
const around = (piece: Piece, time: number): Piece => ({
  ...piece,
  tracks: piece.tracks.map((track) => ({
    ...track,
    clips: track.clips.filter((clip) => clip.start < time + TRANSITION_MAX && clipEnd(clip) > time - TRANSITION_MAX),
  })),
});

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
