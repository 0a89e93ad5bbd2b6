import type { MediaItem } from '@flimzy/contract';
import { itemsOf, timelines, type MediaFacts, type Piece } from '@flimzy/core/piece';
import { covers, valueOf } from '@flimzy/core/properties';
import { formatTimecode } from '@flimzy/core/time';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '../api/client';
import { useMedia } from '../api/queries';
import { heightOf } from '../material/hearing';
import { edit, moveTo, select, useEditor } from '../open/editor';
import { closePanel, openPanel } from '../open/panels';
import { Button } from '../look/Button';
import { Text } from '../look/Text';

/** Where an item is used: in this piece clip by clip, and in which others. */
export function Uses({ item, piece }: { item: MediaItem; piece: Piece | null }) {
  const { data: uses } = useQuery({ queryKey: ['uses', item.id, piece], queryFn: () => call('mediaUses', { params: { id: item.id } }) });
  const here = piece
    ? timelines(piece).flatMap(([inside, t]) =>
        t.tracks.flatMap((track) => track.clips.filter((c) => itemsOf(c).includes(item.id)).map((clip) => ({ clip, inside, track }))),
      )
    : [];
  const elsewhere = (uses ?? []).filter((use) => use.piece !== piece?.id);
  return (
    <View className="gap-1" testID="uses">
      <Text kind="label">
        {here.length === 0 ? 'Not used in this piece' : `Used ${here.length === 1 ? 'once' : `${here.length} times`} in this piece`}
      </Text>
      {here.slice(0, 30).map(({ clip, inside, track }) => (
        <Pressable
          key={clip.id}
          accessibilityRole="button"
          accessibilityLabel={`Go to ${clip.name} at ${formatTimecode(clip.start, piece?.format.rate ?? { num: 25, den: 1 })}`}
          className="min-h-[40px] justify-center"
          disabled={inside !== useEditor.getState().inside}
          onPress={() => {
            closePanel();
            select(clip.id);
            moveTo(clip.start);
          }}
        >
          <Text kind="small" className="font-mono">
            {formatTimecode(clip.start, piece?.format.rate ?? { num: 25, den: 1 })} on {track.name}
            {inside === null ? '' : `, in ${piece?.nests?.[inside]?.name}`}
          </Text>
        </Pressable>
      ))}
      {elsewhere.length > 0 ? <Text kind="small">Also in {elsewhere.map((use) => `“${use.name}”`).join(', ')}</Text> : null}
    </View>
  );
}

/** Puts another item in its place, in the selected clip or everywhere in this piece. */
export function Replace({ item, piece }: { item: MediaItem; piece: Piece | null }) {
  const { data: items } = useMedia();
  const [open, setOpen] = useState(false);
  const selected = useEditor((s) => s.selected);
  if (!piece || !piece.media[item.id]) return null;
  const one = piece.tracks.flatMap((t) => t.clips).find((c) => c.media === item.id && selected.includes(c.id));
  const others = (items ?? []).filter((other) => other.id !== item.id && other.usable && other.facts?.kind === item.facts?.kind);
  const put = async (media: MediaFacts, clips: string[] | null) => {
    const all = timelines(piece).flatMap(([, { tracks }]) => tracks.flatMap((track) => track.clips));
    const lengths = all.flatMap((clip) => covers.listOf(valueOf(clip, 'covers')).filter((one) => one.item?.media === item.id));
    const longest = Math.max(0, ...lengths.map(({ from, to }) => to - from));
    const height = longest > 0 && media.hasSound ? { height: await heightOf(media, longest) } : {};
    if (edit('replaceMedia', { old: item.id, media, clips, ...height })) openPanel({ name: 'look', media: media.id });
  };
  if (!open) return <Button label="Replace with a newer recording" onPress={() => setOpen(true)} testID="replace" />;
  return (
    <View className="gap-1 rounded-2xl bg-raised px-4 py-2">
      <Text kind="note">Every cut is kept. Which one takes its place?</Text>
      {others.map((other) => (
        <View key={other.id} className="min-h-[48px] flex-row items-center justify-between gap-2">
          <Text className="shrink" numberOfLines={1}>
            {other.name}
          </Text>
          <View className="flex-row">
            {one && other.facts ? (
              <Button label="In this clip" kind="quiet" onPress={() => other.facts && void put(other.facts, [one.id])} />
            ) : null}
            <Button
              label="Everywhere"
              kind="quiet"
              onPress={() => other.facts && void put(other.facts, null)}
              testID={`replace-${other.id}`}
            />
          </View>
        </View>
      ))}
    </View>
  );
}
