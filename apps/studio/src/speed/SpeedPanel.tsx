import type { SpeedWish } from '@flimzy/core/edits';
import {
  clipAt,
  clipEnd,
  findClip,
  findTrack,
  isHeard,
  isStill,
  linkedClips,
  speedOf,
  type Clip,
  type Piece,
  type Track,
} from '@flimzy/core/piece';
import { sayFade, typedSeconds, valueOf } from '@flimzy/core/properties';
import { formatTimecode, frameLength, parseTimecode } from '@flimzy/core/time';
import { useState } from 'react';
import { View } from 'react-native';
import { Button } from '../look/Button';
import { Choice } from '../look/Choice';
import { Dock } from '../look/Dock';
import { FigureField } from '../look/Field';
import { Text } from '../look/Text';
import { actionOf } from '../open/actions';
import { currentPiece, edit, select, stretchOf, useEditor, usePiece } from '../open/editor';
import { FREEZE_MAX, setLength, useLengths } from '../open/lengths';
import { closePanel, usePanel } from '../open/panels';
import { followers, gapAfter } from './around';
import { SpeedField } from './SpeedField';

const USUAL = ['50', '100', '150', '200', '400'].map((id) => ({ id, name: `${id} %` }));
const WAYS = [
  { id: 'forwards', name: 'Forwards' },
  { id: 'backwards', name: 'Backwards' },
] as const;
const SOUNDS = [
  { id: 'kept', name: 'Pitch kept' },
  { id: 'follows', name: 'Pitch follows' },
  { id: 'stay', name: 'Left as it is' },
  { id: 'off', name: 'Silent' },
] as const;
type SoundWay = (typeof SOUNDS)[number]['id'];

/** What becomes of the sound, said before anything is done. */
const SOUND_NOTES: Record<SoundWay, string> = {
  kept: 'Its sound goes along, as high as it was.',
  follows: 'Its sound goes along, higher when faster and lower when slower.',
  stay: 'At the next change its sound becomes a clip of its own and stays as it is.',
  off: 'At the next change its sound is turned down to silence.',
};

/** How fast clips run through their material, and which way. */
export function SpeedPanel() {
  const open = usePanel((s) => s.panel?.name === 'speed');
  const piece = usePiece();
  const selected = useEditor((s) => s.selected);
  if (!open || !piece) return null;
  const all = selected.flatMap((id) => findClip(piece, id) ?? []).filter(({ clip }) => !isStill(clip, piece.media[clip.media]));
  return (
    <Dock title={all.length > 1 ? `Speed of ${all.length} clips` : 'Speed'} onClose={closePanel} testID="speed-panel">
      {all.length > 0 ? (
        <Open piece={piece} all={all} />
      ) : (
        <Text kind="note">
          {selected.length > 0
            ? 'What is selected stands still: pull its end to make it longer or shorter.'
            : 'Touch a clip on the timeline: then it can run faster, slower or backwards.'}
        </Text>
      )}
      <Freeze piece={piece} />
    </Dock>
  );
}

