import { fromSamples, toSeconds } from '@flimzy/core/time';
import Square from 'lucide-react-native/icons/square';
import { useState } from 'react';
import { View, type LayoutChangeEvent } from 'react-native';
import Svg, { Path } from 'react-native-svg';
import { Button } from '../look/Button';
import { Text } from '../look/Text';
import { Level } from './Level';
import { cancelCounting, stopRecording, useNarration } from './narration';

/** Seconds to the tenth, with minutes where there are any. */
export function sayLength(samples: number): string {
  const seconds = toSeconds(fromSamples(samples));
  return `${Math.floor(seconds / 60)}:${(seconds % 60).toFixed(1).padStart(4, '0')}`;
}

/** Pixels of one step of what was recorded: a tenth of a second. */
const STEP = 3;
const HEIGHT = 56;

/** What was said last, as far as there is room. */
function Shape() {
  const shape = useNarration((s) => s.shape);
  const [width, setWidth] = useState(0);
  const seen = shape.slice(-Math.floor(width / STEP));
  const bars = seen.map((peak, i) => {
    const tall = Math.max(1.5, Math.sqrt(Math.min(1, peak)) * HEIGHT);
    return `M${i * STEP + 1} ${(HEIGHT - tall) / 2}v${tall}`;
  });
  return (
    <View
      className="overflow-hidden rounded-xl bg-raised"
      style={{ height: HEIGHT }}
      onLayout={({ nativeEvent: { layout } }: LayoutChangeEvent) => setWidth(Math.floor(layout.width))}
    >
      <Svg width={width} height={HEIGHT}>
        <Path d={bars.join('')} stroke="var(--c-speech)" strokeWidth={2} />
      </Svg>
    </View>
  );
}

/** While it counts down, and while it records. */
export function During() {
  const { phase, left, samples } = useNarration();
  if (phase === 'counting')
    return (
      <View className="items-center gap-2 py-2">
        <Text kind="title" className="text-[64px] leading-[72px]" testID="narrate-left" accessibilityLiveRegion="assertive">
          {Math.ceil(left)}
        </Text>
        <Text kind="note">Get ready.</Text>
      </View>
    );
  return (
    <View className="gap-3">
      <View className="flex-row items-center gap-2">
        <View className="h-[12px] w-[12px] rounded-full bg-signal" />
        <Text kind="label">{phase === 'ending' ? 'Ending …' : 'Recording'}</Text>
        <Text kind="clock" className="grow text-right" testID="narrate-length">
          {sayLength(samples)}
        </Text>
      </View>
      <Shape />
      <Level />
    </View>
  );
}

export function DuringButtons() {
  const phase = useNarration((s) => s.phase);
  if (phase === 'counting') return <Button label="Not yet" onPress={cancelCounting} testID="narrate-cancel" />;
  return <Button label="Stop" icon={Square} kind="live" disabled={phase === 'ending'} onPress={stopRecording} testID="narrate-stop" />;
}
