import type { PieceSummary } from '@flimzy/contract';
import { shapeOf } from '@flimzy/core/piece';
import { formatTimecode, rateName } from '@flimzy/core/time';
import { formatDistanceToNow } from 'date-fns/formatDistanceToNow';
import Ellipsis from 'lucide-react-native/icons/ellipsis-vertical';
import { Pressable, View } from 'react-native';
import { addressOf } from '../api/address';
import { IconButton } from '../look/Button';
import { Text } from '../look/Text';

/** On a dark ground in both looks. */
const ON_PICTURE = { color: '#efece4' } as const;

/** One piece in the list: poster in its own shape, name, length, shape, last change. */
export function PieceTile({
  piece,
  width,
  onOpen,
  onMore,
}: {
  piece: PieceSummary;
  width: number;
  onOpen: () => void;
  onMore: () => void;
}) {
  const shape = shapeOf(piece.format);
  const box = Math.round(width * 1.12);
  const scale = Math.min(width / piece.format.width, box / piece.format.height);
  const size = { width: Math.round(piece.format.width * scale), height: Math.round(piece.format.height * scale) };
  const poster = piece.clips > 0 ? `${addressOf('piecePoster', { id: piece.id })}?r=${piece.revision}` : null;
  return (
    <View style={{ width }} testID={`piece-${piece.id}`}>
      <Pressable accessibilityRole="link" accessibilityLabel={`Open ${piece.name}`} onPress={onOpen} className="active:opacity-85">
        <View className="items-center justify-end" style={{ width, height: box }}>
          <View className="overflow-hidden rounded-2xl bg-raised" style={size}>
            {poster ? (
              <img src={poster} alt="" draggable={false} style={{ width: '100%', height: '100%', objectFit: 'cover', display: 'block' }} />
            ) : (
              <View className="flex-1 items-center justify-center">
                <Text kind="small">empty</Text>
              </View>
            )}
            <View className="absolute bottom-2 right-2 rounded-md bg-black/70 px-1.5 py-0.5">
              <Text kind="small" className="font-mono" style={ON_PICTURE}>
                {formatTimecode(piece.length, piece.format.rate)}
              </Text>
            </View>
          </View>
        </View>
        <View className="gap-0.5 pr-11 pt-2">
          <Text kind="heading" numberOfLines={1}>
            {piece.name}
          </Text>
          <Text kind="small" numberOfLines={1}>
            {shape ? `${shape.name} ${shape.ratio}` : `${piece.format.width} × ${piece.format.height}`} · {rateName(piece.format.rate)} fps
          </Text>
          <Text kind="small" numberOfLines={1}>
            {formatDistanceToNow(new Date(piece.changedAt), { addSuffix: true })}
          </Text>
        </View>
      </Pressable>
      <View className="absolute right-0" style={{ top: box + 8 }}>
        <IconButton label={`More for ${piece.name}`} icon={Ellipsis} onPress={onMore} size={18} />
      </View>
    </View>
  );
}