function Open({ piece, all }: { piece: Piece; all: readonly { clip: Clip; track: Track }[] }) {
  const rest = useEditor((s) => s.rest);
  const reach = useEditor((s) => s.reach);
  const stretch = stretchOf({ markIn: useEditor((s) => s.markIn), markOut: useEditor((s) => s.markOut) });
  const [part, setPart] = useState<'whole' | 'stretch'>('whole');
  const [leave, setLeave] = useState<'stay' | 'off' | null>(null);
  const [{ clip, track }] = all as [(typeof all)[number]];
  const { rate } = piece.format;
  const clips = all.map((one) => one.clip.id);
  const covered = stretch && all.some((one) => one.clip.start < stretch.to && clipEnd(one.clip) > stretch.from) ? stretch : null;
  const within = part === 'stretch' ? covered : null;
  const speed = speedOf(clip);
  const heard = all.some((one) => isHeard(one.clip, piece.media[one.clip.media]));
  const sound: SoundWay = leave ?? valueOf(clip, 'pitch');

  const change = (wish: SpeedWish, how: 'stay' | 'follow' = rest): boolean => {
    const done = edit('setSpeed', { clips, wish, within, rest: how, tracks: reach, sound: leave ?? 'along' });
    // What was changed is selected, so that the next touch is about it too.
    if (done && within) select(clipUnder(track.id, Math.max(within.from, clip.start)) ?? clip.id);
    if (done) setLeave(null);
    return done;
  };
  const gap = all.length === 1 ? gapAfter(track, clip) : 0;
  return (
    <View className="gap-3">
      <Choice
        label="Usual speeds"
        value={String(Math.round(Math.abs(speed) * 1000) / 10)}
        options={USUAL}
        onChange={(id) => change({ speed: (Number(id) / 100) * Math.sign(speed) })}
      />
      <View>
        <SpeedField
          testID="speed-percent"
          value={speed}
          onChange={(typed) => change({ speed: typed })}
          onStep={(by) => change({ speed: (Math.round(Math.abs(speed) * 100) / 100 + by * 0.05) * Math.sign(speed) })}
        />
        <FigureField
          label={all.length > 1 ? 'Length of each' : 'Length'}
          testID="speed-length"
          value={formatTimecode(clip.length, rate)}
          onSubmit={(text) => {
            const to = parseTimecode(text, rate, clip.length);
            if (to === null || to <= 0) return 'Write a length as seconds.frames, such as 4.12.';
            return change({ length: to }) ? null : 'It cannot be that long.';
          }}
          onStep={(by) => change({ length: Math.max(frameLength(rate), clip.length + by * frameLength(rate)) })}
        />
      </View>
      {covered ? (
        <Choice
          label="What changes"
          value={part}
          options={[
            { id: 'whole', name: 'The whole clip' },
            { id: 'stretch', name: 'From in to out' },
          ]}
          onChange={setPart}
        />
      ) : null}
      <Choice
        label="Which way"
        value={speed < 0 ? 'backwards' : 'forwards'}
        options={WAYS}
        onChange={(way) => change({ speed: Math.abs(speed) * (way === 'backwards' ? -1 : 1) })}
      />
      <Choice
        label="What comes after"
        value={rest}
        options={[
          { id: 'follow', name: 'The rest follows' },
          { id: 'stay', name: 'The rest stays' },
        ]}
        onChange={(id) => useEditor.setState({ rest: id })}
      />
      <Text kind="note" testID="speed-rest">
        {saidBefore(piece, track, clip, rest, reach)}
      </Text>
      {gap > 0 && gap < Infinity ? (
        <Button
          label={`Fill the gap after it: ${formatTimecode(clip.length + gap, rate)}`}
          onPress={() => change({ length: clip.length + gap }, 'stay')}
          testID="speed-fill"
        />
      ) : null}
      {Math.abs(speed) < 1 && track.kind === 'picture' ? (
        <Choice
          label="Between frames"
          value={valueOf(clip, 'between')}
          options={[
            { id: 'repeated', name: 'Frames repeated' },
            { id: 'blended', name: 'Blended' },
          ]}
          onChange={(between) => edit('set', { clips, values: { between } })}
        />
      ) : null}
      {heard ? (
        <>
          <Choice
            label="Its sound"
            value={sound}
            options={SOUNDS}
            onChange={(id) => {
              if (id === 'stay' || id === 'off') return setLeave(id);
              setLeave(null);
              if (all.some((one) => valueOf(one.clip, 'pitch') !== id))
                edit('set', { clips: withLinked(piece, all), values: { pitch: id } });
            }}
          />
          <Text kind="note">{SOUND_NOTES[sound]}</Text>
        </>
      ) : null}
    </View>
  );
}

/** The clip that covers a time on a track, as the piece is now. */
function clipUnder(track: string, time: number): string | null {
  const now = currentPiece();
  const found = now && findTrack(now, track);
  return (found && clipAt(found.track, time)?.id) ?? null;
}

/** Clips with those linked to them, whose pitch is theirs. */
const withLinked = (piece: Piece, all: readonly { clip: Clip }[]): string[] => [
  ...new Set(all.flatMap(({ clip }) => linkedClips(piece, clip).map((one) => one.id))),
];

/** What a change of length does to what comes after, before it is made. */
function saidBefore(piece: Piece, track: Track, clip: Clip, rest: 'stay' | 'follow', reach: 'own' | 'all'): string {
  if (rest === 'follow') {
    const moving = followers(piece, track, clip, reach);
    return moving === 0
      ? 'Nothing comes after it.'
      : `${moving === 1 ? 'The clip' : `${moving} clips`} after it ${moving === 1 ? 'moves' : 'move'} with its end.`;
  }
  const gap = gapAfter(track, clip);
  const most = clip.length + gap;
  if (gap === Infinity) return 'Nothing else moves.';
  return `Nothing else moves: it can be ${formatTimecode(most, piece.format.rate)} long at most, and leaves a gap when it is shorter.`;
}

/** A frame that stands for a while, in what is under the playhead. */
function Freeze({ piece }: { piece: Piece }) {
  const length = useLengths((s) => s.freeze);
  return (
    <View className="gap-2 pt-4">
      <FigureField
        label="Freeze for"
        testID="freeze-length"
        value={sayFade(length)}
        onSubmit={(text) => {
          const typed = typedSeconds(text);
          if (typed === null || typed < frameLength(piece.format.rate) || typed > FREEZE_MAX)
            return 'Write seconds, such as 1.5: up to 60.';
          return setLength('freeze', typed) ? null : 'It cannot be kept on this device.';
        }}
      />
      <Button label="Freeze the frame at the playhead" onPress={actionOf('freeze').run} testID="freeze-here" />
    </View>
  );
}
