import { clipLoudness, levelFor } from '@flimzy/core/analyse';
import type { TogetherStep } from '@flimzy/core/edits';
import { findClip, isHeard, pieceLength, type Piece } from '@flimzy/core/piece';
import { propertyOf, sayTenths, typedNumber } from '@flimzy/core/properties';
import { useEffect, useRef, useState } from 'react';
import { View } from 'react-native';
import { Button } from '../look/Button';
import { Dock } from '../look/Dock';
import { FigureField } from '../look/Field';
import { Progress } from '../look/Progress';
import { Text } from '../look/Text';
import { useDucking } from '../open/ducking';
import { edit, together, useEditor, useWhole } from '../open/editor';
import { standOf } from '../open/state';
import type { Measured } from '../open/engine';
import { setLength, useLengths } from '../open/lengths';
import { closePanel, usePanel } from '../open/panels';
import { FigureOf } from '../look/FigureOf';

/** What most platforms play at, in LUFS, and what clips are brought to before the whole is. */
const PIECE_TARGET = -14;
const CLIP_TARGET = -18;

const lufs = (value: number) => (value < -70 ? 'silent' : `${sayTenths(value)} LUFS`);
const readTarget = (text: string) => {
  const typed = typedNumber(text, /lufs\s*$/i);
  return typed === null || typed < -40 || typed > -5 ? null : typed;
};

/** Measures the piece, brings it or the selected clips to a loudness, and sets what is done to the whole. */
export function LoudnessPanel() {
  const open = usePanel((s) => s.panel?.name === 'loudness');
  const piece = useWhole();
  return open && piece ? <Panel piece={piece} /> : null;
}

type State = { kind: 'idle' } | { kind: 'working'; share: number } | { kind: 'failed'; sentence: string };

function Panel({ piece }: { piece: Piece }) {
  const [target, setTarget] = useState(PIECE_TARGET);
  const [state, setState] = useState<State>({ kind: 'idle' });
  const [reading, setReading] = useState<{ of: string; figures: Measured } | null>(null);
  const stand = useEditor(standOf);
  const [before, setBefore] = useState<Measured | null>(null);
  const alive = useRef(true);
  useEffect(() => {
    alive.current = true;
    return () => void (alive.current = false);
  }, []);
  const empty = pieceLength(piece) === 0;

  const measure = (to: number | null): Promise<Measured | null> => {
    const { engine } = useEditor.getState();
    if (!engine) return Promise.resolve(null);
    setState({ kind: 'working', share: 0 });
    return engine
      .measure(piece, to, (share) => alive.current && setState({ kind: 'working', share }))
      .then(
        (figures) => {
          if (alive.current) setState({ kind: 'idle' });
          return figures;
        },
        (error: Error) => {
          if (alive.current) setState({ kind: 'failed', sentence: error.message });
          return null;
        },
      );
  };
  const read = async () => {
    const figures = await measure(null);
    if (figures && alive.current) setReading({ of: stand, figures });
  };
  useEffect(() => {
    if (!empty) void read();
    // oxlint-disable-next-line react-hooks/exhaustive-deps -- once, when it is opened
  }, []);
  const bring = async () => {
    const was = reading?.of === stand ? reading.figures : null;
    const figures = await measure(target);
    if (!figures || !alive.current || standOf(useEditor.getState()) !== stand) return;
    if (!edit('setSound', { level: figures.level })) return;
    setBefore(was);
    setReading({ of: standOf(useEditor.getState()), figures });
  };
  const fresh = reading?.of === stand ? reading.figures : null;
  return (
    <Dock
      title="Loudness"
      onClose={closePanel}
      testID="loudness-panel"
      footer={
        <Button
          label={`Bring the piece to ${lufs(target)}`}
          kind="main"
          disabled={empty || state.kind === 'working'}
          onPress={() => void bring()}
          testID="bring-piece"
        />
      }
    >
      {state.kind === 'working' ? (
        <View className="gap-1.5 pb-2">
          <Text kind="note">Measuring …</Text>
          <Progress value={state.share} label="Measuring" />
        </View>
      ) : null}
      {state.kind === 'failed' ? <Text kind="note">{state.sentence}</Text> : null}
      {empty ? <Text kind="note">There is nothing to hear yet.</Text> : null}
      {fresh ? (
        <View className="gap-1 pb-2" testID="loudness-reading">
          <Text>
            {before ? `From ${lufs(before.integrated)} to ` : ''}
            {lufs(fresh.integrated)}, peak {fresh.peak < -70 ? '–' : sayTenths(fresh.peak)} dBTP
          </Text>
          <Text kind="note">{limiterSays(fresh, piece)}</Text>
        </View>
      ) : state.kind === 'idle' && !empty ? (
        <Button label="Measure again" onPress={() => void read()} testID="measure" />
      ) : null}
      <View className="mt-1 rounded-2xl bg-raised px-4">
        <TargetFigure target={target} onChange={setTarget} testID="piece-target" />
        <WholeFigures piece={piece} />
      </View>
      <Clips piece={piece} />
      <Text kind="label" className="pb-2 pt-4">
        What one touch makes
      </Text>
      <View className="rounded-2xl bg-raised px-4">
        <LengthFigure name="fade" label="Fade" />
        <LengthFigure name="cross" label="Crossfade" />
      </View>
    </Dock>
  );
}

