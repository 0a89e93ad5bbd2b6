import { View } from 'react-native';

/** How far something has come, 0 to 1. The warm colour says that it is going on now. */
export function Progress({ value, label }: { value: number; label: string }) {
  const percent = Math.round(Math.max(0, Math.min(1, value)) * 100);
  return (
    <View
      accessibilityRole="progressbar"
      accessibilityLabel={label}
      accessibilityValue={{ min: 0, max: 100, now: percent }}
      className="h-[5px] w-full overflow-hidden rounded-full bg-raised"
    >
      <View className="h-full rounded-full bg-signal" style={{ width: `${percent}%` }} />
    </View>
  );
}
