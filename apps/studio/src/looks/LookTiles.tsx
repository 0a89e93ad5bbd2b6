import { colourThrough, lastShown } from '@flimzy/core/frame';
import type { Piece } from '@flimzy/core/piece';
import { LOOK_NAMES, LookName, type Effect } from '@flimzy/core/properties';
import { useEffect, useRef, useState } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import { Text } from '../look/Text';
import { useEditor } from '../open/editor';
import { stillPixels } from '../preview/stillPixels';
import { lookEffect, useOwnLooks } from './ownLooks';

/** How wide the frame is that looks are shown on, in pixels. */
const WIDE = 84;

/** One frame as it is without the look, small; null until it is there. */
function useBare(piece: Piece): ImageData | null {
  const engine = useEditor((s) => s.engine);
  const playhead = useEditor((s) => s.playhead);
  const time = lastShown(piece, playhead);
  const [bare, setBare] = useState<ImageData | null>(null);
  const latest = useRef(piece);
  useEffect(() => {
    latest.current = piece;
  });
  useEffect(() => {
    let over = false;
    void stillPixels(engine, latest.current, time, WIDE).then((pixels) => pixels && !over && setBare(pixels));
    return () => {
      over = true;
    };
  }, [engine, time]);
  return bare;
}

/** How wide a tile is drawn, in pixels. */
const tileWidth = ({ format }: Pick<Piece, 'format'>) => (format.width > format.height ? 112 : 64);

/** A look as one of several: no effect is the picture as it is. */
interface Choice {
  id: string;
  name: string;
  effect: Effect | null;
}

const OURS: readonly Choice[] = [
  { id: 'none', name: 'As it is', effect: null },
  ...LookName.options.map((look) => ({ id: look, name: LOOK_NAMES[look], effect: { kind: 'look' as const, look, strength: 1 } })),
];

/** What tells one look from another. */
const lookId = (effect: Effect | null): string =>
  effect?.kind === 'look' ? effect.look : effect?.kind === 'table' ? effect.table : 'none';

/** Our own looks and those brought in, each on the frame at the playhead. `without`: the piece as it is without one. */
export function LookTiles({
  without,
  chosen,
  onChoose,
}: {
  without: Piece;
  chosen: Effect | null;
  onChoose: (look: Effect | null) => void;
}) {
  const bare = useBare(without);
  const own = useOwnLooks();
  // One that came with the piece from elsewhere stands among them for as long as it is chosen.
  const foreign = chosen?.kind === 'table' && !own.some(({ table }) => table === chosen.table) ? [chosen] : [];
  const theirs = [...foreign, ...own].map((look): Choice => ({ id: look.table, name: look.name, effect: lookEffect(look) }));
  return (
    <ScrollView horizontal showsHorizontalScrollIndicator={false}>
      <View className="flex-row gap-2" accessibilityRole="radiogroup" accessibilityLabel="Look">
        {[...OURS.slice(0, 1), ...theirs, ...OURS.slice(1)].map(({ id, name, effect }) => {
          const on = id === lookId(chosen);
          return (
            <Pressable
              key={id}
              accessibilityRole="radio"
              accessibilityLabel={name}
              accessibilityState={{ checked: on }}
              aria-checked={on}
              onPress={() => onChoose(effect)}
              testID={`look-${effect?.kind === 'table' ? name : id}`}
              className={`items-center gap-1 rounded-xl p-1 ${on ? 'bg-paper' : 'active:bg-raised'}`}
            >
              <Tile bare={bare} effect={effect} format={without.format} />
              <Text kind="small" numberOfLines={1} style={{ maxWidth: tileWidth(without) }} className={on ? 'text-onpaper' : 'text-ink'}>
                {name}
              </Text>
            </Pressable>
          );
        })}
      </View>
    </ScrollView>
  );
}

function Tile({ bare, effect, format }: { bare: ImageData | null; effect: Effect | null; format: Piece['format'] }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const width = tileWidth({ format });
  useEffect(() => {
    const node = canvas.current;
    if (!node || !bare) return;
    [node.width, node.height] = [bare.width, bare.height];
    const pixels = new ImageData(new Uint8ClampedArray(bare.data), bare.width, bare.height);
    const { data } = pixels;
    if (effect)
      for (let i = 0; i < data.length; i += 4) {
        const out = colourThrough([effect], [(data[i] ?? 0) / 255, (data[i + 1] ?? 0) / 255, (data[i + 2] ?? 0) / 255]);
        for (let c = 0; c < 3; c += 1) data[i + c] = Math.round((out[c] ?? 0) * 255);
      }
    node.getContext('2d')?.putImageData(pixels, 0, 0);
  }, [bare, effect]);
  const height = Math.round((width * format.height) / format.width);
  return <canvas ref={canvas} aria-hidden style={{ width, height, display: 'block', borderRadius: 8, background: '#000' }} />;
}
