import X from 'lucide-react-native/icons/x';
import { View } from 'react-native';
import { useUploads } from '../api/uploads';
import { IconButton } from '../look/Button';
import { Progress } from '../look/Progress';
import { Text } from '../look/Text';

/** Files on their way to the server, with how long they still take. */
export function Sending() {
  const sending = useUploads((s) => s.sending);
  return (
    <>
      {sending.map((one) => (
        <View key={one.key} testID="sending" className="gap-2 rounded-2xl bg-raised py-1 pl-3">
          <View className="flex-row items-center gap-2">
            <View className="min-w-0 flex-1 gap-1.5">
              <Text kind="label" numberOfLines={1}>
                {one.name}
              </Text>
              {one.error ? (
                <Text kind="note" className="text-warn">
                  {one.error}
                </Text>
              ) : (
                <>
                  <Progress value={one.sent / Math.max(1, one.size)} label={`Sending ${one.name}`} />
                  <Text kind="small" className="font-mono">
                    {(one.sent / 1e6).toFixed(1)} of {(one.size / 1e6).toFixed(1)} MB
                    {one.speed > 0 ? ` · ${Math.max(1, Math.ceil((one.size - one.sent) / one.speed))} s left` : ''}
                  </Text>
                </>
              )}
            </View>
            <IconButton label={one.error ? 'Dismiss' : `Cancel sending ${one.name}`} icon={X} onPress={one.cancel} />
          </View>
        </View>
      ))}
    </>
  );
}
