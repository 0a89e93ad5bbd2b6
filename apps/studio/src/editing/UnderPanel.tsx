import type { TogetherStep } from '@flimzy/core/edits';
import { findClip, isHeard, underOf, type Clip, type Piece, type Track } from '@flimzy/core/piece';
import { UNDER, UNDER_FIGURES, type Under } from '@flimzy/core/properties';
import { clearanceOf, duckLines, envelopeWith, isMusic, type HearingReader } from '@flimzy/core/sound';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { Button } from '../look/Button';
import { Choice } from '../look/Choice';
import { Dock } from '../look/Dock';
import { FigureField } from '../look/Field';
import { Text } from '../look/Text';
import { useDucking } from '../open/ducking';
import { hearPlain } from '../open/hearPlain';
import { edit, together, useEditor, usePiece } from '../open/editor';
import { closePanel, usePanel } from '../open/panels';

type Scope = 'clip' | 'track' | 'piece';

/** Makes music (or a clip's own sound) keep out of the way of speech, and says what that comes to. */
export function UnderPanel() {
  const panel = usePanel((s) => (s.panel?.name === 'under' ? s.panel : null));
  const piece = usePiece();
  return panel && piece ? <Panel piece={piece} asked={panel.track} /> : null;
}

/** What a scope is about: the selected clips, all on their tracks (or the one asked for), or all music. */
function about(piece: Piece, scope: Scope, selected: readonly string[], asked: string | null, hearing: HearingReader) {
  const found = selected.flatMap((id) => findClip(piece, id) ?? []).filter(({ clip }) => isHeard(clip, piece.media[clip.media]));
  if (scope === 'clip')
    return { tracks: [], clips: found.map(({ clip }) => clip), ways: found.map(({ clip, track }) => underOf(clip, track)) };
  const tracks =
    scope === 'piece'
      ? piece.tracks.filter((track) => track.under !== undefined || isMusic(piece, track, hearing))
      : piece.tracks.filter((track) => (asked === null ? found.some((one) => one.track.id === track.id) : track.id === asked));
  return { tracks, clips: tracks.flatMap((track) => track.clips), ways: tracks.map((track) => track.under ?? null) };
}

