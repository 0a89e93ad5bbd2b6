import type { TogetherStep } from '@flimzy/core/edits';
import { type Marker, type MediaFacts } from '@flimzy/core/piece';
import X from 'lucide-react-native/icons/x';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { edit, together } from '../open/editor';
import { Button, IconButton } from '../look/Button';
import { TextField } from '../look/Field';
import { LetterTag } from '../look/LetterTag';
import { Text } from '../look/Text';

/** Moments of the material worth finding again. */
export function MediaMarks({
  facts,
  shelved,
  markers,
  now,
  write,
  onGo,
}: {
  facts: MediaFacts;
  shelved: boolean;
  markers: readonly Marker[];
  now: number;
  write: (time: number) => string;
  onGo: (time: number) => void;
}) {
  const [name, setName] = useState('');
  const place = { media: facts.id };
  const drop = () => {
    const steps: TogetherStep[] = shelved ? [] : [{ name: 'shelve', params: { media: [facts] } }];
    steps.push({ name: 'mark', params: { place, time: now, name: name.trim() } });
    if (together(`Marker in ${facts.name}`, steps)) setName('');
  };
  return (
    <View className="gap-1">
      <View className="flex-row items-end gap-2">
        <View className="flex-1">
          <TextField label="Marker here" value={name} onChange={setName} testID="media-mark-name" />
        </View>
        <Button label="Drop" onPress={drop} testID="media-mark" />
      </View>
      {markers.map((marker) => (
        <View key={marker.id} testID="media-marker" className="min-h-[44px] flex-row items-center gap-2">
          <LetterTag letter={marker.letter} />
          <Pressable
            accessibilityRole="button"
            accessibilityLabel={`Go to ${marker.name || write(marker.time)}`}
            className="min-h-[44px] flex-1 justify-center"
            onPress={() => onGo(marker.time)}
          >
            <Text numberOfLines={1}>{marker.name || write(marker.time)}</Text>
          </Pressable>
          <Text kind="small" className="font-mono">
            {write(marker.time)}
          </Text>
          <IconButton
            label={`Remove ${marker.name || 'this marker'}`}
            icon={X}
            onPress={() => edit('unmark', { place, ids: [marker.id] })}
          />
        </View>
      ))}
    </View>
  );
}
