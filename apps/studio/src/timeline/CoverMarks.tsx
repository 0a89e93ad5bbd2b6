import type { Clip } from '@flimzy/core/piece';
import { covers, valueOf } from '@flimzy/core/properties';
import type { Flicks } from '@flimzy/core/time';
import { Path } from 'react-native-svg';
import { toPixels } from './scale';

interface CoverMarksProps {
  clip: Clip;
  /** The moment of the material at the top of what is drawn, in flicks. */
  first: Flicks;
  width: number;
  height: number;
  zoom: number;
}

/** Stretches of a clip's sound that something covers: barred across. */
export function CoverMarks({ clip, first, width, height, zoom }: CoverMarksProps) {
  const bars = covers.listOf(valueOf(clip, 'covers')).flatMap(({ from, to }) => {
    const [top, bottom] = [toPixels(from - first, zoom), toPixels(to - first, zoom)];
    return bottom < 0 || top > height ? [] : [`M1 ${top.toFixed(1)}H${width - 1}V${Math.max(top + 3, bottom).toFixed(1)}H1Z`];
  });
  if (bars.length === 0) return null;
  return (
    <Path d={bars.join('')} fill="var(--c-paper)" fillOpacity={0.55} stroke="var(--c-paper)" strokeWidth={1.5} strokeDasharray="4 2" />
  );
}
