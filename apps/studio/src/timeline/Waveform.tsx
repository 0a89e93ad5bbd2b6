import { timelineAt, type Clip } from '@flimzy/core/piece';
import { duckAt, gainOf, materialGain } from '@flimzy/core/sound';
import type { Flicks } from '@flimzy/core/time';
import { memo } from 'react';
import Svg, { Path } from 'react-native-svg';
import { useHearing } from '../material/hearing';
import { binFor, bodyPath, usePeaks, waveformPath } from '../material/peaks';
import { useDuckLine } from '../open/ducking';
import { CoverMarks } from './CoverMarks';
import { drawnMaterial } from './paced';
import { SpeechMarks } from './SpeechMarks';
import { toTime } from './scale';

interface WaveformProps {
  clip: Clip;
  there: boolean;
  /** It was listened to: where someone speaks is known. */
  heard: boolean;
  /** Time of the clip's timeline at its top, in flicks. */
  from: Flicks;
  width: number;
  zoom: number;
  colour: string;
  /** The part of the clip in view, in pixels from its top. */
  viewTop: number;
  viewBottom: number;
}

/** The waveform of a stretch, as loud as it will sound; where it is louder than full scale it is barred. */
export const Waveform = memo(function Waveform({ clip, there, heard, from, width, zoom, colour, viewTop, viewBottom }: WaveformProps) {
  const height = viewBottom - viewTop;
  const drawn = drawnMaterial(clip, from + toTime(viewTop, zoom), height, zoom);
  const { first, zoom: fine } = drawn;
  const bin = binFor(fine);
  const { data } = usePeaks(clip.media, bin, there);
  const { data: hearing } = useHearing(clip.media, heard);
  const line = useDuckLine(clip.id);
  if (!data || height <= 0) return null;
  const own = materialGain(clip);
  const gain = (moment: Flicks) => own(moment) * (line ? gainOf(duckAt(line, timelineAt(clip, moment))) : 1);
  const { outline, over } = waveformPath(data, bin, first, height, width - 6, fine, gain);
  const body = hearing ? bodyPath(hearing, first, height, width - 6, fine, gain) : '';
  return (
    <Svg
      width={width}
      height={height}
      style={{ position: 'absolute', top: viewTop, left: 0, ...(drawn.backwards ? { transform: 'scaleY(-1)' } : {}) }}
      pointerEvents="none"
    >
      <Path d={outline} fill={colour} fillOpacity={body ? 0.5 : 1} transform="translate(3 0)" />
      {body ? <Path d={body} fill={colour} transform="translate(3 0)" /> : null}
      {hearing ? <SpeechMarks speech={hearing.speech} first={first} height={height} zoom={fine} /> : null}
      <CoverMarks clip={clip} first={first} width={width} height={height} zoom={fine} />
      {over ? <Path d={over} fill="var(--c-warn)" opacity={0.75} transform="translate(3 0)" /> : null}
    </Svg>
  );
});
