import type { ComponentType } from 'react';
import { Pressable, View } from 'react-native';
import { Text } from './Text';

/** An icon of the set: drawn at a size in a colour. */
export type Icon = ComponentType<{ size?: number; color?: string; strokeWidth?: number }>;

interface ButtonProps {
  label: string;
  onPress: () => void;
  icon?: Icon;
  kind?: 'main' | 'live' | 'plain' | 'quiet' | 'danger';
  disabled?: boolean;
  testID?: string | undefined;
}

const BUTTONS = {
  main: ['bg-paper active:opacity-80', 'text-onpaper', 'var(--c-onpaper)'],
  /** What is going on now, or begins to. */
  live: ['bg-signal active:opacity-80', 'text-onpaper', 'var(--c-onpaper)'],
  plain: ['bg-raised active:bg-hairline', 'text-ink', 'var(--c-ink)'],
  quiet: ['bg-transparent active:bg-raised', 'text-ink', 'var(--c-ink)'],
  danger: ['bg-transparent border border-warn active:bg-raised', 'text-warn', 'var(--c-warn)'],
} as const;

/** A button with words, at least 44 px high. */
export function Button({ label, onPress, icon: Glyph, kind = 'plain', disabled = false, testID }: ButtonProps) {
  const [box, text, colour] = BUTTONS[kind];
  return (
    <Pressable
      accessibilityRole="button"
      accessibilityLabel={label}
      disabled={disabled}
      onPress={onPress}
      testID={testID}
      className={`min-h-[44px] flex-row items-center justify-center gap-2 rounded-full px-4 ${box} ${disabled ? 'opacity-40' : ''}`}
    >
      {Glyph ? <Glyph size={18} color={colour} strokeWidth={2} /> : null}
      <Text kind="label" numberOfLines={1} className={`font-strong text-[15px] ${text}`}>
        {label}
      </Text>
    </Pressable>
  );
}

interface IconButtonProps {
  label: string;
  icon: Icon;
  onPress: () => void;
  disabled?: boolean;
  /** Shown under the icon. */
  caption?: string;
  active?: boolean;
  round?: boolean;
  size?: number;
  testID?: string | undefined;
}

/** A button with an icon, and words under it where there is room; 44 px to touch either way. */
export function IconButton({
  label,
  icon: Glyph,
  onPress,
  disabled = false,
  caption,
  active = false,
  round = false,
  size = 20,
  testID,
}: IconButtonProps) {
  // What is written on it is part of its name, so that it can be asked for by that.
  const written = caption?.replace('\n', ' ') ?? '';
  const name = label.toLowerCase().includes(written.toLowerCase()) ? label : `${written}: ${label}`;
  return (
    <Pressable
      accessibilityRole="button"
      accessibilityLabel={name}
      accessibilityState={{ disabled, selected: active }}
      disabled={disabled}
      onPress={onPress}
      testID={testID}
      className={`min-h-[44px] min-w-[44px] items-center justify-center gap-1 active:bg-raised ${round ? 'rounded-full bg-raised active:bg-hairline' : 'rounded-xl'} ${active ? 'bg-raised' : ''} ${disabled ? 'opacity-35' : ''}`}
    >
      <View>
        <Glyph size={size} color="var(--c-ink)" strokeWidth={1.9} />
      </View>
      {caption ? (
        <Text kind="small" numberOfLines={2} className="text-center text-ink">
          {caption}
        </Text>
      ) : null}
    </Pressable>
  );
}