function Panel({ piece, asked }: { piece: Piece; asked: string | null }) {
  const selected = useEditor((s) => s.selected);
  const hearing = useDucking((s) => s.hearing);
  const anyClip = selected.some((id) => findClip(piece, id));
  const scopes: { id: Scope; name: string }[] = [
    ...(anyClip ? [{ id: 'clip' as const, name: selected.length === 1 ? 'This clip' : 'These clips' }] : []),
    ...(anyClip || asked !== null ? [{ id: 'track' as const, name: 'Its track' }] : []),
    { id: 'piece', name: 'All music' },
  ];
  const [chosen, setScope] = useState<Scope | null>(asked === null ? null : 'track');
  const scope = scopes.some((one) => one.id === chosen) && chosen ? chosen : (scopes[0]?.id ?? 'piece');
  const { tracks, clips, ways } = about(piece, scope, selected, asked, hearing);
  const on = ways.length > 0 && ways.every((way) => way !== null);
  const now = ways.find((way) => way !== null) ?? UNDER;

  const stepsFor = (under: Under | null): TogetherStep[] =>
    scope === 'clip'
      ? [{ name: 'set', params: { clips: clips.map((clip) => clip.id), values: { under: under ?? 'off' } } }]
      : tracks.map((track) => ({ name: 'setTrack', params: { track: track.id, set: { under } } }));
  const set = (under: Under | null): boolean => {
    if (scope === 'clip')
      return clips.length > 0 && edit('set', { clips: clips.map((clip) => clip.id), values: { under: under ?? 'off' } });
    const steps = stepsFor(under);
    if (steps.length <= 1) return tracks.length === 1 && edit('setTrack', { track: (tracks[0] as Track).id, set: { under } });
    return together(under ? `All music under speech: ${under.below.toFixed(0)} LU below` : 'No music under speech', steps);
  };
  /** What was worked out becomes points of the clips' own envelopes, for the hand; nothing makes way any more, and it sounds as it did. */
  const intoPoints = () => {
    const lines = duckLines(piece, hearing);
    const shaped = clips.flatMap((clip): TogetherStep[] => {
      const line = lines.get(clip.id);
      return line?.length ? [{ name: 'set', params: { clips: [clip.id], values: { envelope: envelopeWith(clip, line) } } }] : [];
    });
    together('Points of what goes under speech', [...shaped, ...stepsFor(null)]);
  };
  const what = scope === 'clip' ? (clips.length === 1 ? 'the clip' : 'the clips') : scope === 'track' ? 'the track' : 'all music';
  return (
    <Dock
      title="Under speech"
      onClose={closePanel}
      testID="under-panel"
      footer={
        <View className="flex-row gap-2">
          <View className="flex-1">
            <Button
              label={on ? 'Take out' : `Put ${what} under speech`}
              kind={on ? 'plain' : 'main'}
              disabled={ways.length === 0}
              onPress={() => set(on ? null : now)}
              testID="under-switch"
            />
          </View>
          {on ? <HoldPlain /> : null}
        </View>
      }
    >
      <Choice label="What goes under speech" value={scope} options={scopes} onChange={setScope} />
      {ways.length === 0 ? (
        <Text kind="note" className="pt-3">
          {scope === 'piece' ? 'There is no music in this piece yet.' : 'Select a clip that is heard.'}
        </Text>
      ) : (
        <>
          {on ? <Reading piece={piece} clips={clips} below={now.below} hearing={hearing} /> : null}
          <View className="mt-3 rounded-2xl bg-raised px-4">
            {(Object.keys(UNDER_FIGURES) as (keyof Under)[]).map((name) => {
              const { label, say, read, hint, step } = UNDER_FIGURES[name];
              return (
                <FigureField
                  key={name}
                  label={label}
                  testID={`under-${name}`}
                  value={say(now[name])}
                  onSubmit={(text) => {
                    const typed = read(text);
                    return typed === null ? hint : set({ ...now, [name]: typed }) ? null : 'It cannot be set.';
                  }}
                  onStep={(by) => set({ ...now, [name]: step(now[name], by) })}
                />
              );
            })}
          </View>
          {on ? (
            <View className="gap-2 pt-3">
              <Text kind="note">
                It follows the speech as that is moved and cut. To change it by hand, make points of it: then it stays as it is.
              </Text>
              <Button label="Make points of it" onPress={intoPoints} testID="under-points" />
            </View>
          ) : null}
        </>
      )}
    </Dock>
  );
}

/** How far the speech stands over what makes way for it, by what was heard. */
function Reading({ piece, clips, below, hearing }: { piece: Piece; clips: readonly Clip[]; below: number; hearing: HearingReader }) {
  const all = clips.flatMap((clip) => clearanceOf(piece, clip.id, hearing) ?? []);
  const unheard = clips.some((clip) => !piece.nests?.[clip.media] && hearing(clip.media) === null);
  const sentence = () => {
    if (unheard) return 'Still listening to the sound; it goes under speech as soon as that is done.';
    if (all.length === 0) return 'Nobody speaks over it, so it stays as it is.';
    const over = all.reduce((sum, one) => sum + one.over, 0) / all.length;
    const kept = all.reduce((sum, one) => sum + one.kept, 0) / all.length;
    return `Speech stands ${over.toFixed(1)} LU over it; within 1 LU of the ${below.toFixed(0)} asked for, or further, ${Math.round(kept * 100)} % of the time.`;
  };
  return (
    <Text kind="note" className="pt-3" testID="under-reading">
      {sentence()}
    </Text>
  );
}

/** While it is held, the piece is heard without anything making way. */
function HoldPlain() {
  const [held, setHeld] = useState(false);
  const hold = (down: boolean) => {
    setHeld(down);
    hearPlain(down);
  };
  return (
    <Pressable
      accessibilityRole="button"
      accessibilityLabel="Hold to hear it without"
      aria-pressed={held}
      testID="under-plain"
      onPressIn={() => hold(true)}
      onPressOut={() => hold(false)}
      className={`min-h-[44px] flex-1 items-center justify-center rounded-full px-3 ${held ? 'bg-paper' : 'bg-raised'}`}
    >
      <Text kind="label" numberOfLines={1} className={held ? 'text-onpaper' : ''}>
        {held ? 'Without' : 'Hold: without'}
      </Text>
    </Pressable>
  );
}
