import type { Clip } from '@flimzy/core/piece';
import { materialGain } from '@flimzy/core/sound';
import type { Flicks } from '@flimzy/core/time';
import { memo } from 'react';
import Svg, { Path } from 'react-native-svg';
import { binFor, usePeaks, waveformPath } from '../material/peaks';
import { toTime } from './scale';

interface WaveformProps {
  clip: Clip;
  there: boolean;
  /** Time in the material at the top of the clip, in flicks. */
  from: Flicks;
  width: number;
  zoom: number;
  colour: string;
  /** The part of the clip in view, in pixels from its top. */
  viewTop: number;
  viewBottom: number;
}

/** The waveform of a stretch, as loud as it will sound; where it is louder than full scale it is barred. */
export const Waveform = memo(function Waveform({ clip, there, from, width, zoom, colour, viewTop, viewBottom }: WaveformProps) {
  const bin = binFor(zoom);
  const { data } = usePeaks(clip.media, bin, there);
  const height = viewBottom - viewTop;
  if (!data || height <= 0) return null;
  const first = from + toTime(viewTop, zoom);
  const { outline, over } = waveformPath(data, bin, first, height, width - 6, zoom, materialGain(clip));
  return (
    <Svg width={width} height={height} style={{ position: 'absolute', top: viewTop, left: 0 }} pointerEvents="none">
      <Path d={outline} fill={colour} transform="translate(3 0)" />
      {over ? <Path d={over} fill="var(--c-warn)" opacity={0.75} transform="translate(3 0)" /> : null}
    </Svg>
  );
});
