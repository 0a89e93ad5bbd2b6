import { Pressable, View } from 'react-native';
import { Text } from './Text';

interface ChoiceProps<T extends string> {
  label: string;
  value: T;
  options: readonly { id: T; name: string }[];
  onChange: (value: T) => void;
}

/** One of a few, all in sight. */
export function Choice<T extends string>({ label, value, options, onChange }: ChoiceProps<T>) {
  return (
    <View accessibilityRole="radiogroup" accessibilityLabel={label} className="flex-row flex-wrap gap-1.5">
      {options.map((option) => {
        const chosen = option.id === value;
        return (
          <Pressable
            key={option.id}
            accessibilityRole="radio"
            accessibilityLabel={option.name}
            accessibilityState={{ checked: chosen }}
            aria-checked={chosen}
            onPress={() => onChange(option.id)}
            className={`min-h-[44px] justify-center rounded-xl border px-3.5 ${chosen ? 'border-paper bg-paper' : 'border-hairline bg-raised active:bg-hairline'}`}
          >
            <Text kind="label" className={chosen ? 'text-onpaper' : ''}>
              {option.name}
            </Text>
          </Pressable>
        );
      })}
    </View>
  );
}
