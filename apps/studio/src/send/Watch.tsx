import type { Delivery } from '@flimzy/contract';
import { asSent, FILES, isSeen } from '@flimzy/core/deliver';
import { pieceLength } from '@flimzy/core/piece';
import { fromSeconds, toGridBelow } from '@flimzy/core/time';
import { formatDistanceToNow } from 'date-fns/formatDistanceToNow';
import { useMemo, useRef, useState, type RefObject } from 'react';
import { View } from 'react-native';
import { addressOf } from '../api/address';
import { useDeliveries } from '../api/queries';
import { Choice } from '../look/Choice';
import { Text } from '../look/Text';
import { useWhole } from '../open/editor';
import { Still } from '../preview/Still';
import { partStart } from './wishes';
import { boxOf } from './useChecked';

const TALL = 260;

/** How far two files may stand apart before one is moved, in seconds: less than what is heard as an echo, more than what players are off by. */
const APART = 0.08;

/** What a finished export is compared with: the piece as it is now, or another export by its id. */
const PIECE = 'piece';

const isMoving = ({ settings }: Delivery) => isSeen(settings.file) && FILES[settings.file].picture.length > 0;

/** How a picture of a size is shown beside another. */
function shown({ settings: { size } }: Delivery) {
  const { width: w, height: h } = size ?? { width: 1, height: 1 };
  const width = Math.round(Math.min(TALL * (w / h), 150));
  return { width, height: Math.round((width * h) / w), display: 'block', borderRadius: 10, background: '#000' } as const;
}

/** A finished export as any player shows it, beside the piece as it is now at the same moment, or beside another export. */
export function Watch({ delivery }: { delivery: Delivery }) {
  const piece = useWhole();
  const [time, setTime] = useState(0);
  const [beside, setBeside] = useState(PIECE);
  const video = useRef<HTMLVideoElement>(null);
  const other = useRef<HTMLVideoElement>(null);
  const { data: all = [] } = useDeliveries(delivery.piece);
  const { settings, id } = delivery;
  const sent = useMemo(() => piece && settings.size && asSent(piece, settings, boxOf), [piece, settings]);
  const src = addressOf('deliveryFile', { id });
  if (!settings.size || !isSeen(settings.file)) return <audio controls src={src} style={{ width: '100%' }} data-testid="watched" />;
  const style = shown(delivery);
  const moving = isMoving(delivery);
  const others = moving ? all.filter((one) => one.id !== id && one.status === 'done' && isMoving(one)) : [];
  const compared = others.find((one) => one.id === beside);
  const from = piece ? partStart(piece, settings) : 0;
  const now = piece ? Math.min(Math.max(0, pieceLength(piece) - 1), from + toGridBelow(fromSeconds(time), piece.format.rate)) : 0;
  const follow = () => {
    setTime(video.current?.currentTime ?? 0);
    inStep(video, other);
  };
  return (
    <View className="gap-3">
      {others.length > 0 ? (
        <Choice
          label="Compare with"
          value={compared ? beside : PIECE}
          onChange={setBeside}
          options={[{ id: PIECE, name: 'The piece now' }, ...others.map((one) => ({ id: one.id, name: called(one) }))]}
        />
      ) : null}
      <View className="flex-row flex-wrap gap-3">
        <View className="gap-1">
          <Text kind="small">The file</Text>
          {moving ? (
            <video
              ref={video}
              controls
              playsInline
              src={src}
              style={style}
              data-testid="watched"
              onTimeUpdate={follow}
              onSeeked={follow}
              onPlay={follow}
              onPause={follow}
            />
          ) : (
            <img src={src} alt={`The export ${delivery.fileName}`} style={style} data-testid="watched" />
          )}
        </View>
        {compared ? (
          <View className="gap-1">
            <Text kind="small">{called(compared)}</Text>
            <video
              ref={other}
              muted
              playsInline
              src={addressOf('deliveryFile', { id: compared.id })}
              style={shown(compared)}
              data-testid="watched-beside"
              onLoadedMetadata={follow}
            />
          </View>
        ) : moving && sent ? (
          <View className="gap-1">
            <Text kind="small">The piece now</Text>
            <Still piece={sent} time={now} width={style.width} label="The piece as it is now" testID="watched-now" />
          </View>
        ) : null}
      </View>
    </View>
  );
}

/** An export among others of its piece: what it was made for, and when. */
function called({ settings: { format, part }, createdAt }: Delivery): string {
  const what = format ? `${format.name}${part === null ? '' : `, part ${part + 1}`}` : 'As it is';
  return `${what}, ${formatDistanceToNow(new Date(createdAt), { addSuffix: true })}`;
}

/** Brings the file that is compared to where the watched one is, and lets it run while that runs; it makes no sound. */
function inStep(video: RefObject<HTMLVideoElement | null>, other: RefObject<HTMLVideoElement | null>): void {
  const [one, two] = [video.current, other.current];
  if (!one || !two) return;
  if (Math.abs(one.currentTime - two.currentTime) > (one.paused ? 0 : APART)) two.currentTime = one.currentTime;
  if (one.paused) two.pause();
  else void two.play().catch(() => undefined); // taken away while it begins
}
