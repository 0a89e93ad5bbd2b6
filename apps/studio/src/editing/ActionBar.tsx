import { findClip, type Piece } from '@flimzy/core/piece';
import Frame from 'lucide-react-native/icons/frame';
import Link2 from 'lucide-react-native/icons/link-2';
import Link2Off from 'lucide-react-native/icons/link-2-off';
import ListChecks from 'lucide-react-native/icons/list-checks';
import MoreHorizontal from 'lucide-react-native/icons/ellipsis';
import Plus from 'lucide-react-native/icons/plus';
import Dot from 'lucide-react-native/icons/circle-dot';
import { ScrollView, View } from 'react-native';
import { IconButton } from '../look/Button';
import { Text } from '../look/Text';
import { actionOf } from './actions';
import { edit, select, useEditor, useSettledPiece } from './editor';
import { openPanel } from './panels';
import { stretchOf } from './situation';

/** The few actions that each thing offers within the thumb's reach; the rest is one touch further, under More. */
const OFFERED = {
  nothing: ['split', 'in', 'mark', 'seam', 'zoom-out', 'zoom-in'],
  clip: ['split', 'delete-close', 'delete-leave', 'seam'],
  nest: ['open-nest', 'split', 'delete-close', 'delete-leave'],
  several: ['delete-close', 'delete-leave', 'swap', 'link', 'nest', 'copy'],
  stretch: ['take-out', 'lift', 'keep', 'copy-stretch', 'out', 'no-stretch'],
} as const;

function offered(piece: Piece, selected: readonly string[], stretch: boolean): readonly string[] {
  if (selected.length > 1) return OFFERED.several.filter((id) => id !== 'swap' || selected.length === 2);
  if (selected.length === 1) return piece.nests?.[findClip(piece, selected[0] ?? '')?.clip.media ?? ''] ? OFFERED.nest : OFFERED.clip;
  return stretch ? OFFERED.stretch : OFFERED.nothing;
}

/** What can be done with what is touched. */
export function ActionBar({ onAdd }: { onAdd: (() => void) | null }) {
  const piece = useSettledPiece();
  const selected = useEditor((s) => s.selected);
  const gathering = useEditor((s) => s.gathering);
  const markIn = useEditor((s) => s.markIn);
  const markOut = useEditor((s) => s.markOut);
  if (!piece) return null;
  const stretch = stretchOf({ markIn, markOut }) !== null;
  const one = selected.length === 1 ? findClip(piece, selected[0] ?? '') : null;
  const item = 'w-[58px]';
  return (
    <View testID="actions" accessibilityRole="toolbar" className="border-t border-hairline bg-panel pb-2 pt-1.5">
      {selected.length > 1 || gathering ? (
        <View className="flex-row items-center justify-between px-3 pb-1">
          <Text kind="small">{selected.length === 0 ? 'Touch clips to select them' : `${selected.length} selected`}</Text>
          {gathering ? <Text kind="small">Touches add; hold empty ground and drag for a box</Text> : null}
        </View>
      ) : null}
      <View className="flex-row px-1">
        {selected.length === 0 && onAdd ? (
          <View className={item}>
            <IconButton icon={Plus} label="Add from the shelf" caption="Add" onPress={onAdd} testID="add" />
          </View>
        ) : null}
        <ScrollView horizontal showsHorizontalScrollIndicator={false} className="flex-1" contentContainerClassName="grow justify-evenly">
          {offered(piece, selected, stretch).map((id) => {
            const { icon = Dot, words, caption, run } = actionOf(id);
            return (
              <View key={id} className={item}>
                <IconButton icon={icon} label={words} caption={caption} onPress={run} testID={id} />
              </View>
            );
          })}
          {one ? <RestButton /> : null}
          {one ? <FitButton piece={piece} id={one.clip.id} /> : null}
        </ScrollView>
        {selected.length > 0 ? (
          <View className={item}>
            <IconButton
              icon={ListChecks}
              label={gathering ? 'Done selecting' : 'Select several: touches add to the selection'}
              caption={gathering ? 'Done' : 'Several'}
              active={gathering}
              onPress={() => (gathering ? select(null) : actionOf('gather').run())}
              testID="gather"
            />
          </View>
        ) : null}
        <View className={item}>
          <IconButton icon={MoreHorizontal} label="More" caption="More" onPress={() => openPanel({ name: 'more' })} testID="more" />
        </View>
      </View>
    </View>
  );
}

function RestButton() {
  const rest = useEditor((s) => s.rest);
  const follows = rest === 'follow';
  return (
    <View className="w-[66px]">
      <IconButton
        icon={follows ? Link2 : Link2Off}
        label={
          follows
            ? 'When an end is pulled, the rest follows. Touch so that it stays'
            : 'When an end is pulled, the rest stays. Touch so that it follows'
        }
        caption={follows ? 'Rest follows' : 'Rest stays'}
        onPress={() => useEditor.setState({ rest: follows ? 'stay' : 'follow' })}
        testID="rest"
      />
    </View>
  );
}

function FitButton({ piece, id }: { piece: Piece; id: string }) {
  const found = findClip(piece, id);
  const media = found ? piece.media[found.clip.media] : undefined;
  if (!found || found.track.kind !== 'picture' || !media || media.width === 0 || media.kind === 'nest') return null;
  if (media.width * piece.format.height === media.height * piece.format.width) return null;
  const fills = found.clip.fit === 'fill';
  return (
    <View className="w-[66px]">
      <IconButton
        icon={Frame}
        label={fills ? 'Show the whole picture' : 'Fill the frame'}
        caption={fills ? 'Fit' : 'Fill'}
        onPress={() => edit('set', { clips: [id], values: { fit: fills ? 'fit' : 'fill', backdrop: found.clip.backdrop } })}
        testID="fit"
      />
    </View>
  );
}
