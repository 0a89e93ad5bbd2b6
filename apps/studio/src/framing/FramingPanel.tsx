import { inCorner, inRegion, isMoving, PLAIN, type Corner, type Region } from '@flimzy/core/frame';
import { isFile, type Clip, type Piece } from '@flimzy/core/piece';
import { propertyOf, valueOf } from '@flimzy/core/properties';
import FlipAcross from 'lucide-react-native/icons/square-centerline-dashed-horizontal';
import FlipDown from 'lucide-react-native/icons/square-centerline-dashed-vertical';
import TurnRight from 'lucide-react-native/icons/rotate-cw';
import { View } from 'react-native';
import { Button, IconButton } from '../look/Button';
import { Choice } from '../look/Choice';
import { Dock } from '../look/Dock';
import { FigureOf } from '../look/FigureOf';
import { SliderField } from '../look/SliderField';
import { Text } from '../look/Text';
import { say } from '../look/Toast';
import { actionOf } from '../open/actions';
import { edit, tryEdit, useEditor, usePiece } from '../open/editor';
import { picturesOf, setEach, sizeOf, useHasFraming, type Framed } from '../open/framing';
import { closePanel, usePanel } from '../open/panels';
import { FigureRows } from './FigureRows';
import { KeyRow } from './KeyRow';
import { Movement } from './Movement';
import { PlaceButton } from './PlaceButton';

const BACKDROPS = [
  { id: 'blur', name: 'Its own blur' },
  { id: 'colour', name: 'Colour' },
  { id: 'gradient', name: 'Two colours' },
  { id: 'black', name: 'Nothing' },
] as const;

const REGIONS: readonly Region[] = [
  'whole',
  'upper half',
  'lower half',
  'left half',
  'right half',
  'upper third',
  'middle third',
  'lower third',
  'left third',
  'centre third',
  'right third',
];
const CORNERS: readonly Corner[] = ['upper left', 'upper right', 'lower left', 'lower right'];

/** Where the selected pictures lie in the frame, in one touch, by figures, and over time. */
export function FramingPanel() {
  const open = usePanel((s) => s.panel?.name === 'framing');
  const piece = usePiece();
  const selected = useEditor((s) => s.selected);
  if (!open || !piece) return null;
  const all = picturesOf(piece, selected);
  return (
    <Dock title={all.length > 1 ? `Framing of ${all.length} clips` : 'Framing'} onClose={closePanel} testID="framing-panel">
      {all.length > 0 ? (
        <Open piece={piece} all={all} />
      ) : (
        <Text kind="note">Touch a picture, here above or on the timeline: then it can be moved, made larger, turned and cut.</Text>
      )}
    </Dock>
  );
}

