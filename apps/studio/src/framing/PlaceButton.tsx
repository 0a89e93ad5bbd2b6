import { REGIONS, type Corner, type Rect, type Region } from '@flimzy/core/frame';
import { Pressable } from 'react-native';
import Svg, { Rect as Box } from 'react-native-svg';

interface PlaceButtonProps {
  label: string;
  /** The shape of the frame. */
  shape: { width: number; height: number };
  /** Where the picture goes: a region, a corner, or a box of shares. */
  region?: Region;
  corner?: Corner;
  box?: Rect;
  onPress: () => void;
  testID: string;
}

const SIDE = 26;

function boxIn(corner: Corner): Rect {
  return { x: corner.endsWith('left') ? 0.08 : 0.5, y: corner.startsWith('upper') ? 0.06 : 0.64, width: 0.42, height: 0.3 };
}

/** A small drawing of the frame with the place that a picture is put into. */
export function PlaceButton({ label, shape, region, corner, box, onPress, testID }: PlaceButtonProps) {
  const long = Math.max(shape.width, shape.height);
  const [width, height] = [(shape.width / long) * SIDE, (shape.height / long) * SIDE];
  const at = box ?? (corner ? boxIn(corner) : REGIONS[region ?? 'whole']);
  return (
    <Pressable
      accessibilityRole="button"
      accessibilityLabel={label}
      onPress={onPress}
      testID={testID}
      className="h-11 w-11 items-center justify-center rounded-xl bg-raised active:bg-hairline"
    >
      <Svg width={width + 2} height={height + 2}>
        <Box x={1} y={1} width={width} height={height} rx={2.5} fill="none" stroke="var(--c-muted)" strokeWidth={1.5} />
        <Box x={1 + at.x * width} y={1 + at.y * height} width={at.width * width} height={at.height * height} rx={1.5} fill="var(--c-ink)" />
      </Svg>
    </Pressable>
  );
}
