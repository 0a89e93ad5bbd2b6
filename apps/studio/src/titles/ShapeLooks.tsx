import { SHAPE_LARGEST, SHAPE_NAMES, ShapeId, type ShapePart } from '@flimzy/core/properties';
import { SHAPES, svgOf } from '@flimzy/stage';
import { Pressable, ScrollView, View } from 'react-native';
import Svg, { Path } from 'react-native-svg';
import { Colours } from '../look/Colours';
import { Around } from './Behind';
import { Figures, PLACE, type Figure } from './Figures';

/** A shape of the drawn set, small, in a colour. */
export function ShapeIcon({ shape, size, colour }: { shape: ShapePart['shape']; size: number; colour: string }) {
  const { width, height } = SHAPES[shape];
  const long = Math.max(width, height);
  const edge = long * 0.08;
  return (
    <Svg
      width={size}
      height={size}
      viewBox={`${(width - long) / 2 - edge} ${(height - long) / 2 - edge} ${long + 2 * edge} ${long + 2 * edge}`}
    >
      {svgOf(shape).map(({ path, line }) => (
        <Path
          key={path}
          d={path}
          fill={line === null ? colour : 'none'}
          stroke={line === null ? 'none' : colour}
          strokeWidth={line ?? 0}
          strokeLinecap="round"
          strokeLinejoin="round"
        />
      ))}
    </Svg>
  );
}

const FIGURES: readonly Figure<ShapePart>[] = [
  { name: 'size', label: 'Size', least: 0.01, most: SHAPE_LARGEST, step: 0.02 },
  { name: 'stretch', label: 'Stretched', least: 0.1, most: 20, step: 0.1 },
  { name: 'turn', label: 'Turned', least: -360, most: 360, step: 5, unit: '°' },
  ...PLACE,
];

/** How a shape of a title looks. */
export function ShapeLooks({
  part,
  set,
  near,
}: {
  part: ShapePart;
  set: (change: Partial<ShapePart>) => boolean;
  near: readonly string[];
}) {
  return (
    <View className="gap-3">
      <ScrollView horizontal showsHorizontalScrollIndicator={false} accessibilityRole="radiogroup" accessibilityLabel="Shape">
        <View className="flex-row gap-1.5">
          {ShapeId.options.map((shape) => {
            const chosen = shape === part.shape;
            return (
              <Pressable
                key={shape}
                accessibilityRole="radio"
                accessibilityLabel={SHAPE_NAMES[shape]}
                accessibilityState={{ checked: chosen }}
                aria-checked={chosen}
                onPress={() => set({ shape })}
                testID={`shape-part-${shape}`}
                className={`h-12 w-12 items-center justify-center rounded-xl border ${chosen ? 'border-paper bg-paper' : 'border-hairline bg-raised active:bg-hairline'}`}
              >
                <ShapeIcon shape={shape} size={28} colour={chosen ? 'var(--c-onpaper)' : 'var(--c-ink)'} />
              </Pressable>
            );
          })}
        </View>
      </ScrollView>
      <Colours label="Colour" value={part.colour} onChange={(colour) => set({ colour })} near={near} testID="shape-colour" />
      <Figures of={part} figures={FIGURES} set={set} called="shape" />
      <Around part={part} set={set} near={near} />
    </View>
  );
}
