import { gainOf } from '@flimzy/core/sound';
import type { Flicks } from '@flimzy/core/time';
import { memo } from 'react';
import Svg, { Path } from 'react-native-svg';
import { binFor, usePeaks, waveformPath } from '../material/peaks';
import { toTime } from './scale';

interface WaveformProps {
  media: string;
  there: boolean;
  /** Time in the material at the top of the clip, in flicks. */
  from: Flicks;
  width: number;
  zoom: number;
  level: number;
  colour: string;
  /** The part of the clip in view, in pixels from its top. */
  viewTop: number;
  viewBottom: number;
}

/** The waveform of a stretch, as loud as it will sound. */
export const Waveform = memo(function Waveform({ media, there, from, width, zoom, level, colour, viewTop, viewBottom }: WaveformProps) {
  const bin = binFor(zoom);
  const { data } = usePeaks(media, bin, there);
  const height = viewBottom - viewTop;
  if (!data || height <= 0) return null;
  const first = from + toTime(viewTop, zoom);
  return (
    <Svg width={width} height={height} style={{ position: 'absolute', top: viewTop, left: 0 }} pointerEvents="none">
      <Path d={waveformPath(data, bin, first, height, width - 6, zoom, gainOf(level))} fill={colour} transform="translate(3 0)" />
    </Svg>
  );
});
