import type { Delivery } from '@flimzy/contract';
import ArrowDown from 'lucide-react-native/icons/arrow-down';
import { useEffect, useState } from 'react';
import { View } from 'react-native';
import { Button } from '../look/Button';
import { Text } from '../look/Text';
import { DeliveryRow, rowId, waitBefore } from './Deliveries';

const HEAD = 'exports';

/** The exports of a piece that has any, the last asked for first. @param revision of the piece as it is now */
export function Exports({ mine, revision }: { mine: readonly Delivery[]; revision: number }) {
  return (
    <View className="gap-3">
      <Text kind="heading" accessibilityRole="header" nativeID={HEAD}>
        Exports
      </Text>
      {mine.map((delivery) => (
        <DeliveryRow key={delivery.id} delivery={delivery} revision={revision} before={waitBefore(mine, delivery)} />
      ))}
    </View>
  );
}

/** What becomes of the exports, in a word, and the way to them from the head of what they are made of. */
export function ToExports({ mine }: { mine: readonly Delivery[] }) {
  if (mine.length === 0) return null;
  const going = mine.find((one) => one.status === 'rendering');
  const waiting = mine.some((one) => one.status === 'waiting');
  const label = going
    ? `Exporting, ${Math.floor(going.progress * 100)} %`
    : waiting
      ? 'Export waits'
      : `${mine.length} ${mine.length === 1 ? 'export' : 'exports'}`;
  return (
    <Button
      label={label}
      icon={ArrowDown}
      kind="quiet"
      onPress={() => document.getElementById(HEAD)?.scrollIntoView({ block: 'start' })}
      testID="to-exports"
    />
  );
}

/** Brings exports into sight as soon as they are in the list: what was just asked for stands below all that it is made of. */
export function useShownRows(mine: readonly Delivery[]): (ids: readonly string[]) => void {
  const [awaited, setAwaited] = useState<readonly string[]>([]);
  useEffect(() => {
    if (awaited.length === 0 || awaited.some((id) => !mine.some((one) => one.id === id))) return;
    // The last asked for stands first in the list, and is seen whatever else has room.
    for (const id of awaited) document.getElementById(rowId(id))?.scrollIntoView({ block: 'nearest' });
    setAwaited([]);
  }, [awaited, mine]);
  return setAwaited;
}
