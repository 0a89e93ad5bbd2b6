import { PEAK_BINS, pauseLevel, pausesIn, type Pause } from '@flimzy/core/analyse';
import { findClip, isHeard } from '@flimzy/core/piece';
import { formatTimecode, fromSeconds } from '@flimzy/core/time';
import { useQueries } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { Pressable, View } from 'react-native';
import { Button } from '../look/Button';
import { Dock } from '../look/Dock';
import { FigureField } from '../look/Field';
import { Text } from '../look/Text';
import { fetchPeaks } from '../material/peaks';
import { edit, moveTo, useEditor, usePiece } from '../open/editor';
import { closePanel, usePanel } from '../open/panels';
import { keepOrTake, pauseName, usePauses } from '../open/pauses';

const seconds = (text: string) => Number(text.replace(',', '.').replace(/s$/, '').trim());

const dataOf = (all: readonly { data: Int8Array | undefined }[]) => all.map((one) => one.data);

/** Finds the pauses of the selected clips, shows them here and on the timeline, and takes out those that are wanted out. */
export function PausesPanel() {
  const open = usePanel((s) => s.panel?.name === 'pauses');
  return open ? <Pauses /> : null;
}

function Pauses() {
  const piece = usePiece();
  const selected = useEditor((s) => s.selected);
  const reach = useEditor((s) => s.reach);
  const kept = usePauses((s) => s.kept);
  const [chosenLevel, setLevel] = useState<number | null>(null);
  const [least, setLeast] = useState(0.4);
  const [breath, setBreath] = useState(0.12);
  const clips = useMemo(
    () => (piece ? selected.flatMap((id) => findClip(piece, id)?.clip ?? []).filter((c) => isHeard(c, piece.media[c.media])) : []),
    [piece, selected],
  );
  const media = [...new Set(clips.map((clip) => clip.media))].filter((id) => !piece?.nests?.[id]);
  const results = useQueries({
    queries: media.map((id) => ({
      queryKey: ['peaks', id, PEAK_BINS[0]],
      staleTime: Infinity,
      queryFn: () => fetchPeaks(id, PEAK_BINS[0]),
    })),
    combine: dataOf,
  });
  const [first] = results;
  const ready = results.every(Boolean);
  const suggested = useMemo(() => (first ? pauseLevel({ bin: PEAK_BINS[0], data: first }) : -38), [first]);
  const level = chosenLevel ?? suggested;
  const pauses = useMemo((): Pause[] => {
    if (!piece || !ready) return [];
    const wish = { level, least: fromSeconds(least), breath: fromSeconds(breath) };
    return clips.flatMap((clip) => {
      const data = results[media.indexOf(clip.media)];
      return data ? pausesIn(piece, clip, { bin: PEAK_BINS[0], data }, wish) : [];
    });
    // oxlint-disable-next-line react-hooks/exhaustive-deps -- media is another list each time; it changes with the clips
  }, [piece, clips, results, ready, level, least, breath]);
  useEffect(() => usePauses.setState({ found: pauses }), [pauses]);
  useEffect(() => () => usePauses.setState({ found: [], kept: new Set() }), []);
  if (!piece) return null;
  const { rate } = piece.format;
  const out = pauses.filter((pause) => !kept.has(pauseName(pause)));
  const total = out.reduce((sum, pause) => sum + pause.to - pause.from, 0);
  const takeOut = () => {
    if (edit('takeOutParts', { parts: out, rest: 'close', tracks: reach })) closePanel();
  };
  return (
    <Dock
      title="Pauses"
      onClose={closePanel}
      testID="pauses-sheet"
      footer={
        <Button
          label={out.length === 0 ? 'Nothing to take out' : `Take out ${out.length}, ${formatTimecode(total, rate)} shorter`}
          kind="main"
          disabled={out.length === 0}
          onPress={takeOut}
          testID="take-pauses"
        />
      }
    >
      <View className="rounded-2xl bg-raised px-4">
        <FigureField
          label="Quieter than"
          testID="pause-level"
          value={`${String(level).replace('-', '−')} dB`}
          onStep={(by) => setLevel(Math.max(-60, Math.min(-6, level + by)))}
          onSubmit={(text) => {
            const value = Number(text.replace('−', '-').replace(/db/i, '').trim());
            if (!Number.isFinite(value) || value > -6 || value < -60) return 'A level between −60 and −6 dB.';
            setLevel(value);
            return null;
          }}
        />
        <FigureField
          label="Longer than"
          testID="pause-least"
          value={`${least.toFixed(2)} s`}
          onStep={(by) => setLeast(Math.max(0.1, least + by * 0.05))}
          onSubmit={(text) => {
            const value = seconds(text);
            if (!(value >= 0.1 && value <= 30)) return 'Seconds, between 0.1 and 30.';
            setLeast(value);
            return null;
          }}
        />
        <FigureField
          label="Breath left on either side"
          testID="pause-breath"
          value={`${breath.toFixed(2)} s`}
          onStep={(by) => setBreath(Math.max(0, breath + by * 0.02))}
          onSubmit={(text) => {
            const value = seconds(text);
            if (!(value >= 0 && value <= 5)) return 'Seconds, between 0 and 5.';
            setBreath(value);
            return null;
          }}
        />
      </View>
      {clips.length === 0 ? (
        <Text kind="note" className="pt-4">
          Select clips with sound first, then look for their pauses.
        </Text>
      ) : null}
      {clips.length > 0 && !ready ? (
        <Text kind="note" className="pt-4">
          Listening …
        </Text>
      ) : null}
      {clips.length > 0 && ready && pauses.length === 0 ? (
        <Text kind="note" className="pt-4">
          No pause like that. Raise the level, or take shorter ones too.
        </Text>
      ) : null}
      <View className="pt-3">
        {pauses.map((pause) => {
          const wanted = !kept.has(pauseName(pause));
          return (
            <View key={pauseName(pause)} testID="pause" className="min-h-[48px] flex-row items-center gap-3">
              <Pressable
                accessibilityRole="checkbox"
                accessibilityLabel={`Take out the pause at ${formatTimecode(pause.from, rate)}`}
                aria-checked={wanted}
                onPress={() => keepOrTake(pause)}
                className={`h-7 w-7 items-center justify-center rounded-lg border ${wanted ? 'border-paper bg-paper' : 'border-hairline'}`}
              >
                <Text kind="small" className="text-onpaper">
                  {wanted ? '✓' : ''}
                </Text>
              </Pressable>
              <Pressable
                accessibilityRole="button"
                accessibilityLabel={`Go to ${formatTimecode(pause.from, rate)}`}
                className="min-h-[44px] flex-1 flex-row items-center justify-between"
                onPress={() => moveTo(pause.from)}
              >
                <Text kind="figure">{formatTimecode(pause.from, rate)}</Text>
                <Text kind="figure" className="text-muted">
                  {formatTimecode(pause.to - pause.from, rate)}
                </Text>
              </Pressable>
            </View>
          );
        })}
      </View>
    </Dock>
  );
}
