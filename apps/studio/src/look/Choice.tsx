import type { ReactNode } from 'react';
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
      {options.map(({ id, name }) => (
        <Choosable key={id} label={name} chosen={id === value} onPress={() => onChange(id)}>
          <Text kind="label" className={id === value ? 'text-onpaper' : ''}>
            {name}
          </Text>
        </Choosable>
      ))}
    </View>
  );
}

interface ChoosableProps {
  label: string;
  chosen: boolean;
  onPress: () => void;
  testID?: string;
  children: ReactNode;
}

/** One of those among which is chosen. */
export function Choosable({ label, chosen, onPress, testID, children }: ChoosableProps) {
  return (
    <Pressable
      accessibilityRole="radio"
      accessibilityLabel={label}
      accessibilityState={{ checked: chosen }}
      aria-checked={chosen}
      onPress={onPress}
      testID={testID}
      className={`min-h-[44px] justify-center rounded-xl border px-3.5 ${chosen ? 'border-paper bg-paper' : 'border-hairline bg-raised active:bg-hairline'}`}
    >
      {children}
    </Pressable>
  );
}
