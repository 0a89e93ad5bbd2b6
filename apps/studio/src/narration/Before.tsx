import { typedNumber } from '@flimzy/core/properties';
import { formatTimecode, SAMPLE_RATE } from '@flimzy/core/time';
import Mic from 'lucide-react-native/icons/mic';
import { View } from 'react-native';
import { Button } from '../look/Button';
import { Choice } from '../look/Choice';
import { FigureField } from '../look/Field';
import { Text } from '../look/Text';
import { useEditor, useFormat } from '../open/editor';
import { Level } from './Level';
import { chooseMicrophone, delay, measureDelay, openDevice, openMicrophone, startRecording, useNarration } from './narration';
import { recordingSpan } from './places';
import { setRecording, useRecording } from './settings';
import { TakeChoice } from './TakeChoice';

const OWN = [
  { id: 'off', name: 'Muted' },
  { id: 'low', name: 'Low' },
  { id: 'full', name: 'As it is' },
] as const;

/** What is settled before one speaks: the microphone, how loud it is, what is heard meanwhile. */
export function Before() {
  const phase = useNarration((s) => s.phase);
  const trouble = useNarration((s) => s.trouble);
  const microphones = useNarration((s) => s.microphones);
  const { ready, own, delays } = useRecording();
  const device = openDevice();
  if (trouble !== null)
    return (
      <Text kind="note" testID="narrate-trouble">
        {trouble}
      </Text>
    );
  if (phase === 'opening' || phase === 'closed') return <Text kind="note">Opening the microphone … The browser may ask you first.</Text>;
  const late = delay();
  return (
    <View className="gap-3">
      <Level />
      {own === null ? (
        <Text kind="note">
          Do you wear headphones? With them the piece can be heard while you speak; without them the microphone would hear it too, so it is
          muted.
        </Text>
      ) : (
        <View className="gap-1.5">
          <Text kind="label">The piece while you speak</Text>
          <Choice label="The piece while you speak" value={own} options={OWN} onChange={(value) => setRecording({ own: value })} />
          {own === 'off' ? null : <Text kind="small">With headphones on: without them the microphone hears it too.</Text>}
        </View>
      )}
      {microphones.length > 1 ? (
        <View className="gap-1.5">
          <Text kind="label">Microphone</Text>
          <Choice label="Microphone" value={device} options={microphones} onChange={(id) => void chooseMicrophone(id)} />
        </View>
      ) : null}
      <View className="rounded-2xl bg-raised px-4">
        <FigureField
          label="Time to get ready"
          testID="narrate-ready"
          value={`${ready} s`}
          onSubmit={(text) => {
            const typed = typedNumber(text, /s/i);
            return typed !== null && setRecording({ ready: typed }) ? null : 'Between 0 and 10 s.';
          }}
          onStep={(by) => setRecording({ ready: Math.max(0, Math.min(10, ready + by)) })}
        />
        <FigureField
          label={late.measured ? 'Delay, as measured' : 'Delay, as guessed'}
          testID="narrate-delay"
          value={`${((late.samples / SAMPLE_RATE) * 1000).toFixed(0)} ms`}
          onSubmit={(text) => {
            const typed = typedNumber(text, /ms/i);
            return typed !== null && setRecording({ delays: { ...delays, [device]: typed } }) ? null : 'Between 0 and 1000 ms.';
          }}
        />
      </View>
      <Text kind="note">
        {phase === 'measuring'
          ? 'Playing clicks and listening for them …'
          : 'How long the sound takes from the loudspeaker to the microphone. Measure it once, without headphones, and your voice is in step to the hundredth of a second.'}
      </Text>
      <Button label="Measure the delay" disabled={phase === 'measuring'} onPress={measureDelay} testID="narrate-measure" />
      <TakeChoice />
    </View>
  );
}

export function BeforeButtons() {
  const phase = useNarration((s) => s.phase);
  const trouble = useNarration((s) => s.trouble);
  const own = useRecording((s) => s.own);
  const format = useFormat();
  const markIn = useEditor((s) => s.markIn);
  const markOut = useEditor((s) => s.markOut);
  const playhead = useEditor((s) => s.playhead);
  if (trouble !== null) return <Button label="Try again" onPress={() => void openMicrophone()} testID="narrate-again" />;
  if (own === null && phase === 'ready')
    return (
      <View className="flex-row gap-2">
        <View className="flex-1">
          <Button label="Headphones on" onPress={() => setRecording({ own: 'low' })} testID="headphones-on" />
        </View>
        <View className="flex-1">
          <Button label="No headphones" onPress={() => setRecording({ own: 'off' })} testID="headphones-off" />
        </View>
      </View>
    );
  if (!format) return null;
  const { at, until } = recordingSpan({ markIn, markOut, playhead });
  const say = (time: number) => formatTimecode(time, format.rate);
  return (
    <Button
      label={until === null ? `Record from ${say(at)}` : `Record ${say(at)} to ${say(until)}`}
      icon={Mic}
      kind="live"
      disabled={phase !== 'ready'}
      onPress={startRecording}
      testID="narrate-record"
    />
  );
}
