import { TEXT_MOST } from '@flimzy/core/properties';
import { useEffect, useRef, useState, type Ref } from 'react';
import { TextInput } from 'react-native';
import { useDebouncedCallback } from 'use-debounce';

/** How long after the last letter the words are kept, in ms; they are seen at once. */
const REST = 900;

interface WordsFieldProps {
  text: string;
  label?: string;
  placeholder?: string;
  testID?: string;
  inputRef?: Ref<TextInput>;
  /** The part is new: its words are chosen, so that typing replaces them. */
  fresh?: boolean;
  onLook: (text: string) => void;
  onKeep: (text: string) => void;
  onFocus?: () => void;
  /** What Enter does; missing: it begins a line. With Shift it always does. */
  onEnter?: () => void;
}

/** The words of a title: seen on the picture at every letter, kept when the typing rests or goes elsewhere. */
export function WordsField({
  text,
  label = 'Words',
  placeholder = 'Write here',
  testID = 'title-words',
  inputRef,
  fresh = false,
  onLook,
  onKeep,
  onFocus,
  onEnter,
}: WordsFieldProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const latest = useRef({ typed, onKeep, text });
  useEffect(() => {
    latest.current = { typed, onKeep, text };
  });
  const keep = () => {
    const { typed: words, onKeep: say, text: was } = latest.current;
    if (words !== null && words !== was) say(words);
    setTyped(null);
  };
  const soon = useDebouncedCallback(keep, REST);
  useEffect(
    () => () => {
      const { typed: words, onKeep: say, text: was } = latest.current;
      if (words !== null && words !== was) say(words);
    },
    [],
  );
  const now = () => {
    soon.cancel();
    keep();
  };
  return (
    <TextInput
      ref={inputRef}
      accessibilityLabel={label}
      testID={testID}
      multiline
      numberOfLines={2}
      maxLength={TEXT_MOST}
      value={typed ?? text}
      placeholder={placeholder}
      placeholderTextColor="var(--c-muted)"
      autoFocus={fresh}
      selectTextOnFocus={fresh}
      onFocus={onFocus}
      onChangeText={(words) => {
        setTyped(words);
        onLook(words);
        soon();
      }}
      onKeyPress={(event) => {
        const { key } = event.nativeEvent;
        if (!onEnter || key !== 'Enter' || ('shiftKey' in event.nativeEvent && event.nativeEvent.shiftKey)) return;
        event.preventDefault();
        now();
        onEnter();
      }}
      onBlur={now}
      className="min-h-[60px] rounded-xl border border-hairline bg-ground px-4 py-2.5 font-text text-[16px] text-ink"
    />
  );
}
