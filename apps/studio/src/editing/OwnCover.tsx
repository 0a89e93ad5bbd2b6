import type { MediaItem } from '@flimzy/contract';
import { shelfOf, type MediaFacts } from '@flimzy/core/piece';
import { covers, type CoverItem } from '@flimzy/core/properties';
import { toSeconds, type Flicks } from '@flimzy/core/time';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { useMedia } from '../api/queries';
import { Button } from '../look/Button';
import { Text } from '../look/Text';
import { heightOf } from '../material/hearing';
import { useWhole } from '../open/editor';
import { openPanel } from '../open/panels';

/** How many are shown before the rest is asked for. */
const FEW = 8;

interface OwnCoverProps {
  /** What covers it now. */
  item: CoverItem | undefined;
  /** How long the cover is, in flicks. */
  length: Flicks;
  onChoose: (item: CoverItem, facts: MediaFacts) => void;
}

/** All that sounds and could cover a word: this piece's first, what is sound alone before clips, what is short before what is long. */
function useSounds(): { item: MediaItem; facts: MediaFacts }[] {
  const { data } = useMedia();
  const piece = useWhole();
  const here = new Set((piece ? shelfOf(piece) : []).map((entry) => entry.media.id));
  const rank = ({ facts }: { facts: MediaFacts }) => (facts.kind === 'sound' ? 0 : 2) + (here.has(facts.id) ? 0 : 1);
  return (data ?? [])
    .flatMap((item) => (item.usable && item.facts?.hasSound && item.facts.length >= covers.LEAST ? [{ item, facts: item.facts }] : []))
    .sort((a, b) => rank(a) - rank(b) || a.facts.length - b.facts.length);
}

/** Chooses the sound of one's own that covers a word. */
export function OwnCover({ item, length, onChoose }: OwnCoverProps) {
  const sounds = useSounds();
  const [choosing, setChoosing] = useState(item === undefined);
  const [all, setAll] = useState(false);
  const choose = async (facts: MediaFacts) => {
    onChoose({ media: facts.id, length: facts.length, height: await heightOf(facts, length) }, facts);
    setChoosing(false);
  };
  if (!choosing && item) {
    const name = sounds.find(({ facts }) => facts.id === item.media)?.item.name ?? 'A sound that is not there';
    return (
      <View className="min-h-[48px] flex-row items-center justify-between gap-2 rounded-2xl bg-raised pl-4 pr-1" testID="cover-own">
        <Text className="shrink" numberOfLines={1}>
          {name}
        </Text>
        <Button label="Another" kind="quiet" onPress={() => setChoosing(true)} testID="cover-another" />
      </View>
    );
  }
  if (sounds.length === 0)
    return (
      <View className="flex-row items-center justify-between gap-2">
        <Text kind="note" className="shrink">
          Nothing that sounds has come in yet.
        </Text>
        <Button label="Bring one in" kind="quiet" onPress={() => openPanel({ name: 'shelf' })} />
      </View>
    );
  return (
    <View className="rounded-2xl bg-raised px-4" testID="cover-sounds">
      {sounds.slice(0, all ? undefined : FEW).map(({ item: one, facts }) => (
        <Pressable
          key={one.id}
          accessibilityRole="button"
          accessibilityLabel={`Cover it with ${one.name}`}
          onPress={() => void choose(facts)}
          testID={`cover-with-${one.id}`}
          className="min-h-[44px] flex-row items-center justify-between gap-3 border-b border-hairline active:opacity-60"
        >
          <Text className="shrink" numberOfLines={1}>
            {one.name}
          </Text>
          <Text kind="figure">{toSeconds(facts.length).toFixed(1)} s</Text>
        </Pressable>
      ))}
      {!all && sounds.length > FEW ? <Button label={`All ${sounds.length}`} kind="quiet" onPress={() => setAll(true)} /> : null}
    </View>
  );
}
