import type { Arrival } from '@flimzy/contract';
import TriangleAlert from 'lucide-react-native/icons/triangle-alert';
import { View } from 'react-native';
import { call } from '../api/client';
import { KEYS, putInto, takeOut, useArrivals } from '../api/queries';
import { sendArchive, sentFor, useUploads } from '../api/uploads';
import { Button } from '../look/Button';
import { OnItsWay } from '../look/OnItsWay';
import { pickFiles } from '../look/pickFiles';
import { Progress } from '../look/Progress';
import { Text } from '../look/Text';
import { sayWhy } from '../look/Toast';

/** Lets a person choose archives of pieces, and brings them in. @param then once some are chosen */
export const chooseArchive = (then: () => void): void =>
  pickFiles('.zip,application/zip', true, 'archive-input', (files) => {
    then();
    for (const file of files) void sendArchive(file);
  });

/** Archives of pieces on their way to the server, being read, and what came of them until that is dismissed. */
export function Arrivals({ onOpen }: { onOpen: (piece: string) => void }) {
  const { data: arrivals = [] } = useArrivals();
  const all = useUploads((s) => s.sending);
  const sending = sentFor(all, 'archive');
  if (arrivals.length === 0 && sending.length === 0) return null;
  return (
    <View className="w-full max-w-[640px] gap-3 pb-6">
      {sending.map((one) => (
        <OnItsWay {...one} key={one.key} />
      ))}
      {arrivals.map((arrival) => (
        <ArrivalRow key={arrival.id} arrival={arrival} onOpen={onOpen} />
      ))}
    </View>
  );
}

function dismiss(arrival: Arrival): void {
  takeOut(KEYS.arrivals, arrival.id);
  call('deleteArrival', { params: { id: arrival.id } }).catch((error: Error) => {
    putInto(KEYS.arrivals, arrival);
    sayWhy(error);
  });
}

/** One archive: how far it is read, or what came of it. */
function ArrivalRow({ arrival, onOpen }: { arrival: Arrival; onOpen: (piece: string) => void }) {
  const { id, status, progress, piece, missing, error } = arrival;
  const name = arrival.name ?? arrival.fileName;
  const again = () =>
    void call('arrivalAgain', { params: { id } })
      .then((one) => putInto(KEYS.arrivals, one))
      .catch(sayWhy);
  const open = () => {
    dismiss(arrival);
    if (piece) onOpen(piece);
  };
  return (
    <View testID={`arrival-${status}`} className="gap-2 rounded-2xl border border-hairline px-4 py-3">
      <Text kind="label">
        {status === 'waiting'
          ? `“${name}” waits its turn`
          : status === 'reading'
            ? `Bringing “${name}” in`
            : status === 'failed'
              ? `“${name}” could not be brought in`
              : piece
                ? `“${name}” is here`
                : `The media of “${name}” are here`}
      </Text>
      {status === 'reading' ? <Progress value={progress} label={`Bringing ${name} in`} /> : null}
      {error ? (
        <Text kind="note" className="text-warn">
          {error}
        </Text>
      ) : null}
      {status === 'done' && missing.length === 0 ? <Text kind="small">Whole: its history and every original, byte for byte.</Text> : null}
      {missing.map((one) => (
        <View key={one} className="flex-row gap-2">
          <TriangleAlert size={15} color="var(--c-warn)" strokeWidth={2} />
          <Text kind="note" className="min-w-0 flex-1">
            {one}
          </Text>
        </View>
      ))}
      {status === 'done' || status === 'failed' ? (
        <View className="flex-row flex-wrap gap-2">
          {piece ? <Button label="Open" onPress={open} testID="open-arrival" /> : null}
          {status === 'failed' ? <Button label="Try again" onPress={again} testID="arrival-again" /> : null}
          <Button label="Dismiss" kind="quiet" onPress={() => dismiss(arrival)} testID="dismiss-arrival" />
        </View>
      ) : null}
    </View>
  );
}
