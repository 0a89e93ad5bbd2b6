import type { Marker } from '@flimzy/core/piece';
import { View } from 'react-native';
import { LETTER_COLOURS } from './letters';
import { Text } from './Text';

export function LetterTag({ letter }: { letter: Marker['letter'] }) {
  return (
    <View className="h-7 w-7 items-center justify-center rounded-md" style={{ backgroundColor: LETTER_COLOURS[letter] }}>
      <Text kind="small" className="font-monomedium" style={{ color: '#17191a' }}>
        {letter}
      </Text>
    </View>
  );
}
