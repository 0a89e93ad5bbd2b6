import { findClip, type Piece } from '@flimzy/core/piece';
import Link2Off from 'lucide-react-native/icons/link-2-off';
import ListChecks from 'lucide-react-native/icons/list-checks';
import MoreHorizontal from 'lucide-react-native/icons/ellipsis';
import Plus from 'lucide-react-native/icons/plus';
import Dot from 'lucide-react-native/icons/circle-dot';
import { useState } from 'react';
import { View } from 'react-native';
import { IconButton } from '../look/Button';
import { Text } from '../look/Text';
import { actionOf } from '../open/actions';
import { select, stretchOf, useEditor, useSettledPiece } from '../open/editor';
import { openPanel } from '../open/panels';
import { situation } from '../open/situation';

/** The few actions that each thing offers within the thumb's reach, the most used first; what there is no room for is under More. */
const OFFERED = {
  nothing: ['split', 'title', 'in', 'mark', 'seam', 'search', 'sticker', 'captions', 'narrate', 'zoom-out', 'zoom-in'],
  clip: ['split', 'delete-close', 'delete-leave', 'seam', 'rest', 'framing', 'fit', 'looks', 'speed'],
  title: ['edit-title', 'framing', 'split', 'delete-leave', 'copy', 'duplicate'],
  nest: ['open-nest', 'split', 'delete-close', 'delete-leave', 'rest'],
  several: ['delete-close', 'delete-leave', 'swap', 'copy', 'nest', 'link'],
  stretch: ['take-out', 'lift', 'keep', 'no-stretch', 'copy-stretch', 'out'],
} as const;

/** What is touched: it decides what is offered. */
function touched(piece: Piece, selected: readonly string[], stretch: boolean): keyof typeof OFFERED {
  if (selected.length > 1) return 'several';
  if (selected.length === 1) {
    const clip = findClip(piece, selected[0] ?? '')?.clip;
    if (clip?.overlay !== undefined) return 'title';
    return piece.nests?.[clip?.media ?? ''] ? 'nest' : 'clip';
  }
  return stretch ? 'stretch' : 'nothing';
}

/** The narrowest a button is with its words whole, and the widest it is spread, in pixels. */
const NARROW = 54;
const WIDE = 84;

/** What can be done with what is touched. */
export function ActionBar({ onAdd }: { onAdd: (() => void) | null }) {
  const piece = useSettledPiece();
  const selected = useEditor((s) => s.selected);
  const gathering = useEditor((s) => s.gathering);
  const markIn = useEditor((s) => s.markIn);
  const markOut = useEditor((s) => s.markOut);
  const rest = useEditor((s) => s.rest);
  const [width, setWidth] = useState(0);
  if (!piece) return null;
  const now = situation();
  const any = selected.length > 0;
  const places = Math.floor(width / NARROW) - 1 - (any || onAdd ? 1 : 0);
  const ids: readonly string[] = OFFERED[touched(piece, selected, stretchOf({ markIn, markOut }) !== null)];
  const offered = ids
    .map(actionOf)
    .filter((action) => (action.id !== 'swap' && action.id !== 'fit') || (now !== null && (action.when?.(now) ?? true)))
    .slice(0, Math.max(0, places));
  const place = { flexGrow: 1, flexBasis: 0, minWidth: NARROW, maxWidth: WIDE } as const;
  return (
    <View testID="actions" accessibilityRole="toolbar" className="border-t border-hairline bg-panel pb-2 pt-1.5">
      {selected.length > 1 || gathering ? (
        <View className="flex-row items-center justify-between px-3 pb-1">
          <Text kind="small">{selected.length === 0 ? 'Touch clips to select them' : `${selected.length} selected`}</Text>
          {gathering ? <Text kind="small">Touches add; hold empty ground and drag for a box</Text> : null}
        </View>
      ) : null}
      <View className="mx-1 flex-row justify-between" onLayout={({ nativeEvent: { layout } }) => setWidth(layout.width)}>
        {!any && onAdd ? (
          <View style={place}>
            <IconButton icon={Plus} label="Add from the shelf" caption="Add" onPress={onAdd} testID="add" />
          </View>
        ) : null}
        {offered.map(({ id, icon = Dot, words, caption, run }) => (
          <View key={id} style={place}>
            {id === 'rest' ? (
              <IconButton
                icon={rest === 'follow' ? icon : Link2Off}
                label={`When an end is pulled, the rest ${rest === 'follow' ? 'follows. Touch so that it stays' : 'stays. Touch so that it follows'}`}
                caption={rest === 'follow' ? 'Rest follows' : 'Rest stays'}
                onPress={run}
                testID={id}
              />
            ) : (
              <IconButton icon={icon} label={words} caption={caption} onPress={run} testID={id} />
            )}
          </View>
        ))}
        {any ? (
          <View style={place}>
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
        <View style={place}>
          <IconButton icon={MoreHorizontal} label="More" caption="More" onPress={() => openPanel({ name: 'more' })} testID="more" />
        </View>
      </View>
    </View>
  );
}
