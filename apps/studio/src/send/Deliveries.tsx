import type { Delivery } from '@flimzy/contract';
import { useRouter } from 'expo-router';
import { formatDistanceToNow } from 'date-fns/formatDistanceToNow';
import Download from 'lucide-react-native/icons/download';
import Send from 'lucide-react-native/icons/send';
import Share from 'lucide-react-native/icons/share-2';
import { useState } from 'react';
import { View } from 'react-native';
import { FILES, isSeen } from '@flimzy/core/deliver';
import { addressOf } from '../api/address';
import { call } from '../api/client';
import { deliveriesOf, KEYS, putInto, takeOut, usePlatforms } from '../api/queries';
import { Button } from '../look/Button';
import { CaptionButtons } from '../look/CaptionButtons';
import { Progress } from '../look/Progress';
import { saveFrom } from '../look/saveFile';
import { size } from '../look/size';
import { Text } from '../look/Text';
import { say, sayWhy } from '../look/Toast';
import { saved } from '../open/saved';
import { Checks } from './Checks';
import { saySettings } from './FormatPart';
import { PostsOf, PostTo } from './Posting';
import { canShare, useShare } from './share';
import { timeLeft } from './timeLeft';
import { Watch } from './Watch';

const SAYS = {
  waiting: 'Waiting its turn',
  rendering: 'Exporting',
  paused: 'Paused',
  done: 'Ready',
  failed: 'Stopped',
  cancelled: 'Cancelled',
} as const;

/** Takes an export off the list; its file stays until its room is wanted, so that this can be taken back. */
async function remove(delivery: Delivery): Promise<void> {
  const { id } = delivery;
  takeOut(deliveriesOf(delivery.piece), id);
  await call('deleteDelivery', { params: { id } }).catch((error: Error) => {
    putInto(deliveriesOf(delivery.piece), delivery);
    sayWhy(error);
  });
  const back = () => void call('restoreDelivery', { params: { id } }).then((d) => putInto(deliveriesOf(d.piece), d), sayWhy);
  say('The export is deleted.', { label: 'Undo', run: back });
}

/** How many of a list of exports wait before one of them. */
export function waitBefore(all: readonly Delivery[], { id, status, rank, createdAt }: Delivery): number {
  if (status !== 'waiting') return 0;
  return all.filter(
    (one) => one.id !== id && one.status === 'waiting' && (one.rank < rank || (one.rank === rank && one.createdAt < createdAt)),
  ).length;
}

/** The name of an export's row in the document. */
export const rowId = (delivery: string): string => `export-${delivery}`;

