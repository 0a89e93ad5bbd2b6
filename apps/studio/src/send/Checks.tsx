import type { DeliveryCheck } from '@flimzy/contract';
import Check from 'lucide-react-native/icons/check';
import TriangleAlert from 'lucide-react-native/icons/triangle-alert';
import { View } from 'react-native';
import { Text } from '../look/Text';

/** What was looked at in a finished file. */
export function Checks({ checks }: { checks: readonly DeliveryCheck[] }) {
  const wrong = checks.filter(({ ok }) => !ok);
  return (
    <View className="flex-row gap-2" testID="delivery-checks">
      {wrong.length > 0 ? (
        <TriangleAlert size={15} color="var(--c-warn)" strokeWidth={2} />
      ) : (
        <Check size={15} color="var(--c-ink)" strokeWidth={2.4} />
      )}
      <Text kind="small" className="min-w-0 flex-1 leading-[16px]">
        {wrong.length > 0 ? `Not as asked for: ${wrong.map(({ says }) => says).join(', ')}. ` : 'Looked through: '}
        {checks
          .filter(({ ok }) => ok)
          .map(({ says }) => says)
          .join(', ')}
      </Text>
    </View>
  );
}
