import type { MediaItem } from '@flimzy/contract';
import type { TogetherStep } from '@flimzy/core/edits';
import { pieceLength, shelfOf, type MediaFacts, type Range } from '@flimzy/core/piece';
import { formatTimecode, frameLength, parseTimecode } from '@flimzy/core/time';
import ChevronLeft from 'lucide-react-native/icons/chevron-left';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import Pause from 'lucide-react-native/icons/pause';
import Play from 'lucide-react-native/icons/play';
import X from 'lucide-react-native/icons/x';
import { useEffect, useMemo, useState } from 'react';
import { useWindowDimensions, View } from 'react-native';
import { useMedia } from '../api/queries';
import { edit, pause, together, useWhole } from '../open/editor';
import { closePanel, openPanel, usePanel } from '../open/panels';
import { Button, IconButton } from '../look/Button';
import { FigureField } from '../look/Field';
import { Sheet } from '../look/Sheet';
import { Text } from '../look/Text';
import { useWide } from '../look/useWide';
import { Filmstrip } from './Scrubber';
import { allFigures } from './items';
import { takeOffEverywhere } from './takeOff';
import { useViewer } from './useViewer';
import { pieceOfItem } from './viewer';
import { MediaMarks } from './MediaMarks';
import { Replace, Uses } from './Uses';

/** One item before it is used: play and scrub it, mark what is worth keeping, find where it is used, replace it, take it off. */
export function LookPanel() {
  const id = usePanel((s) => (s.panel?.name === 'look' ? s.panel.media : null));
  const { data: items } = useMedia();
  const item = items?.find((one) => one.id === id);
  if (!item?.facts) return null;
  return <Looking key={item.id} item={item} facts={item.facts} />;
}

function Looking({ item, facts }: { item: MediaItem; facts: MediaFacts }) {
  const piece = useWhole();
  const { width: screen } = useWindowDimensions();
  const wide = useWide();
  const document = useMemo(() => pieceOfItem(facts), [facts]);
  const { host, time: now, playing, show, step, here, toggle } = useViewer(document);
  const [from, setFrom] = useState<number | null>(null);
  const [to, setTo] = useState<number | null>(null);
  const entry = piece ? shelfOf(piece).find((one) => one.media.id === item.id) : undefined;
  const { rate: clock } = document.format;
  const frame = frameLength(clock);
  const width = Math.min(screen, 560) - 40;
  const height = facts.width > 0 ? Math.min(320, Math.round((width * document.format.height) / document.format.width)) : 0;
  useEffect(pause, []);
  // On a phone the shelf it was opened from comes back; on a wide screen that stands there anyway.
  const close = () => (wide ? closePanel() : openPanel({ name: 'shelf' }));

  /** Keeps these ranges; an item not yet on this piece's shelf is put there first. */
  const keep = (ranges: Omit<Range, 'id'>[]) => {
    const steps: TogetherStep[] = [];
    if (!entry) steps.push({ name: 'shelve', params: { media: [facts] } });
    steps.push({ name: 'setRanges', params: { media: item.id, ranges } });
    return together(`Ranges of ${facts.name}`, steps);
  };
  const bare = (ranges: readonly Range[]) => ranges.map(({ name, from: a, to: b }) => ({ name, from: a, to: b }));
  const add = () => {
    const range = { name: '', from: from ?? 0, to: Math.min(facts.length, to ?? pieceLength(document)) };
    if (range.to > range.from && keep([...bare(entry?.ranges ?? []), range])) {
      setFrom(null);
      setTo(null);
    }
  };
  const retime = (range: Range, which: 'from' | 'to') => (text: string) => {
    const time = parseTimecode(text, clock, range[which]);
    if (time === null || time < 0) return 'Write a time such as 0:04.12.';
    const ranges = (entry?.ranges ?? []).map((one) => (one.id === range.id ? { ...one, [which]: time } : one));
    return keep(bare(ranges)) ? null : 'Out comes after in.';
  };
  const time = (t: number) => formatTimecode(t, clock);
  return (
    <Sheet title={item.name} open onClose={close} tall testID="look-sheet">
      <View className="gap-3">
        {height > 0 ? (
          <View className="items-center">
            <View
              ref={host}
              className="overflow-hidden rounded-xl bg-black"
              style={{ width: Math.round((height * document.format.width) / document.format.height), height }}
            />
          </View>
        ) : null}
        {facts.kind === 'photo' ? null : (
          <>
            <Filmstrip
              item={item}
              width={width}
              length={pieceLength(document)}
              time={now}
              from={from}
              to={to}
              ranges={entry?.ranges ?? []}
              onTime={show}
            />
            <View className="flex-row items-center justify-between">
              <IconButton label={playing ? 'Pause' : 'Play it'} icon={playing ? Pause : Play} round onPress={toggle} testID="look-play" />
              <IconButton label="One frame back" icon={ChevronLeft} onPress={() => step(-1)} testID="look-back" />
              <Text kind="clock" testID="look-time">
                {time(now)}
              </Text>
              <IconButton label="One frame on" icon={ChevronRight} onPress={() => step(1)} testID="look-on" />
            </View>
            <View className="flex-row gap-2">
              <View className="flex-1">
                <Button label={from === null ? 'In' : `In ${time(from)}`} onPress={() => setFrom(here())} testID="look-in" />
              </View>
              <View className="flex-1">
                <Button label={to === null ? 'Out' : `Out ${time(to)}`} onPress={() => setTo(here() + frame)} testID="look-out" />
              </View>
              <View className="flex-1">
                <Button
                  label="Keep it"
                  kind="main"
                  disabled={(from === null && to === null) || (to ?? Infinity) <= (from ?? 0)}
                  onPress={add}
                  testID="look-keep"
                />
              </View>
            </View>
            {(entry?.ranges ?? []).map((range) => (
              <View key={range.id} testID="look-range" className="flex-row items-center gap-1 rounded-2xl bg-raised pl-4">
                <View className="min-w-0 flex-1">
                  <FigureField label="In" value={time(range.from)} onSubmit={retime(range, 'from')} />
                  <FigureField label="Out" value={time(range.to)} onSubmit={retime(range, 'to')} />
                </View>
                <IconButton label="Go to its in" icon={Play} onPress={() => show(range.from)} />
                <IconButton
                  label="Forget this range"
                  icon={X}
                  onPress={() => keep(bare((entry?.ranges ?? []).filter((one) => one.id !== range.id)))}
                />
              </View>
            ))}
          </>
        )}
        <MediaMarks facts={facts} shelved={Boolean(entry)} markers={entry?.markers ?? []} now={now} write={time} onGo={show} />
        <Text kind="small" className="font-mono">
          {allFigures(item)}
        </Text>
        <Uses item={item} piece={piece} />
        <Replace item={item} piece={piece} />
        <View className="flex-row gap-2">
          <View className="flex-1">
            {entry ? (
              <Button label="Off this piece’s shelf" onPress={() => edit('unshelve', { media: [item.id] })} testID="unshelve" />
            ) : (
              <Button label="On this piece’s shelf" onPress={() => edit('shelve', { media: [facts] })} testID="shelve" />
            )}
          </View>
          <View className="flex-1">
            <Button
              label="Off every shelf"
              kind="danger"
              onPress={() => {
                closePanel();
                void takeOffEverywhere(item);
              }}
              testID="take-off"
            />
          </View>
        </View>
      </View>
    </Sheet>
  );
}
