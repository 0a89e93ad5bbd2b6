import { isSoundOnly, type PlatformFormat } from '@flimzy/core/deliver';
import type { Piece } from '@flimzy/core/piece';
import AudioLines from 'lucide-react-native/icons/audio-lines';
import Check from 'lucide-react-native/icons/check';
import { Pressable, ScrollView, View } from 'react-native';
import { Text } from '../look/Text';
import { chosenOf } from '../open/formats';
import { toggleFormat } from './formats';
import { sayLimit } from './LengthMeter';

/** How large the outline of a shape is drawn at most. */
const BOX = 48;

/** The outline of a format's shape, with where the platform lays nothing over it. */
function Outline({ format, piece }: { format: PlatformFormat; piece: Piece }) {
  if (isSoundOnly(format))
    return (
      <View style={{ width: BOX, height: BOX }} className="items-center justify-center">
        <AudioLines size={30} color="var(--c-muted)" strokeWidth={1.6} />
      </View>
    );
  const { width, height } = format.sizes[0] ?? piece.format;
  const by = BOX / Math.max(width, height);
  const { safe } = format;
  const percent = (share: number) => `${share * 100}%` as const;
  return (
    <View style={{ width: BOX, height: BOX }} className="items-center justify-center">
      <View style={{ width: width * by, height: height * by }} className="rounded-[4px] border border-muted">
        <View
          className="absolute border border-dashed border-hairline"
          style={{ left: percent(safe.left), top: percent(safe.top), right: percent(safe.right), bottom: percent(safe.bottom) }}
        />
      </View>
    </View>
  );
}

const limitOf = ({ length, part }: PlatformFormat) =>
  part ? `parts of ${sayLimit(part)}` : length.most === null ? 'any length' : `up to ${sayLimit(length.most)}`;

/** Every format that there is, to be chosen for the piece. */
export function FormatTiles({ piece, all }: { piece: Piece; all: readonly PlatformFormat[] }) {
  const chosen = chosenOf(piece, all);
  return (
    <ScrollView horizontal showsHorizontalScrollIndicator={false} className="-mx-5" contentContainerClassName="px-5">
      <View className="flex-row gap-2" role="group" accessibilityLabel="Formats">
        {all.map((format) => {
          const on = chosen.includes(format);
          return (
            <Pressable
              key={format.id}
              accessibilityRole="checkbox"
              accessibilityLabel={`${format.name}${format.platform ? `, ${format.platform}` : ''}, ${limitOf(format)}`}
              aria-checked={on}
              onPress={() => toggleFormat(piece, format, all)}
              testID={`format-${format.id}`}
              className={`w-[108px] items-center gap-0.5 rounded-2xl border px-1.5 pb-2.5 pt-2 ${on ? 'border-paper bg-raised' : 'border-hairline active:bg-raised'}`}
            >
              <View
                className={`absolute right-1.5 top-1.5 h-5 w-5 items-center justify-center rounded-full border ${on ? 'border-paper bg-paper' : 'border-hairline'}`}
              >
                {on ? <Check size={13} color="var(--c-onpaper)" strokeWidth={3} /> : null}
              </View>
              <Outline format={format} piece={piece} />
              <Text kind="label" numberOfLines={2} className="text-center">
                {format.name}
              </Text>
              <Text kind="small" className="text-center">
                {limitOf(format)}
              </Text>
            </Pressable>
          );
        })}
      </View>
    </ScrollView>
  );
}
