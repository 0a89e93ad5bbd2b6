import type { DeliveryCheck } from '@flimzy/contract';
import Check from 'lucide-react-native/icons/check';
import TriangleAlert from 'lucide-react-native/icons/triangle-alert';
import { View } from 'react-native';
import { Text } from '../look/Text';

/** What was looked at in a finished file: what is not as it was asked for line by line, and apart from it what is. */
export function Checks({ checks }: { checks: readonly DeliveryCheck[] }) {
  const said = (as: boolean) => checks.filter(({ ok }) => ok === as).map(({ says }) => says);
  const [right, wrong] = [said(true), said(false)];
  return (
    <View className="gap-1.5" testID="delivery-checks">
      {wrong.length > 0 ? (
        <View className="flex-row gap-2" testID="checks-wrong">
          <TriangleAlert size={15} color="var(--c-warn)" strokeWidth={2} />
          <View className="min-w-0 flex-1">
            <Text kind="label">Not as asked for</Text>
            {wrong.map((says) => (
              <Text key={says} kind="note">
                {says}
              </Text>
            ))}
          </View>
        </View>
      ) : null}
      {right.length > 0 ? (
        <View className="flex-row gap-2" testID="checks-right">
          <Check size={15} color="var(--c-ink)" strokeWidth={2.4} />
          <Text kind="small" className="min-w-0 flex-1 leading-[16px]">
            {`${wrong.length > 0 ? 'As asked for' : 'Looked through'}: ${right.join(', ')}`}
          </Text>
        </View>
      ) : null}
    </View>
  );
}
