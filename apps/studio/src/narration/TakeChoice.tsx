import { View } from 'react-native';
import { Choice } from '../look/Choice';
import { Text } from '../look/Text';
import { edit, useEditor, useWhole } from '../open/editor';
import { takesOf } from './places';

/** The takes of the selected narration: another one takes its place in step. */
export function TakeChoice() {
  const piece = useWhole();
  const selected = useEditor((s) => (s.selected.length === 1 ? s.selected[0] : undefined));
  const found = piece && selected !== undefined ? takesOf(piece, selected) : null;
  if (!found || found.takes.length < 2) return null;
  return (
    <View className="gap-1.5">
      <Text kind="label">Takes of this stretch</Text>
      <Choice
        label="Takes of this stretch"
        value={found.media}
        options={found.takes}
        onChange={(media) => edit('swapTake', { clip: found.clip, media })}
      />
    </View>
  );
}
