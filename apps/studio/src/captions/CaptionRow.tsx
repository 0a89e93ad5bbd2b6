import { clipEnd, type Clip, type Piece } from '@flimzy/core/piece';
import { partsOf, readingTime } from '@flimzy/core/properties';
import { formatTimecode, fromSeconds } from '@flimzy/core/time';
import Play from 'lucide-react-native/icons/play';
import Trash from 'lucide-react-native/icons/trash';
import { useRef, useState } from 'react';
import { Pressable, TextInput, View } from 'react-native';
import { Button } from '../look/Button';
import { Text } from '../look/Text';
import { edit, moveTo, select } from '../open/editor';
import { setTitle } from '../open/titles';
import { hear } from './hear';
import { UNWRITTEN } from './captioning';

/** What a caption says. */
export const wordsOf = (clip: Clip): string =>
  partsOf(clip.overlay ?? 'none')
    .flatMap((part) => (part.kind === 'text' ? [part.text] : []))
    .join('\n');

/** Gives a caption other words; its look stays. */
function setWords(clip: Clip, text: string): void {
  const { overlay } = clip;
  if (!overlay || overlay === 'none' || text === wordsOf(clip)) return;
  if (text.trim() === '') return void edit('remove', { clips: [clip.id], rest: 'leave' });
  const first = overlay.parts.findIndex((part) => part.kind === 'text');
  const parts = overlay.parts.map((part, n) => (n === first && part.kind === 'text' ? { ...part, text } : part));
  setTitle(clip, { overlay: { parts: parts.filter((part, n) => n === first || part.kind !== 'text') } });
}

interface RowProps {
  piece: Piece;
  clip: Clip;
  /** It is there at the playhead. */
  here: boolean;
  /** Goes on to the next one. */
  onNext: () => void;
  /** Hands over how it is typed into. */
  register: (id: string, input: TextInput | null) => void;
}

/** One caption: when, what is heard then, its words. */
export function CaptionRow({ piece, clip, here, onNext, register }: RowProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const latest = useRef<string | null>(null);
  const words = wordsOf(clip);
  const keep = () => {
    const text = latest.current;
    latest.current = null;
    setTyped(null);
    if (text !== null) setWords(clip, text.trimEnd());
  };
  const brief = clip.length < fromSeconds(readingTime(clip.overlay ?? 'none', true));
  const time = formatTimecode(clip.start, piece.format.rate);
  return (
    <View testID="caption" className={`border-b border-hairline py-1.5 ${here ? 'bg-raised' : ''}`}>
      <View className="flex-row items-center gap-1">
        <Pressable
          accessibilityRole="button"
          accessibilityLabel={`Go to the caption at ${time}`}
          className="min-h-[44px] justify-center pl-1"
          onPress={() => {
            moveTo(clip.start);
            select(clip.id);
          }}
        >
          <Text kind="figure">{time}</Text>
          <Text kind="small" className={`font-mono ${brief ? 'text-warn' : ''}`}>
            {formatTimecode(clipEnd(clip) - clip.start, piece.format.rate)}
            {brief ? ' brief' : ''}
          </Text>
        </Pressable>
        <TextInput
          ref={(input) => register(clip.id, input)}
          accessibilityLabel={`Words at ${time}`}
          testID="caption-words"
          multiline
          numberOfLines={2}
          maxLength={1000}
          value={typed ?? (words === UNWRITTEN ? '' : words)}
          placeholder="What is said"
          placeholderTextColor="var(--c-muted)"
          onFocus={() => {
            moveTo(clip.start);
            select(clip.id);
          }}
          onChangeText={(text) => {
            latest.current = text;
            setTyped(text);
          }}
          onKeyPress={(event) => {
            const { key } = event.nativeEvent;
            if (key !== 'Enter' || ('shiftKey' in event.nativeEvent && event.nativeEvent.shiftKey)) return;
            event.preventDefault();
            keep();
            onNext();
          }}
          onBlur={keep}
          className="min-h-[52px] min-w-0 flex-1 rounded-xl border border-hairline bg-ground px-3 py-1.5 font-text text-[16px] leading-[20px] text-ink"
        />
      </View>
      {here ? (
        <View className="flex-row gap-2 pt-1.5">
          <Button label="Hear it" icon={Play} kind="quiet" onPress={() => hear(clip)} testID="caption-hear" />
          <Button
            label="Remove"
            icon={Trash}
            kind="quiet"
            onPress={() => edit('remove', { clips: [clip.id], rest: 'leave' })}
            testID="caption-remove"
          />
        </View>
      ) : null}
    </View>
  );
}
