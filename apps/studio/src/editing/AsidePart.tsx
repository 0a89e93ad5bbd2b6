import { format } from 'date-fns/format';
import X from 'lucide-react-native/icons/x';
import { useState } from 'react';
import { View } from 'react-native';
import { Button, IconButton } from '../look/Button';
import { Text } from '../look/Text';
import { aside, forgetAside, tryAside } from '../open/editor';

/** What could not be kept, with the reason, to be tried again or forgotten. Nothing when there is nothing. */
export function AsidePart() {
  const [, again] = useState(0);
  const all = aside();
  if (all.length === 0) return null;
  const after = (work: () => void) => () => {
    work();
    again((n) => n + 1);
  };
  return (
    <View className="gap-2 pb-5" testID="aside">
      <Text kind="small">Could not be kept</Text>
      {all.map(({ request, title, sentence, at }) => (
        <View key={request.id} className="flex-row items-center gap-2 rounded-2xl bg-raised py-2 pl-4 pr-1">
          <View className="min-w-0 flex-1">
            <Text>{title}</Text>
            <Text kind="small">
              {sentence} · {format(new Date(at), 'd MMM, HH:mm')}
            </Text>
          </View>
          <Button label="Try again" kind="quiet" onPress={after(() => tryAside(request.id))} />
          <IconButton label={`Forget ${title}`} icon={X} onPress={after(() => forgetAside(request.id))} />
        </View>
      ))}
    </View>
  );
}
