import X from 'lucide-react-native/icons/x';
import { View } from 'react-native';
import { IconButton } from './Button';
import { Progress } from './Progress';
import { Text } from './Text';

export interface OnItsWayProps {
  name: string;
  /** Bytes, of which so many are sent. */
  size: number;
  sent: number;
  /** Bytes a second, smoothed; 0 at first. */
  speed: number;
  error: string | null;
  cancel: () => void;
}

/** A file on its way to the server, with how long it still takes. */
export function OnItsWay({ name, size, sent, speed, error, cancel }: OnItsWayProps) {
  return (
    <View testID="sending" className="gap-2 rounded-2xl bg-raised py-1 pl-3">
      <View className="flex-row items-center gap-2">
        <View className="min-w-0 flex-1 gap-1.5">
          <Text kind="label" numberOfLines={1}>
            {name}
          </Text>
          {error ? (
            <Text kind="note" className="text-warn">
              {error}
            </Text>
          ) : (
            <>
              <Progress value={sent / Math.max(1, size)} label={`Sending ${name}`} />
              <Text kind="small" className="font-mono">
                {(sent / 1e6).toFixed(1)} of {(size / 1e6).toFixed(1)} MB
                {speed > 0 ? ` · ${Math.max(1, Math.ceil((size - sent) / speed))} s left` : ''}
              </Text>
            </>
          )}
        </View>
        <IconButton label={error ? 'Dismiss' : `Cancel sending ${name}`} icon={X} onPress={cancel} />
      </View>
    </View>
  );
}
