import { clipEnd, UNWRITTEN, type Clip, type Piece } from '@flimzy/core/piece';
import { partsOf, readingTime, type Overlay } from '@flimzy/core/properties';
import { formatTimecode, fromSeconds } from '@flimzy/core/time';
import Play from 'lucide-react-native/icons/play';
import Trash from 'lucide-react-native/icons/trash';
import { Pressable, View, type TextInput } from 'react-native';
import { Button } from '../look/Button';
import { Text } from '../look/Text';
import { edit, moveTo, select } from '../open/editor';
import { setTitle, tryTitle } from '../open/titles';
import { WordsField } from '../titles/WordsField';
import { hear } from './hear';

/** What a caption says. */
const wordsOf = (clip: Clip): string =>
  partsOf(clip.overlay ?? 'none')
    .flatMap((part) => (part.kind === 'text' ? [part.text] : []))
    .join('\n');

/** A caption with other words, all of them in its first text; without any it stays where it is, unwritten. */
function withWords(clip: Clip, text: string): { overlay: Overlay } {
  const parts = partsOf(clip.overlay ?? 'none');
  const first = parts.findIndex((part) => part.kind === 'text');
  const words = text.trim() === '' ? UNWRITTEN : text.trimEnd();
  const written = parts.map((part, n) => (n === first && part.kind === 'text' ? { ...part, text: words } : part));
  return { overlay: { parts: written.filter((part, n) => n === first || part.kind !== 'text') } };
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

/** One caption: when, its words, what is heard then. */
export function CaptionRow({ piece, clip, here, onNext, register }: RowProps) {
  const words = wordsOf(clip);
  const brief = clip.length < fromSeconds(readingTime(clip.overlay ?? 'none', true));
  const time = formatTimecode(clip.start, piece.format.rate);
  const go = () => {
    moveTo(clip.start);
    select(clip.id);
  };
  return (
    <View testID="caption" className={`border-b border-hairline py-1.5 ${here ? 'bg-raised' : ''}`}>
      <View className="flex-row items-center gap-1">
        <Pressable
          accessibilityRole="button"
          accessibilityLabel={`Go to the caption at ${time}`}
          className="min-h-[44px] justify-center pl-1"
          onPress={go}
        >
          <Text kind="figure">{time}</Text>
          <Text kind="small" className={`font-mono ${brief ? 'text-warn' : ''}`}>
            {formatTimecode(clipEnd(clip) - clip.start, piece.format.rate)}
            {brief ? ' brief' : ''}
          </Text>
        </Pressable>
        <View className="min-w-0 flex-1">
          <WordsField
            text={words === UNWRITTEN ? '' : words}
            label={`Words at ${time}`}
            placeholder="What is said"
            testID="caption-words"
            inputRef={(input) => register(clip.id, input)}
            onLook={(text) => tryTitle(clip, withWords(clip, text))}
            onKeep={(text) => setTitle(clip, withWords(clip, text))}
            onFocus={go}
            onEnter={onNext}
          />
        </View>
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