/** One export: how far it is, or what came of it. @param revision of the piece as it is now @param before how many wait before it */
export function DeliveryRow({ delivery, revision, before }: { delivery: Delivery; revision: number; before: number }) {
  const router = useRouter();
  const [watching, setWatching] = useState(false);
  const [posting, setPosting] = useState(false);
  const { data: platforms = [] } = usePlatforms();
  const { id, status, progress, secondsLeft, segments, segmentsKept, settings, checks, fileName, captions } = delivery;
  const going = status === 'waiting' || status === 'rendering';
  const { mime } = FILES[settings.file];
  const fetched = async () => (await fetch(addressOf('deliveryFile', { id }))).blob();
  const { share, busy } = useShare(fileName, delivery.pieceName, fetched, mime);
  const put = (d: Delivery) => putInto(deliveriesOf(d.piece), d);
  const ask = (what: 'cancelDelivery' | 'pauseDelivery' | 'resumeDelivery' | 'firstDelivery') => () =>
    void call(what, { params: { id } }).then(put).catch(sayWhy);
  const again = () =>
    void saved()
      .then(() => call('newDelivery', { body: { piece: delivery.piece, settings } }))
      .then(put)
      .catch(sayWhy);
  const openAsSent = () =>
    void call('pieceOfDelivery', { params: { id } })
      .then((piece) => {
        putInto(KEYS.pieces, piece);
        router.replace({ pathname: '/piece/[id]', params: { id: piece.id } });
      })
      .catch(sayWhy);
  return (
    // Brought into sight it has room below for what is said of it when it is made.
    <View nativeID={rowId(id)} testID={`delivery-${status}`} className="scroll-mb-24 gap-2 rounded-2xl border border-hairline px-4 py-3">
      <View className="flex-row items-baseline justify-between gap-2">
        <Text kind="label" className="min-w-0 shrink">
          {SAYS[status]}
          {before > 0 ? `, ${before} before it` : ''}
          {settings.format ? ` · ${settings.format.name}${settings.part === null ? '' : `, part ${settings.part + 1}`}` : ''}
        </Text>
        <Text kind="small">{formatDistanceToNow(new Date(delivery.createdAt), { addSuffix: true })}</Text>
      </View>
      {going ? <Progress value={progress} label="Export" /> : null}
      <Text kind="small" className="font-mono leading-[16px]">
        {going
          ? `${Math.floor(progress * 100)} %${secondsLeft === null ? '' : ` · ${timeLeft(secondsLeft)}`}${segmentsKept > 0 ? ` · ${segmentsKept} of ${segments} parts kept from before` : ''}`
          : status === 'done'
            ? `${fileName} · ${size(delivery.size ?? 0)}`
            : (delivery.error ?? 'What was rendered is kept.')}
      </Text>
      {status === 'done' ? (
        <>
          <Text kind="small" className="font-mono leading-[16px]">
            {saySettings(settings)}
          </Text>
          {checks ? <Checks checks={checks} /> : null}
        </>
      ) : null}
      {going ? (
        <>
          <View className="flex-row flex-wrap gap-2">
            {before > 0 ? <Button label="Make it next" onPress={ask('firstDelivery')} testID="export-first" /> : null}
            <Button label="Pause" onPress={ask('pauseDelivery')} testID="pause-export" />
            <Button label="Cancel" kind="quiet" onPress={ask('cancelDelivery')} testID="cancel-export" />
          </View>
          <Text kind="small">It goes on when you close this page.</Text>
        </>
      ) : (
        <View className="flex-row flex-wrap gap-2">
          {status === 'done' ? (
            <Button
              label="Download"
              icon={Download}
              onPress={() => saveFrom(addressOf('deliveryFile', { id }), fileName)}
              testID="download"
            />
          ) : null}
          {status === 'done' && canShare(fileName, mime) ? (
            <Button label={busy ? 'Fetching …' : 'Share'} icon={Share} disabled={busy} onPress={share} testID="share" />
          ) : null}
          {captions > 0 ? (
            <CaptionButtons
              onSave={(kind, named) => saveFrom(addressOf('deliveryCaptions', { id, kind }), named(fileName))}
              testID="captions"
            />
          ) : null}
          {status === 'done' && platforms.length > 0 && isSeen(settings.file) ? (
            <Button label={posting ? 'Not now' : 'Post'} icon={Send} onPress={() => setPosting(!posting)} testID="post-export" />
          ) : null}
          {status === 'done' ? (
            <>
              <Button label={watching ? 'Close' : 'Watch'} onPress={() => setWatching(!watching)} testID="watch-export" />
              {delivery.revision < revision ? (
                <Button label="Again as it is now" kind="quiet" onPress={again} testID="export-again" />
              ) : null}
              <Button label="Open as it was sent" kind="quiet" onPress={openAsSent} testID="open-as-sent" />
            </>
          ) : (
            <Button label={status === 'paused' ? 'Go on' : 'Try again'} onPress={ask('resumeDelivery')} testID="resume-export" />
          )}
          <Button label="Delete" kind="quiet" onPress={() => void remove(delivery)} testID="delete-export" />
        </View>
      )}
      {watching ? <Watch delivery={delivery} /> : null}
      {posting ? <PostTo delivery={delivery} platforms={platforms} /> : null}
      <PostsOf delivery={delivery} />
    </View>
  );
}
