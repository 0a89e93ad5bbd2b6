import { emojiOf, stickerOf } from '@flimzy/core/frame';
import { SHAPE_NAMES, ShapeId, type Motion, type Overlay } from '@flimzy/core/properties';
import { fromSeconds } from '@flimzy/core/time';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { Button } from '../look/Button';
import { Dock } from '../look/Dock';
import { TextField } from '../look/Field';
import { Text } from '../look/Text';
import { useFormat } from '../open/editor';
import { closePanel, usePanel } from '../open/panels';
import { addOverlay } from '../open/titles';
import { ShapeIcon } from './ShapeLooks';
import { TitleThumb } from './TitleThumb';

const POP: Motion = { kind: 'grow', length: fromSeconds(0.35), by: 'whole', direction: 'up' };
const AWAY: Motion = { kind: 'fade', length: fromSeconds(0.2), by: 'whole', direction: 'up' };

/** Emoji that are often wanted in a short piece. */
const EMOJI = ['😂', '😍', '🤯', '👏', '🔥', '✨', '🎉', '💯', '🪁', '💨', '☀️', '🌧️', '✂️', '📏', '👀', '❓'] as const;

const put = (overlay: Overlay) => addOverlay({ overlay, motionIn: POP, motionOut: AWAY });

/** What can be put over the picture: the drawn set, and emoji. */
export function StickersPanel() {
  const open = usePanel((s) => s.panel?.name === 'stickers');
  const format = useFormat();
  const [own, setOwn] = useState('');
  if (!open || !format) return null;
  return (
    <Dock title="Stickers" onClose={closePanel} testID="stickers-panel">
      <View className="gap-4">
        <View className="flex-row flex-wrap gap-1.5">
          {ShapeId.options.map((shape) => (
            <Pressable
              key={shape}
              accessibilityRole="button"
              accessibilityLabel={SHAPE_NAMES[shape]}
              onPress={() => put(stickerOf(shape))}
              testID={`sticker-${shape}`}
              className="h-14 w-14 items-center justify-center rounded-2xl bg-raised active:bg-hairline"
            >
              <ShapeIcon shape={shape} size={34} colour="var(--c-ink)" />
            </Pressable>
          ))}
        </View>
        <View className="flex-row flex-wrap gap-1.5">
          {EMOJI.map((emoji) => (
            <Pressable
              key={emoji}
              accessibilityRole="button"
              accessibilityLabel={`Emoji ${emoji}`}
              onPress={() => put(emojiOf(emoji))}
              testID={`emoji-${emoji}`}
              className="h-14 w-14 items-center justify-center rounded-2xl bg-raised active:bg-hairline"
            >
              <TitleThumb overlay={emojiOf(emoji)} format={{ width: 400, height: 400 }} width={44} />
            </Pressable>
          ))}
        </View>
        <View className="flex-row items-end gap-2">
          <View className="min-w-0 flex-1">
            <TextField label="Any other emoji" value={own} onChange={setOwn} testID="own-emoji" />
          </View>
          <Button
            label="Put it there"
            disabled={own.trim() === ''}
            onPress={() => put(emojiOf(own.trim())) && setOwn('')}
            testID="put-emoji"
          />
        </View>
        <Text kind="note">Pictures of your own with something shining through come from the shelf, as photos do.</Text>
      </View>
    </Dock>
  );
}