/** What the limiter does, in a sentence. */
function limiterSays({ limited, peak }: Measured, piece: Piece): string {
  if (piece.sound?.unlimited) return peak > 0 ? 'The limiter is off: this will be distorted.' : 'The limiter is off.';
  if (limited < 0.1) return 'The limiter has nothing to do.';
  const most = `The limiter takes away up to ${limited.toFixed(1)} dB`;
  return limited > 6 ? `${most}: that is heard as pressed. A lower target would be gentler.` : `${most} at the highest peaks.`;
}

/** The loudness that something is to be brought to. */
function TargetFigure({ target, onChange, testID }: { target: number; onChange: (target: number) => void; testID: string }) {
  return (
    <FigureField
      label="Target"
      testID={testID}
      value={lufs(target)}
      onSubmit={(text) => {
        const typed = readTarget(text);
        if (typed === null) return 'A loudness between −40 and −5 LUFS.';
        onChange(typed);
        return null;
      }}
      onStep={(by) => onChange(Math.max(-40, Math.min(-5, target + by * 0.5)))}
    />
  );
}

/** The level and the fades of the whole, typed and stepped as those of clips are. */
function WholeFigures({ piece }: { piece: Piece }) {
  return (['level', 'fadeIn', 'fadeOut'] as const).map((name) => (
    <FigureOf
      key={name}
      name={name}
      label={`${propertyOf(name).label}, whole piece`}
      value={piece.sound?.[name] ?? 0}
      set={(to) => edit('setSound', { [name]: to })}
      testID={`piece-${name}`}
    />
  ));
}

/** A length that is a setting of this device. */
function LengthFigure({ name, label }: { name: 'fade' | 'cross'; label: string }) {
  const value = useLengths((s) => s[name]);
  const { figure, say } = propertyOf('fadeIn');
  if (!figure) return null;
  const most = name === 'fade' ? figure.hint : 'A crossfade is up to 4 s long.';
  return (
    <FigureField
      label={label}
      testID={`length-${name}`}
      value={say(value)}
      onSubmit={(text) => {
        const typed = figure.read(text);
        return typed !== null && setLength(name, typed) ? null : most;
      }}
      onStep={(by) => setLength(name, figure.step(value, by))}
    />
  );
}

/** The selected clips brought to one loudness. */
function Clips({ piece }: { piece: Piece }) {
  const selected = useEditor((s) => s.selected);
  const hearing = useDucking((s) => s.hearing);
  const [target, setTarget] = useState(CLIP_TARGET);
  const found = selected.flatMap((id) => findClip(piece, id) ?? []).filter(({ clip }) => isHeard(clip, piece.media[clip.media]));
  if (found.length === 0)
    return (
      <Text kind="note" className="pt-3">
        Select clips to bring them to one loudness.
      </Text>
    );
  const loud = found.map(({ clip, track }) => clipLoudness(clip, track, hearing));
  const known = loud.filter((one) => Number.isFinite(one));
  const bring = () => {
    const steps = found.flatMap(({ clip, track }): TogetherStep[] => {
      const level = levelFor(clip, track, hearing, target);
      return level === null || level === clip.level ? [] : [{ name: 'set', params: { clips: [clip.id], values: { level } } }];
    });
    if (steps.length > 0) together(`${found.length === 1 ? found[0]?.clip.name : `${found.length} clips`} to ${lufs(target)}`, steps);
  };
  const range =
    known.length === 0
      ? 'not listened to yet'
      : known.length === 1
        ? lufs(known[0] ?? 0)
        : `${lufs(Math.min(...known))} to ${lufs(Math.max(...known))}`;
  return (
    <View className="gap-2 pt-4">
      <Text kind="label">{found.length === 1 ? found[0]?.clip.name : `${found.length} clips`}</Text>
      <Text kind="note" testID="clips-loudness">
        {range}
      </Text>
      <View className="rounded-2xl bg-raised px-4">
        <TargetFigure target={target} onChange={setTarget} testID="clips-target" />
      </View>
      <Button
        label={`Bring ${found.length === 1 ? 'it' : 'them'} to ${lufs(target)}`}
        disabled={known.length === 0}
        onPress={bring}
        testID="bring-clips"
      />
    </View>
  );
}
