import type { DeliverySettings, PlatformFormat } from '@flimzy/core/deliver';
import { useMutation } from '@tanstack/react-query';
import { View } from 'react-native';
import { call } from '../api/client';
import { Button } from '../look/Button';
import { size } from '../look/size';
import { Text } from '../look/Text';
import { useEditor } from '../open/editor';
import { saved } from '../open/saved';
import { standOf } from '../open/state';
import { sayDuration } from './timeLeft';

/** About how large the file will be and how long it takes to be made, when one asks: some of it is made for that. */
export function Estimate({ piece, format, settings }: { piece: string; format: PlatformFormat; settings: DeliverySettings }) {
  const of = `${useEditor(standOf)} ${JSON.stringify(settings)}`;
  const { mutate, data, isPending, error } = useMutation({
    mutationFn: async (asked: string) => {
      await saved();
      return { of: asked, ...(await call('estimateDelivery', { body: { piece, settings } })) };
    },
  });
  const known = data?.of === of ? data : null;
  if (!known)
    return (
      <View className="items-start gap-1">
        <Button
          label={isPending ? 'Trying some of it …' : 'How large, how long?'}
          disabled={isPending}
          onPress={() => mutate(of)}
          testID={`estimate-${format.id}`}
        />
        {error ? <Text kind="note">{error.message}</Text> : null}
      </View>
    );
  const { bytes, seconds, most } = known;
  const over = bytes !== null && format.bytes !== null && bytes > format.bytes;
  return (
    <Text kind="note" className={over ? 'text-warn' : ''} testID={`estimated-${format.id}`}>
      {bytes === null
        ? 'There is nothing in it yet.'
        : `About ${bytes < 1e7 ? `${(bytes / 1e6).toFixed(1)} MB` : size(bytes)}${format.bytes === null ? '' : `; ${size(format.bytes)} at most`}${over ? ': too large. Choose a smaller size, or say how many bytes.' : '.'}`}
      {seconds === null
        ? ''
        : ` It takes about ${sayDuration(seconds)} to make${most === null ? '' : `, up to ${sayDuration(most)} where it has to be tried again to come to that`}.`}
    </Text>
  );
}
