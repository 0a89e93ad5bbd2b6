import type { Freeable, Storage } from '@flimzy/contract';
import { useQuery } from '@tanstack/react-query';
import { formatDistanceToNow } from 'date-fns/formatDistanceToNow';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '../api/client';
import { KEYS, queryClient } from '../api/queries';
import { Button } from '../look/Button';
import { FigureField } from '../look/Field';
import { Sheet } from '../look/Sheet';
import { Text } from '../look/Text';
import { size } from '../look/size';
import { say, sayWhy } from '../look/Toast';
import { LeftRecordings } from './LeftRecordings';

const KEY = ['storage'];

/** What each kind of thing is, what freeing it costs, and whether that can be taken back in some way. */
const KINDS: Record<Freeable, { name: string; cost: string; word: string }> = {
  segments: { name: 'Kept parts of exports', cost: 'The next export of each piece takes as long as the first.', word: 'Clear' },
  deliveries: { name: 'Exported files', cost: 'Each can be exported again from its piece.', word: 'Delete all' },
  unused: {
    name: 'Items that no piece uses',
    cost: 'Their files are gone for good. Download what you want to keep first.',
    word: 'Delete for good',
  },
  deleted: { name: 'Already deleted', cost: 'What was deleted in the last 30 days can then not be put back.', word: 'Delete for good' },
};

/** What takes how much room on the server, and what can be freed. */
export function StorageSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  const { data, error, refetch } = useQuery<Storage>({ queryKey: KEY, queryFn: () => call('storage'), enabled: open, staleTime: 0 });
  return (
    <Sheet title="Storage" open={open} onClose={onClose} tall testID="storage-sheet">
      {data ? (
        <Parts storage={data} />
      ) : error ? (
        <View className="items-start gap-3">
          <Text className="text-warn">{error.message}</Text>
          <Button label="Try again" onPress={() => void refetch()} />
        </View>
      ) : (
        <Text kind="note">Adding up what is there …</Text>
      )}
    </Sheet>
  );
}

function Parts({ storage }: { storage: Storage }) {
  const { free, total, backedUpAt, mended } = storage;
  return (
    <View className="gap-5 pb-4">
      <View className="gap-2">
        <Text kind="heading" testID="storage-free">{`${size(free)} free of ${size(total)}`}</Text>
        <View className="h-2 overflow-hidden rounded-full bg-raised" accessibilityElementsHidden importantForAccessibility="no">
          <View className="h-2 bg-muted" style={{ width: `${Math.round(100 * (1 - free / Math.max(1, total)))}%` }} />
        </View>
      </View>
      {mended ? (
        <Text accessibilityRole="alert" className="text-warn" testID="mended">
          {mended}
        </Text>
      ) : null}
      <View className="rounded-2xl bg-raised px-4">
        <FigureField label="Files you brought in" value={size(storage.originals)} />
        <FigureField label="Made from them" value={size(storage.made)} />
        <FigureField label="Half sent" value={size(storage.uploads)} />
        <FigureField label="Pieces and their history" value={size(storage.database)} />
        <FigureField label="Backups of those" value={size(storage.backups)} />
        <FigureField label="Last backup" value={backedUpAt ? formatDistanceToNow(new Date(backedUpAt), { addSuffix: true }) : 'none yet'} />
      </View>
      <View className="gap-3">
        {(Object.keys(KINDS) as Freeable[]).map((what) => (
          <Kind key={what} what={what} {...storage.freeable[what]} />
        ))}
        <LeftRecordings />
      </View>
    </View>
  );
}

/** One kind of thing that can be freed: asked for twice, since it is for good. */
function Kind({ what, bytes, count }: { what: Freeable; bytes: number; count: number }) {
  const [sure, setSure] = useState(false);
  const [busy, setBusy] = useState(false);
  const { name, cost, word } = KINDS[what];
  const go = async () => {
    setBusy(true);
    queryClient.setQueryData(KEY, await call('freeStorage', { body: { what } }));
    setSure(false);
    say(`${size(bytes)} freed.`);
    for (const queryKey of [KEYS.media, KEYS.deliveries]) void queryClient.invalidateQueries({ queryKey });
  };
  return (
    <View className="gap-1 rounded-2xl border border-hairline px-4 py-3" testID={`free-${what}`}>
      <View className="flex-row items-baseline justify-between gap-2">
        <Text kind="label">{name}</Text>
        <Text kind="small" className="font-mono">
          {count === 0 ? 'none' : `${count} · ${size(bytes)}`}
        </Text>
      </View>
      <Text kind="small">{cost}</Text>
      {count === 0 ? null : sure ? (
        <View className="flex-row gap-2 pt-1">
          <Button
            label={busy ? 'Freeing …' : word}
            kind="danger"
            disabled={busy}
            testID={`free-${what}-sure`}
            onPress={() =>
              void go()
                .catch(sayWhy)
                .finally(() => setBusy(false))
            }
          />
          <Button label="Leave it" kind="quiet" onPress={() => setSure(false)} />
        </View>
      ) : (
        <View className="items-start pt-1">
          <Button label={`${word} …`} onPress={() => setSure(true)} testID={`free-${what}-ask`} />
        </View>
      )}
    </View>
  );
}
