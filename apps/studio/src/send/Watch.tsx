import type { Delivery } from '@flimzy/contract';
import { asSent, FILES, isSeen } from '@flimzy/core/deliver';
import { pieceLength } from '@flimzy/core/piece';
import { fromSeconds, toGridBelow } from '@flimzy/core/time';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { addressOf } from '../api/client';
import { Text } from '../look/Text';
import { useWhole } from '../open/editor';
import { Still } from '../preview/Still';
import { partStart } from './wishes';
import { boxOf } from './useChecked';

const TALL = 260;

/** A finished export as any player shows it, beside the piece as it is now at the same moment. */
export function Watch({ delivery }: { delivery: Delivery }) {
  const piece = useWhole();
  const [time, setTime] = useState(0);
  const { settings, id } = delivery;
  const sent = useMemo(() => piece && settings.size && asSent(piece, settings, boxOf), [piece, settings]);
  const src = addressOf('deliveryFile', { id });
  const { size, file } = settings;
  if (!size || !isSeen(file)) return <audio controls src={src} style={{ width: '100%' }} data-testid="watched" />;
  const width = Math.round(Math.min(TALL * (size.width / size.height), 150));
  const style = {
    width,
    height: Math.round((width * size.height) / size.width),
    display: 'block',
    borderRadius: 10,
    background: '#000',
  } as const;
  const moving = FILES[file].picture.length > 0;
  const from = piece ? partStart(piece, settings) : 0;
  const now = piece ? Math.min(Math.max(0, pieceLength(piece) - 1), from + toGridBelow(fromSeconds(time), piece.format.rate)) : 0;
  return (
    <View className="flex-row flex-wrap gap-3">
      <View className="gap-1">
        <Text kind="small">The file</Text>
        {moving ? (
          <video
            controls
            playsInline
            src={src}
            style={style}
            data-testid="watched"
            onTimeUpdate={(event) => setTime(event.currentTarget.currentTime)}
            onSeeked={(event) => setTime(event.currentTarget.currentTime)}
          />
        ) : (
          <img src={src} alt={`The export ${delivery.fileName}`} style={style} data-testid="watched" />
        )}
      </View>
      {moving && sent ? (
        <View className="gap-1">
          <Text kind="small">The piece now</Text>
          <Still piece={sent} time={now} width={width} label="The piece as it is now" testID="watched-now" />
        </View>
      ) : null}
    </View>
  );
}
