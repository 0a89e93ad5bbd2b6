import { aboutOf, pieceLength, type Piece } from '@flimzy/core/piece';
import { lastShown } from '@flimzy/core/frame';
import { formatTimecode, toGridBelow } from '@flimzy/core/time';
import { useEffect, useState } from 'react';
import { View } from 'react-native';
import { Button } from '../look/Button';
import { TextField } from '../look/Field';
import { Text } from '../look/Text';
import { edit, useEditor } from '../open/editor';
import { Still } from '../preview/Still';

/** Tags as they are typed: apart by spaces, commas or lines, with or without the sign before them. */
export const typedTags = (text: string): string[] => [
  ...new Set(
    text
      .split(/[\s,;#]+/)
      .map((tag) => tag.slice(0, 40))
      .filter(Boolean),
  ),
];

const TAGS_MOST = 30;

/** What is said of the piece where it is posted, and the picture it has in the list: kept with the piece. */
export function AboutPart({ piece }: { piece: Piece }) {
  const about = aboutOf(piece);
  const tags = about.tags.map((tag) => `#${tag}`).join(' ');
  const playhead = useEditor((s) => s.playhead);
  const poster = piece.poster ?? toGridBelow(pieceLength(piece) / 3, piece.format.rate);
  const ratio = piece.format.width / piece.format.height;
  return (
    <View className="gap-3" testID="about">
      <Text kind="heading" accessibilityRole="header">
        What is said of it
      </Text>
      <Words
        label="Title"
        testID="about-title"
        value={piece.about?.title ?? ''}
        placeholder={piece.name}
        onSubmit={(title) => edit('describe', { title: title.slice(0, 200) })}
      />
      <Words
        label="Description"
        testID="about-description"
        lines={3}
        value={about.description}
        onSubmit={(description) => edit('describe', { description: description.slice(0, 5000) })}
      />
      <Words
        label="Tags"
        testID="about-tags"
        value={tags}
        placeholder="#kite #wind"
        onSubmit={(text) => edit('describe', { tags: typedTags(text).slice(0, TAGS_MOST) })}
      />
      <View className="flex-row items-center gap-3">
        <Still
          piece={piece}
          time={lastShown(piece, poster)}
          width={Math.round(ratio >= 1 ? 96 : 96 * Math.max(0.6, ratio))}
          label="The picture of the piece"
          testID="poster-still"
        />
        <View className="min-w-0 flex-1 items-start gap-1">
          <Text kind="label">Its picture</Text>
          <Text kind="small" className="font-mono">
            {formatTimecode(lastShown(piece, poster), piece.format.rate)}
            {piece.poster === undefined ? ' · a third in' : ''}
          </Text>
          <View className="flex-row flex-wrap gap-2">
            <Button
              label="Take the playhead’s"
              onPress={() => edit('setPoster', { time: toGridBelow(lastShown(piece, playhead), piece.format.rate) })}
              testID="set-poster"
            />
            {piece.poster === undefined ? null : (
              <Button label="As it was" kind="quiet" onPress={() => edit('setPoster', { time: null })} testID="plain-poster" />
            )}
          </View>
        </View>
      </View>
    </View>
  );
}

/** Words that are kept when the field is left. */
function Words({
  value,
  onSubmit,
  ...field
}: {
  label: string;
  testID: string;
  value: string;
  lines?: number;
  placeholder?: string;
  onSubmit: (text: string) => void;
}) {
  const [typed, setTyped] = useState(value);
  useEffect(() => setTyped(value), [value]);
  return <TextField {...field} value={typed} onChange={setTyped} onLeave={() => typed.trim() !== value && onSubmit(typed.trim())} />;
}
