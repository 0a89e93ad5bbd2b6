import { typedColour } from '@flimzy/core/properties';
import Pipette from 'lucide-react-native/icons/pipette';
import { createElement } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import { FigureField } from './Field';
import { Text } from './Text';

/** Colours that are always at hand. */
const PALETTE = [
  '#ffffff',
  '#17191a',
  '#f4efe2',
  '#ffd166',
  '#f4703c',
  '#c8452d',
  '#b0486e',
  '#5b4b8a',
  '#1f5f6b',
  '#2f7d4f',
  '#8fc7b8',
] as const;

interface ColoursProps {
  label: string;
  value: string;
  onChange: (colour: string) => boolean;
  /** Colours of the picture it is for. */
  near?: readonly string[];
  testID: string;
}

/** A colour: one of a few, one of the picture's, one from the browser's own picker, or typed. */
export function Colours({ label, value, onChange, near = [], testID }: ColoursProps) {
  const all = [...new Set([...near, ...PALETTE])];
  return (
    <View className="gap-1" accessibilityRole="radiogroup" accessibilityLabel={label}>
      <View className="rounded-2xl bg-raised px-4">
        <View className="flex-row items-center gap-2">
          <View className="min-w-0 flex-1">
            <FigureField
              label={label}
              testID={testID}
              value={value}
              onSubmit={(text) => {
                const colour = typedColour(text);
                return colour !== null && onChange(colour) ? null : 'A colour as #rrggbb.';
              }}
            />
          </View>
          <View className="h-11 w-11 items-center justify-center">
            <Pipette size={18} color="var(--c-ink)" strokeWidth={2} />
            {createElement('input', {
              type: 'color',
              value,
              'aria-label': `${label}: choose any`,
              onChange: (event: { target: { value: string } }) => onChange(event.target.value),
              style: { position: 'absolute', inset: 0, width: 44, height: 44, opacity: 0, cursor: 'pointer' },
            })}
          </View>
        </View>
      </View>
      <ScrollView horizontal showsHorizontalScrollIndicator={false}>
        {all.map((colour, n) => (
          <Pressable
            key={colour}
            accessibilityRole="radio"
            accessibilityLabel={n < near.length ? `${colour}, of the picture` : colour}
            accessibilityState={{ checked: colour === value }}
            aria-checked={colour === value}
            onPress={() => onChange(colour)}
            testID={`${testID}-${colour.slice(1)}`}
            className="h-11 w-10 items-center justify-center"
          >
            <View
              style={{
                width: 30,
                height: 30,
                borderRadius: n < near.length ? 9 : 15,
                backgroundColor: colour,
                borderWidth: colour === value ? 3 : 1,
                borderColor: colour === value ? 'var(--c-ink)' : 'var(--c-hairline)',
              }}
            />
          </Pressable>
        ))}
      </ScrollView>
      {near.length > 0 ? <Text kind="small">Square ones are from the picture.</Text> : null}
    </View>
  );
}
