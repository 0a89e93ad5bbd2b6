import type { PlatformFormat } from '@flimzy/core/deliver';
import { pieceLength } from '@flimzy/core/piece';
import { formatTimecode, fromSeconds, toSeconds, type Flicks, type Rate } from '@flimzy/core/time';
import { Pressable, View } from 'react-native';
import { Text } from '../look/Text';
import { useEditor, usePiece, useWhole } from '../open/editor';
import { chosenOf, useFormats } from '../open/formats';

/** Seconds of a limit as people say them: "60 s", "3 min". */
export function sayLimit(seconds: number): string {
  if (seconds >= 7200 && seconds % 3600 === 0) return `${seconds / 3600}\u00a0h`;
  if (seconds >= 120 && seconds % 60 === 0) return `${seconds / 60}\u00a0min`;
  return `${seconds}\u00a0s`;
}

/** A length beside the longest that is taken, as a bar: full where it is reached. */
export function LengthBar({ length, most }: { length: Flicks; most: number }) {
  const share = toSeconds(length) / most;
  const over = share > 1;
  return (
    <View
      accessibilityRole="progressbar"
      accessibilityLabel={over ? 'Longer than it takes' : 'Length against the longest it takes'}
      accessibilityValue={{ min: 0, max: 100, now: Math.min(100, Math.round(share * 100)) }}
      className="h-[5px] w-full flex-row overflow-hidden rounded-full bg-raised"
    >
      <View className="h-full bg-paper" style={{ width: `${over ? 100 / share : share * 100}%` }} />
      {over ? <View className="h-full flex-1 bg-warn" /> : null}
    </View>
  );
}

/** The length and what of it is taken, in words. */
export function sayLength(length: Flicks, most: number, rate: Rate): string {
  const over = length - fromSeconds(most);
  return over > 0 ? `${formatTimecode(over, rate)} too long for ${sayLimit(most)}` : `${formatTimecode(length, rate)} of ${sayLimit(most)}`;
}

/** The format of some with the shortest limit. */
export const tightest = (formats: readonly PlatformFormat[]): { format: PlatformFormat; most: number } | null =>
  formats.reduce<{ format: PlatformFormat; most: number } | null>((best, format) => {
    const { most } = format.length;
    return most !== null && (!best || most < best.most) ? { format, most } : best;
  }, null);

/** The length of the piece in the head of the editor, against the shortest limit of the formats it is made for; a touch opens these. */
export function HeadLength({ onPress }: { onPress: () => void }) {
  const shown = usePiece();
  const whole = useWhole();
  const inside = useEditor((s) => s.inside);
  const all = useFormats();
  if (!shown || !whole) return null;
  const { rate } = shown.format;
  const length = pieceLength(shown);
  const limit = inside === null ? tightest(chosenOf(whole, all)) : null;
  const plain = formatTimecode(length, rate);
  const over = limit !== null && length > fromSeconds(limit.most);
  const label = `${toSeconds(length).toFixed(1)} seconds long${limit ? `, ${limit.format.name} takes ${sayLimit(limit.most)}${over ? ': too long' : ''}` : ''}`;
  return (
    <Pressable
      accessibilityRole="button"
      accessibilityLabel={`${label}. What it is made for`}
      onPress={onPress}
      testID="piece-length"
      hitSlop={{ top: 14, bottom: 14, left: 8, right: 8 }}
      className="min-w-0 shrink"
    >
      <Text kind="small" numberOfLines={1} className={`font-mono ${over ? 'text-warn' : ''}`}>
        {over && limit
          ? `${formatTimecode(length - fromSeconds(limit.most), rate)} too long`
          : limit
            ? `${plain} of ${sayLimit(limit.most)}`
            : plain}
      </Text>
      {limit ? (
        <View className="w-[92px] pt-0.5">
          <LengthBar length={length} most={limit.most} />
        </View>
      ) : null}
    </Pressable>
  );
}
