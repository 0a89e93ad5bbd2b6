import { useEffect, useState } from 'react';
import { TextInput, View } from 'react-native';
import { Text } from './Text';

interface FigureProps {
  label: string;
  /** The value as shown. */
  value: string;
  /** Takes what was typed. Returns a sentence when it makes no sense; the old value then comes back. */
  onSubmit?: (text: string) => string | null;
  /** One step up or down, by the arrow keys. */
  onStep?: (by: 1 | -1) => void;
  testID?: string;
}

/** How wide one letter of a value is, in px. */
const FIGURE = 8.6;

/** A figure of the card: a name, and a value that can be typed and stepped; under the name where both have no room side by side. */
export function FigureField({ label, value, onSubmit, onStep, testID }: FigureProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  useEffect(() => setWrong(null), [value]);
  const submit = () => {
    if (typed === null || typed === value) return setTyped(null);
    setWrong(onSubmit?.(typed) ?? null);
    setTyped(null);
  };
  return (
    <View className="border-t border-hairline">
      <View className="min-h-[44px] flex-row flex-wrap items-center justify-between gap-x-2">
        <Text kind="note" className="py-1.5">
          {label}
        </Text>
        {onSubmit ? (
          <TextInput
            accessibilityLabel={label}
            testID={testID}
            value={typed ?? value}
            onFocus={() => setTyped(value)}
            onChangeText={setTyped}
            onBlur={submit}
            onSubmitEditing={submit}
            selectTextOnFocus
            inputMode="text"
            onKeyPress={({ nativeEvent }) => {
              if (nativeEvent.key === 'Escape') setTyped(null);
              if (nativeEvent.key === 'ArrowUp') onStep?.(1);
              if (nativeEvent.key === 'ArrowDown') onStep?.(-1);
            }}
            style={{ minWidth: `min(100%, ${Math.ceil(value.length * FIGURE)}px)` } as object}
            className="min-h-[40px] w-0 flex-1 rounded-lg text-right font-mono text-[14px] text-ink"
          />
        ) : (
          <Text kind="figure" testID={testID}>
            {value}
          </Text>
        )}
      </View>
      {wrong ? (
        <Text kind="small" className="pb-2 text-warn">
          {wrong}
        </Text>
      ) : null}
    </View>
  );
}

/** A line of text with a name above it. */
export function TextField({
  label,
  value,
  onChange,
  error,
  autoFocus = false,
  onKey,
  onLeave,
  lines = 1,
  secret = false,
  placeholder,
  testID,
}: {
  label: string;
  value: string;
  onChange: (text: string) => void;
  /** Hears that it was left. */
  onLeave?: () => void;
  /** How many lines of it are seen. */
  lines?: number;
  /** What is typed is not shown. */
  secret?: boolean;
  placeholder?: string;
  /** Hears the keys pressed in it. */
  onKey?: (key: string) => void;
  error?: string | undefined;
  autoFocus?: boolean;
  testID?: string;
}) {
  return (
    <View className="gap-1.5">
      <Text kind="label">{label}</Text>
      <TextInput
        accessibilityLabel={label}
        testID={testID}
        value={value}
        onChangeText={onChange}
        autoFocus={autoFocus}
        onKeyPress={({ nativeEvent }) => onKey?.(nativeEvent.key)}
        onBlur={onLeave}
        selectTextOnFocus={lines === 1}
        multiline={lines > 1}
        numberOfLines={lines}
        secureTextEntry={secret}
        autoComplete={secret ? 'off' : undefined}
        placeholder={placeholder}
        placeholderTextColor="var(--c-muted)"
        className={`min-h-[48px] rounded-xl border border-hairline bg-ground px-4 font-text text-[16px] text-ink ${lines > 1 ? 'py-3' : ''}`}
      />
      {error ? (
        <Text kind="small" className="text-warn">
          {error}
        </Text>
      ) : null}
    </View>
  );
}
