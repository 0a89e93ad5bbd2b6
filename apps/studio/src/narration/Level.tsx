import type { Verdict } from '@flimzy/core/analyse';
import { View } from 'react-native';
import { dbOf, upMeter } from '../look/level';
import { Text } from '../look/Text';
import { useNarration } from './narration';

const SENTENCES: Record<Verdict, string> = {
  nothing: 'Say something, as you are going to say it.',
  quiet: 'Too quiet. Come closer, or turn the microphone up.',
  fine: 'That is fine.',
  loud: 'Too loud: it will be distorted. Move back, or turn it down.',
  hum: 'Something hums. Move cables and chargers away from the microphone, or pull their plugs.',
  noisy: 'It is noisy around you. Come closer, or find a quieter place.',
};

/** From −60 dB on it is seen; where a level is good, and where it is too high, on that scale. */
const FLOOR = 60;
const share = (db: number) => upMeter(db, FLOOR);
const GOOD = [share(-24), share(-4)] as const;

/** How loud the microphone is just now, and what that comes to. */
export function Level() {
  const peak = useNarration((s) => s.peak);
  const reading = useNarration((s) => s.reading);
  const db = dbOf(peak);
  const words = reading ? SENTENCES[reading.verdict] : 'Listening …';
  return (
    <View className="gap-1.5">
      <View
        className="h-[14px] overflow-hidden rounded-full bg-raised"
        role="meter"
        aria-label="Level of the microphone"
        aria-valuemin={-FLOOR}
        aria-valuemax={0}
        aria-valuenow={Math.round(Math.max(-FLOOR, db))}
      >
        <View className={`h-full rounded-full ${db > -1 ? 'bg-warn' : 'bg-speech'}`} style={{ width: `${share(db) * 100}%` }} />
        <View
          className="absolute bottom-0 top-0 border-x-2 border-music"
          style={{ left: `${GOOD[0] * 100}%`, width: `${(GOOD[1] - GOOD[0]) * 100}%` }}
        />
      </View>
      <View className="flex-row items-start justify-between gap-3">
        <Text className="shrink" testID="voice-verdict" accessibilityLiveRegion="polite">
          {words}
        </Text>
        <Text kind="figure" numberOfLines={1} className="w-[56px] shrink-0 text-right">
          {db <= -FLOOR ? '–∞ dB' : `${db < 0 ? '−' : ''}${Math.abs(Math.round(db))} dB`}
        </Text>
      </View>
    </View>
  );
}
