import type { Hearing } from '@flimzy/core/sound';
import { toSamples, type Flicks } from '@flimzy/core/time';
import { Path } from 'react-native-svg';

interface SpeechMarksProps {
  speech: Hearing['speech'];
  /** The moment of the material at the top of what is drawn, in flicks. */
  first: Flicks;
  height: number;
  zoom: number;
}

/** Where someone speaks, as a bar along the edge of a waveform. Pixels from the top of what is drawn. */
export function SpeechMarks({ speech, first, height, zoom }: SpeechMarksProps) {
  const top = (sample: number) => ((sample - toSamples(first)) / 48_000) * zoom;
  const bars = speech.flatMap(([from, to]) => {
    const [begin, end] = [Math.max(0, top(from)), Math.min(height, top(to))];
    return end > begin ? [`M1.5 ${begin.toFixed(1)}V${Math.max(begin + 1, end - 1).toFixed(1)}`] : [];
  });
  return bars.length > 0 ? <Path d={bars.join('')} stroke="var(--c-ink)" strokeWidth={3} opacity={0.7} /> : null;
}
