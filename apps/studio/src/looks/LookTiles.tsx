import { colourThrough, lastShown } from '@flimzy/core/frame';
import type { Piece } from '@flimzy/core/piece';
import { LOOK_NAMES, LookName, type Effect } from '@flimzy/core/properties';
import { useEffect, useRef, useState } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import { Text } from '../look/Text';
import { useEditor } from '../open/editor';
import { stillPixels } from '../preview/stillPixels';

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

/** Our own looks, each on the frame at the playhead. `without`: the piece as it is without one. */
export function LookTiles({
  without,
  chosen,
  onChoose,
}: {
  without: Piece;
  chosen: LookName | null;
  onChoose: (look: LookName | null) => void;
}) {
  const bare = useBare(without);
  return (
    <ScrollView horizontal showsHorizontalScrollIndicator={false}>
      <View className="flex-row gap-2" accessibilityRole="radiogroup" accessibilityLabel="Look">
        {[null, ...LookName.options].map((look) => (
          <Pressable
            key={look ?? 'none'}
            accessibilityRole="radio"
            accessibilityLabel={look ? LOOK_NAMES[look] : 'As it is'}
            accessibilityState={{ checked: look === chosen }}
            aria-checked={look === chosen}
            onPress={() => onChoose(look)}
            testID={`look-${look ?? 'none'}`}
            className={`items-center gap-1 rounded-xl p-1 ${look === chosen ? 'bg-paper' : 'active:bg-raised'}`}
          >
            <Tile bare={bare} look={look} format={without.format} />
            <Text kind="small" className={look === chosen ? 'text-onpaper' : 'text-ink'}>
              {look ? LOOK_NAMES[look] : 'As it is'}
            </Text>
          </Pressable>
        ))}
      </View>
    </ScrollView>
  );
}

function Tile({ bare, look, format }: { bare: ImageData | null; look: LookName | null; format: Piece['format'] }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const width = format.width > format.height ? 112 : 64;
  useEffect(() => {
    const node = canvas.current;
    if (!node || !bare) return;
    [node.width, node.height] = [bare.width, bare.height];
    const pixels = new ImageData(new Uint8ClampedArray(bare.data), bare.width, bare.height);
    const effects: Effect[] = look ? [{ kind: 'look', look, strength: 1 }] : [];
    const { data } = pixels;
    if (look)
      for (let i = 0; i < data.length; i += 4) {
        const out = colourThrough(effects, [(data[i] ?? 0) / 255, (data[i + 1] ?? 0) / 255, (data[i + 2] ?? 0) / 255]);
        for (let c = 0; c < 3; c += 1) data[i + c] = Math.round((out[c] ?? 0) * 255);
      }
    node.getContext('2d')?.putImageData(pixels, 0, 0);
  }, [bare, look]);
  const height = Math.round((width * format.height) / format.width);
  return <canvas ref={canvas} aria-hidden style={{ width, height, display: 'block', borderRadius: 8, background: '#000' }} />;
}
