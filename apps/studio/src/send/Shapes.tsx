import { asSent, type DeliverySettings, type PlatformFormat } from '@flimzy/core/deliver';
import { evaluate, lastShown, pictureLayers } from '@flimzy/core/frame';
import { clipAt, seenTracks, sameShape, type Clip, type Piece } from '@flimzy/core/piece';
import { AS_EVERYWHERE, shapeKey, typedNumber, type InShape } from '@flimzy/core/properties';
import Pause from 'lucide-react-native/icons/pause';
import Play from 'lucide-react-native/icons/play';
import { useMemo, useRef, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { Button } from '../look/Button';
import { Choice } from '../look/Choice';
import { FigureField } from '../look/Field';
import { Text } from '../look/Text';
import { edit, useEditor } from '../open/editor';
import { togglePlay } from '../open/playing';
import { useStandstill } from '../open/standstill';
import { Still } from '../preview/Still';
import { boxOf } from './useChecked';
import { settingsFor, useWishes } from './wishes';

/** How high a shape is drawn, in px. */
const TALL = 170;

interface Shape {
  id: string;
  name: string;
  settings: DeliverySettings;
  size: { width: number; height: number };
}

/** The shapes that the chosen formats come to, each once. */
function useShapes(piece: Piece, formats: readonly PlatformFormat[]): Shape[] {
  const wishes = useWishes();
  return useMemo(() => {
    const shapes = new Map<string, Shape>();
    for (const format of formats) {
      const { settings } = settingsFor(piece, format, wishes[format.id]);
      const { size } = settings;
      if (!size) continue;
      const key = shapeKey(size);
      const there = shapes.get(key);
      shapes.set(key, there ? { ...there, name: `${there.name}, ${format.name}` } : { id: key, name: format.name, settings, size });
    }
    return [...shapes.values()];
  }, [piece, formats, wishes]);
}

/** The clip with what is wanted of it in a shape; `null`: as everywhere. */
function wantedIn(piece: Piece, id: string, key: string, wanted: InShape | null): Piece {
  const tracks = piece.tracks.map((track) => ({
    ...track,
    clips: track.clips.map((clip) => (clip.id === id ? { ...clip, inShapes: shapesWith(clip, key, wanted) } : clip)),
  }));
  return { ...piece, tracks };
}

function shapesWith(clip: Clip, key: string, wanted: InShape | null): NonNullable<Clip['inShapes']> {
  const { [key]: _before, ...others } = clip.inShapes && clip.inShapes !== 'none' ? clip.inShapes : {};
  const all = wanted ? { ...others, [key]: wanted } : others;
  return Object.keys(all).length > 0 ? all : 'none';
}

/** The piece in every shape that it is made for, side by side, playing; what is wanted otherwise in one of them is done there. */
export function Shapes({ piece, formats }: { piece: Piece; formats: readonly PlatformFormat[] }) {
  const shapes = useShapes(piece, formats);
  const playing = useEditor((s) => s.playing);
  const [chosen, setChosen] = useState<string | null>(null);
  if (shapes.length === 0) return null;
  const adjusted = shapes.find(({ id }) => id === chosen);
  const pictures = shapes.map((shape) => <ShapeStill key={shape.id} piece={piece} shape={shape} tall={TALL} />);
  const buttons = (
    <>
      <Button label={playing ? 'Pause' : 'Play'} icon={playing ? Pause : Play} onPress={togglePlay} testID="play-shapes" />
      {shapes
        .filter(({ size }) => !sameShape(size, piece.format))
        .map(({ id, name }) => (
          <Button
            key={id}
            label={chosen === id ? 'Done' : `Adjust ${name}`}
            kind={chosen === id ? 'plain' : 'quiet'}
            onPress={() => setChosen(chosen === id ? null : id)}
            testID={`adjust-${id}`}
          />
        ))}
    </>
  );
  return (
    <View className="gap-2" testID="shapes">
      {shapes.length === 1 ? (
        <View className="flex-row flex-wrap items-center gap-x-4 gap-y-2">
          {pictures}
          <View className="items-start gap-2">{buttons}</View>
        </View>
      ) : (
        <>
          <ScrollView horizontal showsHorizontalScrollIndicator={false} className="-mx-5" contentContainerClassName="px-5">
            <View className="flex-row items-end gap-3">
              {shapes.map(({ id, name, size }, n) => (
                <View key={id} className="gap-1">
                  {pictures[n]}
                  <Text kind="small" numberOfLines={1} style={{ maxWidth: Math.max(70, (TALL * size.width) / size.height) }}>
                    {name}
                  </Text>
                </View>
              ))}
            </View>
          </ScrollView>
          <View className="flex-row flex-wrap gap-2">{buttons}</View>
        </>
      )}
      {adjusted ? <Adjust piece={piece} shape={adjusted} /> : null}
    </View>
  );
}

/** The piece at the playhead in one shape. */
function ShapeStill({
  piece,
  shape: { id, name, settings, size },
  tall,
  still = false,
}: {
  piece: Piece;
  shape: Shape;
  tall: number;
  /** Whether it stays where it is while the piece plays. */
  still?: boolean;
}) {
  const [moving, standing] = [useEditor((s) => (still ? 0 : s.playhead)), useStandstill()];
  const playhead = still ? standing : moving;
  const sent = useMemo(() => asSent(piece, settings, boxOf), [piece, settings]);
  return (
    <Still
      piece={sent}
      time={lastShown(sent, playhead)}
      width={Math.round((tall * size.width) / size.height)}
      label={`As it looks: ${name}`}
      testID={`${still ? 'adjusted' : 'shape'}-${id}`}
    />
  );
}

/** The clips that are seen at the playhead, what lies on top first. */
function useSeen(piece: Piece): Clip[] {
  const playhead = useStandstill();
  return useMemo(() => {
    const at = lastShown(piece, playhead);
    const drawn = new Set(pictureLayers(evaluate(piece, at).layers).map(({ picture }) => picture.clip));
    return seenTracks(piece)
      .flatMap((track) => clipAt(track, at) ?? [])
      .filter((clip) => drawn.has(clip.id) || (clip.overlay && clip.overlay !== 'none'))
      .reverse();
  }, [piece, playhead]);
}

/** What is seen in one shape, moved by a finger on it or by figures, there alone. */
function Adjust({ piece, shape }: { piece: Piece; shape: Shape }) {
  const seen = useSeen(piece);
  const [picked, setPicked] = useState<string | null>(null);
  const [trial, setTrial] = useState<InShape | null>(null);
  const from = useRef<{ x: number; y: number } | null>(null);
  const clip = seen.find(({ id }) => id === picked) ?? seen[0];
  if (!clip) return <Text kind="note">Nothing is seen at the playhead.</Text>;
  const key = shape.id;
  const { inShapes } = clip;
  const now = (inShapes && inShapes !== 'none' ? inShapes[key] : undefined) ?? AS_EVERYWHERE;
  const shown = trial ?? now;
  const tall = 320;
  const wide = (tall * shape.size.width) / shape.size.height;
  const bounded = ({ across, down, scale }: InShape): InShape => ({
    across: Math.round(Math.max(-2, Math.min(2, across)) * 1000) / 1000,
    down: Math.round(Math.max(-2, Math.min(2, down)) * 1000) / 1000,
    scale: Math.round(Math.max(0.2, Math.min(5, scale)) * 1000) / 1000,
  });
  const keep = (wanted: InShape | null) => edit('set', { clips: [clip.id], values: { inShapes: shapesWith(clip, key, wanted) } });
  const figure = (label: string, name: keyof InShape) => (
    <FigureField
      label={label}
      testID={`shape-${name}`}
      value={`${Math.round(shown[name] * 1000) / 10} %`}
      onStep={(by) => keep(bounded({ ...now, [name]: now[name] + by / 100 }))}
      onSubmit={(text) => {
        const typed = typedNumber(text, /%$/);
        if (typed === null) return 'So many percent of the frame.';
        keep(bounded({ ...now, [name]: typed / 100 }));
        return null;
      }}
    />
  );
  return (
    <View className="flex-row flex-wrap gap-3 rounded-2xl border border-hairline p-3" testID="adjust">
      <div
        data-testid="adjust-picture"
        style={{ touchAction: 'none', cursor: 'move' }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          from.current = { x: event.clientX, y: event.clientY };
        }}
        onPointerMove={({ clientX, clientY }) => {
          if (!from.current) return;
          const moved = { across: now.across + (clientX - from.current.x) / wide, down: now.down + (clientY - from.current.y) / tall };
          setTrial(bounded({ ...now, ...moved }));
        }}
        onPointerUp={() => {
          from.current = null;
          if (trial) keep(trial);
          setTrial(null);
        }}
        onPointerCancel={() => {
          from.current = null;
          setTrial(null);
        }}
      >
        <ShapeStill piece={trial ? wantedIn(piece, clip.id, key, trial) : piece} shape={shape} tall={tall} still />
      </div>
      <View className="min-w-[180px] flex-1 gap-2">
        <Choice label="What is adjusted" value={clip.id} options={seen.map(({ id, name }) => ({ id, name }))} onChange={setPicked} />
        <Text kind="small" className="leading-[16px]">
          Drag it in the picture. It is changed in this shape alone.
        </Text>
        <View className="rounded-2xl bg-raised px-4">
          {figure('Across', 'across')}
          {figure('Down', 'down')}
          {figure('Size', 'scale')}
        </View>
        {now === AS_EVERYWHERE ? null : (
          <View className="flex-row">
            <Button label="As everywhere" kind="quiet" onPress={() => keep(null)} testID="as-everywhere" />
          </View>
        )}
      </View>
    </View>
  );
}
