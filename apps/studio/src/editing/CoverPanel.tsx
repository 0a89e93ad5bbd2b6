import { findClip, isHeard, keyTime, soundSpan, timelineAt, type Clip, type MediaFacts } from '@flimzy/core/piece';
import { covers, sayLevel, typedNumber, typedSeconds, valueOf, type Cover, type CoverKind } from '@flimzy/core/properties';
import { levelAround } from '@flimzy/core/sound';
import { ascending, FLICKS_PER_SECOND, fromSeconds, toSeconds, type Flicks } from '@flimzy/core/time';
import Repeat from 'lucide-react-native/icons/repeat';
import Square from 'lucide-react-native/icons/square';
import { useState } from 'react';
import { View, type LayoutChangeEvent } from 'react-native';
import { Button } from '../look/Button';
import { Choice } from '../look/Choice';
import { Dock } from '../look/Dock';
import { FigureField } from '../look/Field';
import { Text } from '../look/Text';
import { useDucking } from '../open/ducking';
import { edit, stretchOf, useEditor, usePiece } from '../open/editor';
import { useLoop } from '../open/loop';
import { closePanel, usePanel } from '../open/panels';
import { Magnified } from './Magnified';
import { OwnCover } from './OwnCover';

const KINDS = Object.entries(covers.KINDS).map(([id, name]) => ({ id: id as CoverKind, name }));

/** How long a new cover is when no stretch was chosen, in flicks. */
const NEW = fromSeconds(0.4);
const LEAST = FLICKS_PER_SECOND / 100;

/** Covers a word: where, with what, and how loud; heard in a loop. */
export function CoverPanel() {
  const open = usePanel((s) => s.panel?.name === 'cover');
  const piece = usePiece();
  const selected = useEditor((s) => s.selected);
  const found = piece && selected.length === 1 ? findClip(piece, selected[0] ?? '') : null;
  if (!open || !piece) return null;
  if (!found || !isHeard(found.clip, piece.media[found.clip.media]))
    return (
      <Dock title="Cover a word" onClose={closePanel} testID="cover-panel">
        <Text kind="note">Select one clip that is heard: touch it on the timeline.</Text>
      </Dock>
    );
  return <Open key={found.clip.id} clip={found.clip} />;
}

/** A time of the timeline in seconds, to the hundredth. */
const say = (time: Flicks) => `${toSeconds(time).toFixed(2)} s`;
const read = (text: string): Flicks | null => {
  const typed = typedSeconds(text);
  return typed === null || typed < 0 ? null : typed;
};