function Open({ piece, all }: { piece: Piece; all: readonly Framed[] }) {
  const [first] = all;
  const hasCopy = useHasFraming();
  if (!first) return null;
  const clips = all.map(({ clip }) => clip);
  const ids = clips.map((clip) => clip.id);
  const plainly = (fit: 'fit' | 'fill', title: string) =>
    setEach(title, all, ({ clip }) => ({ ...PLAIN, fit, flip: valueOf(clip, 'flip') }));
  const region = (name: Region) =>
    name === 'whole'
      ? plainly('fill', 'Fill the frame')
      : setEach(`Into the ${name}`, all, ({ clip, media }) => inRegion(sizeOf(piece, media), piece.format, name, focusOf(clip)));
  const corner = (name: Corner) =>
    setEach(`Into the ${name} corner`, all, ({ media }) => inCorner(sizeOf(piece, media), piece.format, name));
  const backdrop = valueOf(first.clip, 'backdrop');
  return (
    <View className="gap-4">
      <View className="flex-row flex-wrap gap-1.5">
        <PlaceButton
          label="Show the whole picture"
          shape={piece.format}
          box={{ x: 0, y: 0.34, width: 1, height: 0.32 }}
          onPress={() => plainly('fit', 'Fit into the frame')}
          testID="place-fit"
        />
        {REGIONS.map((name) => (
          <PlaceButton
            key={name}
            label={name === 'whole' ? 'Fill the frame' : `Fill the ${name}`}
            shape={piece.format}
            region={name}
            onPress={() => region(name)}
            testID={`place-${name.replace(' ', '-')}`}
          />
        ))}
        {CORNERS.map((name) => (
          <PlaceButton
            key={name}
            label={`Small, in the ${name} corner`}
            shape={piece.format}
            corner={name}
            onPress={() => corner(name)}
            testID={`place-${name.replace(' ', '-')}`}
          />
        ))}
      </View>
      <KeyRow clips={clips} />
      <FigureRows clips={clips} />
      <View className="flex-row gap-1.5">
        <View className="flex-1">
          <IconButton
            icon={FlipAcross}
            label="Flip left to right"
            caption="Flip"
            onPress={actionOf('flip-across').run}
            testID="flip-across"
          />
        </View>
        <View className="flex-1">
          <IconButton
            icon={FlipDown}
            label="Flip top to bottom"
            caption="Flip down"
            onPress={actionOf('flip-down').run}
            testID="flip-down"
          />
        </View>
        <View className="flex-1">
          <IconButton
            icon={TurnRight}
            label="Turn by a quarter"
            caption="Quarter"
            onPress={() => setEach('Turn by a quarter', all, ({ clip }) => quarter(clip))}
            testID="turn-quarter"
          />
        </View>
      </View>
      <Movement piece={piece} all={all} />
      {all.some(({ media }) => isFile(media)) ? (
        <View className="gap-2">
          <Text kind="label">Behind it, where it does not fill the frame</Text>
          <Choice
            label="Backdrop"
            value={backdrop}
            options={BACKDROPS}
            onChange={(value) => edit('set', { clips: ids, values: { backdrop: value } })}
          />
          {backdrop === 'blur' ? <OwnBlur clips={clips} /> : null}
          {backdrop === 'colour' || backdrop === 'gradient' ? (
            <View className="rounded-2xl bg-raised px-4">
              {(backdrop === 'gradient' ? (['backdropColour', 'backdropTo'] as const) : (['backdropColour'] as const)).map((name, n) => (
                <FigureOf
                  key={name}
                  name={name}
                  label={backdrop === 'colour' ? 'Colour' : n === 0 ? 'Above' : 'Below'}
                  testID={name}
                  value={valueOf(first.clip, name)}
                  set={(colour) => edit('set', { clips: ids, values: { [name]: colour } })}
                />
              ))}
            </View>
          ) : null}
        </View>
      ) : null}
      {all.some(({ media }) => isFile(media)) ? (
        <Button label="This backdrop behind every clip" onPress={() => behindAll(piece, first.clip)} testID="backdrop-all" />
      ) : null}
      <View className="flex-row flex-wrap gap-2">
        <Button label="Copy framing" onPress={actionOf('copy-framing').run} testID="copy-framing" />
        {hasCopy ? <Button label="Paste framing" onPress={actionOf('paste-framing').run} testID="paste-framing" /> : null}
        <Button
          label="Back to plain"
          onPress={actionOf('plain-framing').run}
          disabled={
            !clips.some((clip) => isMoving(clip) || Object.entries(PLAIN).some(([name, plain]) => valueOf(clip, name as 'x') !== plain))
          }
          testID="plain-framing"
        />
      </View>
    </View>
  );
}

const BLUR = [
  { name: 'backdropSoft', label: 'Blur' },
  { name: 'backdropLight', label: 'Light' },
  { name: 'backdropColourful', label: 'Colours' },
] as const;

/** How a picture's own blur behind it looks. */
function OwnBlur({ clips }: { clips: readonly Clip[] }) {
  const [first] = clips;
  const ids = clips.map((clip) => clip.id);
  return (
    <View className="rounded-2xl bg-raised px-4">
      {BLUR.map(({ name, label }) => (
        <SliderField
          key={name}
          label={label}
          value={first ? valueOf(first, name) : 0}
          least={0}
          most={1}
          step={0.01}
          shown={100}
          unit="%"
          onLook={(value) => void tryEdit('set', { clips: ids, values: { [name]: value } }, () => useEditor.getState().playhead)}
          onKeep={(value) => edit('set', { clips: ids, values: { [name]: value } })}
          testID={name}
        />
      ))}
    </View>
  );
}

const BACKDROP_VALUES = ['backdrop', 'backdropColour', 'backdropTo', ...BLUR.map(({ name }) => name)] as const;

/** Puts what is behind one clip behind all clips of its timeline that have a picture of their own. */
function behindAll(piece: Piece, clip: Clip): void {
  const clips = piece.tracks
    .filter((track) => track.kind === 'picture' && !track.locked)
    .flatMap((track) => track.clips.filter((one) => isFile(piece.media[one.media] ?? { kind: 'nest' })))
    .map(({ id }) => id);
  const values = Object.fromEntries(BACKDROP_VALUES.map((name) => [name, valueOf(clip, name)]));
  if (edit('set', { clips, values }))
    say(`Behind ${clips.length} clips: ${propertyOf('backdrop').say(valueOf(clip, 'backdrop')).toLowerCase()}.`);
}

/** The focus point of a clip where it stays the same. */
function focusOf(clip: Framed['clip']): { x: number; y: number } | undefined {
  const [x, y] = [valueOf(clip, 'focusX'), valueOf(clip, 'focusY')];
  return typeof x === 'number' && typeof y === 'number' ? { x, y } : undefined;
}

/** Turned by a quarter to the right: all that it turns to over time, too. */
function quarter(clip: Framed['clip']) {
  const turn = valueOf(clip, 'turn');
  if (typeof turn !== 'number') return { turn: { keys: turn.keys.map((key) => ({ ...key, value: key.value + 90 })) } };
  return { turn: (turn + 90) % 360 };
}
