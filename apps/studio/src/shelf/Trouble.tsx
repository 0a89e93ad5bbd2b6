import type { MediaItem } from '@flimzy/contract';
import { Linking, Pressable, View } from 'react-native';
import { addressOf } from '../api/address';
import { call } from '../api/client';
import { KEYS, putInto } from '../api/queries';
import { Text } from '../look/Text';
import { sayWhy } from '../look/Toast';
import { takeOffEverywhere } from './takeOff';

/** What is wrong with an item, and what can be done: try again, take the file back, or take it off the shelf. */
export function Trouble({ item }: { item: MediaItem }) {
  const again = () =>
    call('prepareAgain', { params: { id: item.id } })
      .then((changed) => putInto(KEYS.media, changed))
      .catch(sayWhy);
  return (
    <View className="items-start" testID="trouble">
      <Text kind="small" className="text-warn">
        {item.error}
      </Text>
      <View className="flex-row flex-wrap gap-x-4">
        {item.originalKept ? <Way word="Try again" name={item.name} onPress={() => void again()} /> : null}
        {item.originalKept ? (
          <Way word="Download" name={item.name} onPress={() => void Linking.openURL(addressOf('mediaOriginal', { id: item.id }))} />
        ) : null}
        {item.status === 'failed' ? <Way word="Dismiss" name={item.name} onPress={() => void takeOffEverywhere(item)} /> : null}
      </View>
    </View>
  );
}

function Way({ word, name, onPress }: { word: string; name: string; onPress: () => void }) {
  return (
    <Pressable accessibilityRole="button" accessibilityLabel={`${word} ${name}`} className="min-h-[44px] justify-center" onPress={onPress}>
      <Text kind="small" className="text-ink underline">
        {word}
      </Text>
    </Pressable>
  );
}