function Open({ clip }: { clip: Clip }) {
  const hearing = useDucking((s) => s.hearing);
  const playhead = useEditor((s) => s.playhead);
  const [width, setWidth] = useState(0);
  const value = valueOf(clip, 'covers');
  const list = covers.listOf(value);
  const [own, setOwn] = useState(false);
  const [chosen, setChosen] = useState(() => covers.coverAt(value, keyTime(clip, playhead)));
  const n = chosen >= 0 && chosen < list.length ? chosen : -1;
  const cover = list[n];
  const [from, to] = cover ? ascending(timelineAt(clip, cover.from), timelineAt(clip, cover.to)) : [playhead, playhead];
  const loop = useLoop(from, to);

  const write = (next: Cover, at: number | null, bring: MediaFacts[] = []): boolean => {
    const all = covers.withCover(value, next, at);
    if (!all || !edit('set', { clips: [clip.id], values: { covers: all }, bring })) return false;
    setChosen(covers.listOf(all).findIndex((one) => one.from >= next.from && one.to <= next.to));
    if (loop.on) loop.again();
    return true;
  };
  const begin = () => {
    const span = soundSpan(clip);
    const stretch = stretchOf(useEditor.getState());
    const wish =
      stretch && stretch.from < span.end && stretch.to > span.start ? stretch : { from: playhead - NEW / 2, to: playhead + NEW / 2 };
    const ends = [Math.max(span.start, wish.from), Math.min(span.end, wish.to)] as const;
    const [first, last] = ascending(keyTime(clip, Math.round(ends[0])), keyTime(clip, Math.round(ends[1])));
    if (last - first < LEAST) return;
    write({ from: first, to: last, with: 'tone', level: levelAround(clip.media, first, last, hearing) }, null);
  };
  const place = (start: Flicks, end: Flicks) => {
    const [first, last] = ascending(keyTime(clip, start), keyTime(clip, end));
    return cover !== undefined && write({ ...cover, from: first, to: last }, n);
  };
  const remove = () => edit('set', { clips: [clip.id], values: { covers: covers.withoutCover(value, n) } });
  return (
    <Dock
      title="Cover a word"
      onClose={() => {
        loop.stop();
        closePanel();
      }}
      testID="cover-panel"
      footer={
        <View className="flex-row gap-2">
          <View className="flex-1">
            <Button
              label={loop.on ? 'Stop' : 'Hear it looped'}
              icon={loop.on ? Square : Repeat}
              disabled={!cover}
              onPress={loop.toggle}
              testID="cover-loop"
            />
          </View>
          <Button label="New here" kind={cover ? 'plain' : 'main'} onPress={begin} testID="cover-new" />
        </View>
      }
    >
      <View onLayout={({ nativeEvent: { layout } }: LayoutChangeEvent) => setWidth(Math.floor(layout.width))}>
        {list.length > 1 ? (
          <View className="pb-3">
            <Choice
              label="Which cover"
              value={String(n)}
              options={list.map((one, i) => ({ id: String(i), name: say(timelineAt(clip, one.from)) }))}
              onChange={(id) => {
                setOwn(false);
                setChosen(Number(id));
              }}
            />
          </View>
        ) : null}
        {cover && width > 0 ? (
          <View className="gap-3">
            <Magnified clip={clip} from={from} to={to} width={width} onChange={place} />
            <Choice
              label="With what"
              value={own ? 'own' : cover.with}
              options={KINDS}
              onChange={(kind) => {
                setOwn(kind === 'own');
                if (kind !== 'own') write({ ...cover, with: kind, item: undefined }, n);
              }}
            />
            {own || cover.with === 'own' ? (
              <OwnCover
                key={n}
                item={cover.item}
                length={to - from}
                onChoose={(item, facts) => write({ ...cover, with: 'own', item }, n, [facts])}
              />
            ) : null}
            <View className="rounded-2xl bg-raised px-4">
              <FigureField
                label="Begins"
                testID="cover-from"
                value={say(from)}
                onSubmit={(text) => {
                  const typed = read(text);
                  return typed !== null && place(typed, to) ? null : 'Seconds of the timeline, before it ends.';
                }}
                onStep={(by) => place(from + by * LEAST, to)}
              />
              <FigureField
                label="Ends"
                testID="cover-to"
                value={say(to)}
                onSubmit={(text) => {
                  const typed = read(text);
                  return typed !== null && place(from, typed) ? null : 'Seconds of the timeline, after it begins.';
                }}
                onStep={(by) => place(from, to + by * LEAST)}
              />
              {covers.sounds(cover.with) ? (
                <FigureField
                  label="Loudness"
                  testID="cover-level"
                  value={sayLevel(cover.level)}
                  onSubmit={(text) => {
                    const typed = typedNumber(text, /db/i);
                    if (typed === null || typed > 0 || typed < -60) return 'Between −60 and 0 dB.';
                    return write({ ...cover, level: typed }, n) ? null : 'It cannot be set.';
                  }}
                  onStep={(by) => write({ ...cover, level: Math.max(-60, Math.min(0, cover.level + by)) }, n)}
                />
              ) : null}
            </View>
            <Button label="Take it back" kind="danger" onPress={remove} testID="cover-remove" />
          </View>
        ) : (
          <Text kind="note">
            Put the playhead on the word, or set in and out around it, then touch “New here”. Only the sound changes; the picture is not
            cut.
          </Text>
        )}
      </View>
    </Dock>
  );
}
