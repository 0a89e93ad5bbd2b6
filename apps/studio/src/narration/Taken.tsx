import { formatTimecode } from '@flimzy/core/time';
import Check from 'lucide-react-native/icons/check';
import Mic from 'lucide-react-native/icons/mic';
import Pause from 'lucide-react-native/icons/pause';
import Play from 'lucide-react-native/icons/play';
import { View } from 'react-native';
import { useUploads } from '../api/uploads';
import { Button } from '../look/Button';
import { Progress } from '../look/Progress';
import { Text } from '../look/Text';
import { pause, useEditor, useFormat } from '../open/editor';
import { sayLength } from './During';
import { hearTake, keepTake, recordAgain, useNarration } from './narration';
import { TakeChoice } from './TakeChoice';

/** What was recorded: where it stands, which take it is, and whether the server has it. */
export function Taken() {
  const note = useNarration((s) => s.note);
  const samples = useNarration((s) => s.samples);
  const format = useFormat();
  const sending = useUploads((s) => s.sending.find((one) => one.key === note?.id));
  if (!note || !format) return null;
  return (
    <View className="gap-3">
      <Text testID="narrate-taken">
        {note.name}, {sayLength(samples)} long, stands at {formatTimecode(note.at, format.rate)}.
      </Text>
      {sending ? (
        sending.error ? (
          <Text kind="note" className="text-warn">
            {sending.error} It stays on this device until then.
          </Text>
        ) : (
          <Progress value={sending.sent / Math.max(1, sending.size)} label={`Sending ${note.name}`} />
        )
      ) : null}
      <TakeChoice />
      <Text kind="note">Every take stays on the shelf. Again records the same stretch once more, in the place of this one.</Text>
    </View>
  );
}

export function TakenButtons() {
  const playing = useEditor((s) => s.playing);
  const hear = playing ? { label: 'Pause', icon: Pause, onPress: pause } : { label: 'Hear it', icon: Play, onPress: hearTake };
  return (
    <View className="gap-2">
      <View className="flex-row gap-2">
        <View className="flex-1">
          <Button {...hear} testID="narrate-hear" />
        </View>
        <View className="flex-1">
          <Button label="Again" icon={Mic} onPress={recordAgain} testID="narrate-once-more" />
        </View>
      </View>
      <Button label="Keep it" icon={Check} kind="main" onPress={keepTake} testID="narrate-keep" />
    </View>
  );
}
