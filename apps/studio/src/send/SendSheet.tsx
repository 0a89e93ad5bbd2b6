import type { Delivery } from '@flimzy/contract';
import { pieceLength, shapeOf } from '@flimzy/core/piece';
import { formatTimecode, rateName } from '@flimzy/core/time';
import { formatDistanceToNow } from 'date-fns/formatDistanceToNow';
import Download from 'lucide-react-native/icons/download';
import { View } from 'react-native';
import { addressOf, call } from '../api/client';
import { deliveriesOf, putInto, takeOut, useDeliveries } from '../api/queries';
import { useWhole } from '../open/editor';
import { Button } from '../look/Button';
import { FigureField } from '../look/Field';
import { Progress } from '../look/Progress';
import { Sheet } from '../look/Sheet';
import { Text } from '../look/Text';
import { say } from '../look/Toast';

/** Seconds as people say them. */
function timeLeft(seconds: number): string {
  if (seconds < 90) return `${Math.max(1, Math.round(seconds))} s left`;
  return `${Math.round(seconds / 60)} min left`;
}

/** The last step: what will come out, and every export of this piece. */
export function SendSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  const piece = useWhole();
  const { data: mine = [] } = useDeliveries(piece?.id ?? '');
  if (!piece) return null;
  const busy = mine.some((d) => d.status === 'waiting' || d.status === 'rendering');
  const { width, height, rate } = piece.format;
  const start = () =>
    void call('newDelivery', { body: { piece: piece.id } })
      .then((delivery) => {
        const there = mine.some((d) => d.id === delivery.id);
        if (there)
          say(
            delivery.status === 'done' ? 'Nothing has changed since: this export is there already.' : 'It is being exported as it is now.',
          );
        putInto(deliveriesOf(delivery.piece), delivery);
      })
      .catch((error: Error) => say(error.message));
  const shape = shapeOf(piece.format);
  return (
    <Sheet
      title="Send"
      open={open}
      onClose={onClose}
      testID="send-sheet"
      footer={
        <Button
          label={busy ? 'Export again as it is now' : 'Export an MP4'}
          kind="main"
          onPress={start}
          disabled={pieceLength(piece) === 0}
          testID="export"
        />
      }
    >
      <View className="rounded-2xl bg-raised px-4">
        <FigureField label="Shape" value={shape ? `${shape.name} ${shape.ratio}` : 'Own size'} />
        <FigureField label="Size" value={`${width} × ${height}`} />
        <FigureField label="Frame rate" value={`${rateName(rate)} fps`} />
        <FigureField label="Length" value={formatTimecode(pieceLength(piece), rate)} />
        <FigureField label="Kind" value="H.264 + AAC" />
      </View>
      {pieceLength(piece) === 0 ? (
        <Text kind="note" className="pt-4">
          The piece is empty. Add a clip first; then it can be exported.
        </Text>
      ) : null}
      <View className="gap-3 pt-4">
        {mine.map((delivery) => (
          <DeliveryRow key={delivery.id} delivery={delivery} />
        ))}
      </View>
    </Sheet>
  );
}

const SAYS = { waiting: 'Waiting its turn', rendering: 'Exporting', done: 'Ready', failed: 'Stopped', cancelled: 'Cancelled' } as const;

/** Takes an export off the list; its file stays until its room is wanted, so that this can be taken back. */
async function remove(delivery: Delivery): Promise<void> {
  const { id } = delivery;
  const failed = (error: Error) => say(error.message);
  takeOut(deliveriesOf(delivery.piece), id);
  await call('deleteDelivery', { params: { id } }).catch((error: Error) => {
    putInto(deliveriesOf(delivery.piece), delivery);
    failed(error);
  });
  const back = () => void call('restoreDelivery', { params: { id } }).then((d) => putInto(deliveriesOf(d.piece), d), failed);
  say('The export is deleted.', { label: 'Undo', run: back });
}

function DeliveryRow({ delivery }: { delivery: Delivery }) {
  const { id, status, progress, secondsLeft, segments, segmentsKept } = delivery;
  const going = status === 'waiting' || status === 'rendering';
  const cancel = () =>
    void call('cancelDelivery', { params: { id } })
      .then((d) => putInto(deliveriesOf(d.piece), d))
      .catch((e: Error) => say(e.message));
  const download = () => {
    const link = document.createElement('a');
    link.href = addressOf('deliveryFile', { id });
    link.download = delivery.fileName;
    link.click();
  };
  return (
    <View testID={`delivery-${status}`} className="gap-2 rounded-2xl border border-hairline px-4 py-3">
      <View className="flex-row items-baseline justify-between gap-2">
        <Text kind="label">{SAYS[status]}</Text>
        <Text kind="small">{formatDistanceToNow(new Date(delivery.createdAt), { addSuffix: true })}</Text>
      </View>
      {going ? <Progress value={progress} label="Export" /> : null}
      <Text kind="small" className="font-mono">
        {going
          ? `${Math.floor(progress * 100)} %${secondsLeft === null ? '' : ` · ${timeLeft(secondsLeft)}`}${segmentsKept > 0 ? ` · ${segmentsKept} of ${segments} parts kept from before` : ''}`
          : status === 'done'
            ? `${delivery.fileName} · ${((delivery.size ?? 0) / 1e6).toFixed(1)} MB`
            : (delivery.error ?? 'What was rendered is kept for the next export.')}
      </Text>
      {going ? (
        <Button label="Cancel" kind="quiet" onPress={cancel} testID="cancel-export" />
      ) : (
        <View className="flex-row gap-2">
          {status === 'done' ? <Button label="Download" icon={Download} onPress={download} testID="download" /> : null}
          <Button label="Delete" kind="quiet" onPress={() => void remove(delivery)} testID="delete-export" />
        </View>
      )}
      {going ? <Text kind="small">It goes on when you close this page.</Text> : null}
    </View>
  );
}
