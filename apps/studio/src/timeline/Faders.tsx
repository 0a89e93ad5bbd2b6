import type { EditParams } from '@flimzy/core/edits';
import type { Piece, Track } from '@flimzy/core/piece';
import { LEVEL_MAX, LEVEL_MIN, sayLevel } from '@flimzy/core/properties';
import { memo, useEffect, useRef, useState } from 'react';
import { dbOf, upMeter } from '../look/level';
import { currentPiece, edit, tryEdit, useEditor } from '../open/editor';
import { openPanel } from '../open/panels';
import type { Column } from './columns';

/** Height of the faders, and of the strip they stand in, in pixels. */
const TRAVEL = 104;
export const FADERS = 232;

/** How high a meter stands, 0 to 1. */
const share = (peak: number) => upMeter(dbOf(peak));

/** What a track adds to the piece just now: peak, with a line that holds for a while, and a mark that stays when it was too loud. */
const TrackMeter = memo(function TrackMeter({ track }: { track: string }) {
  const bar = useRef<HTMLDivElement>(null);
  const line = useRef<HTMLDivElement>(null);
  const [over, setOver] = useState(false);
  const playing = useEditor((s) => s.playing);
  useEffect(() => {
    if (!playing) return;
    let [shown, held, since] = [0, 0, 0];
    let turn = 0;
    const follow = (now: number) => {
      const peak = useEditor.getState().engine?.trackPeak(track) ?? 0;
      shown = Math.max(peak, shown * 0.9);
      if (peak >= held || now - since > 1_500) [held, since] = [peak, now];
      if (bar.current) bar.current.style.transform = `scaleY(${share(shown)})`;
      if (line.current) line.current.style.transform = `translateY(${-share(held) * TRAVEL}px)`;
      if (peak > 1) setOver(true);
      turn = requestAnimationFrame(follow);
    };
    turn = requestAnimationFrame(follow);
    const node = bar.current;
    return () => {
      cancelAnimationFrame(turn);
      if (node) node.style.transform = 'scaleY(0)';
    };
  }, [playing, track]);
  return (
    <button
      aria-label={over ? 'It was louder than full scale; touch to clear the mark' : 'Meter of the track'}
      onClick={() => setOver(false)}
      data-testid={`meter-${track}`}
      // Wider to touch than it is to see, without taking the fader's place in a narrow column.
      style={{ width: 24, height: TRAVEL, margin: '0 -7px', padding: '0 7px', border: 0, background: 'transparent' }}
    >
      <div style={{ position: 'relative', height: '100%', borderRadius: 4, background: 'var(--c-raised)', overflow: 'hidden' }}>
        <div
          ref={bar}
          style={{ position: 'absolute', inset: 0, background: 'var(--c-music)', transformOrigin: 'bottom', transform: 'scaleY(0)' }}
        />
        <div ref={line} style={{ position: 'absolute', left: 0, right: 0, bottom: 0, height: 2, background: 'var(--c-ink)' }} />
        {over ? <div style={{ position: 'absolute', left: 0, right: 0, top: 0, height: 10, background: 'var(--c-warn)' }} /> : null}
      </div>
    </button>
  );
});

const small = (on: boolean) =>
  ({
    width: '100%',
    height: 36,
    border: 0,
    borderRadius: 8,
    padding: 0,
    background: on ? 'var(--c-paper)' : 'var(--c-raised)',
    color: on ? 'var(--c-onpaper)' : 'var(--c-ink)',
    fontFamily: 'InstrumentSans_600SemiBold',
    fontSize: 12,
    cursor: 'pointer',
  }) as const;

/** Lets a piece that is only tried be heard, while it plays. */
const hear = (piece: Piece) => {
  const { playing, engine } = useEditor.getState();
  if (playing) engine?.setPiece(piece);
};

/** One track's fader under its own column: level, meter, mute and solo. While it is pulled the piece is heard as it would be. */
const Fader = memo(function Fader({ track, left, width }: { track: Track; left: number; width: number }) {
  const [pulled, setPulled] = useState<number | null>(null);
  // What is tried moves the others of a gang along; its own is where the finger is.
  const level = pulled ?? track.level ?? 0;
  const set = (values: EditParams<'setTrack'>['set']) => edit('setTrack', { track: track.id, set: values });
  const pull = (to: number) => {
    setPulled(to);
    const tried = tryEdit('setTrack', { track: track.id, set: { level: to } }, () => null);
    if (typeof tried !== 'string') hear(tried);
  };
  const keep = () => {
    if (pulled === null) return;
    setPulled(null);
    const was = currentPiece()?.tracks.find((one) => one.id === track.id)?.level ?? 0; // not that of what is tried
    if (pulled !== was) set({ level: pulled });
    else useEditor.setState({ draft: null });
  };
  return (
    <div
      data-fader={track.id}
      style={{
        position: 'absolute',
        left,
        bottom: 0,
        width,
        height: FADERS,
        boxSizing: 'border-box',
        padding: '8px 3px 6px',
        display: 'flex',
        flexDirection: 'column',
        alignItems: 'center',
        gap: 4,
        borderRadius: '10px 10px 0 0',
        background: 'var(--c-panel)',
        opacity: track.muted ? 0.65 : 1,
        boxShadow: track.gang ? 'inset 0 3px 0 var(--c-paper)' : undefined,
        pointerEvents: 'auto',
      }}
    >
      <div style={{ display: 'flex', gap: 4, alignItems: 'center', height: TRAVEL }}>
        <input
          type="range"
          aria-label={`Level of track ${track.name}${track.gang ? ', ganged' : ''}`}
          aria-valuetext={sayLevel(level)}
          data-testid={`fader-${track.id}`}
          min={LEVEL_MIN}
          max={LEVEL_MAX}
          step={0.5}
          value={level}
          disabled={Boolean(track.locked)}
          onChange={(event) => pull(Number(event.target.value))}
          onPointerUp={keep}
          onKeyUp={keep}
          onBlur={keep}
          style={{
            writingMode: 'vertical-lr',
            direction: 'rtl',
            width: 28,
            height: TRAVEL,
            margin: 0,
            accentColor: 'var(--c-paper)',
            touchAction: 'none',
          }}
        />
        <TrackMeter track={track.id} />
      </div>
      <button
        onClick={() => openPanel({ name: 'track', track: track.id })}
        aria-label={`Figures of track ${track.name}, level ${sayLevel(level)}`}
        style={{
          border: 0,
          background: 'transparent',
          color: 'var(--c-ink)',
          fontFamily: 'DMMono_500Medium',
          fontSize: 11,
          padding: 0,
          height: 22,
          whiteSpace: 'nowrap',
        }}
      >
        {sayLevel(level).replace(' dB', '')}
      </button>
      <div style={{ display: 'flex', flexDirection: 'column', gap: 4, width: '100%' }}>
        <button
          aria-pressed={track.muted}
          aria-label={`Mute track ${track.name}`}
          onClick={() => set({ muted: !track.muted })}
          style={small(track.muted)}
        >
          Mute
        </button>
        <button
          aria-pressed={Boolean(track.solo)}
          aria-label={`Hear track ${track.name} alone`}
          onClick={() => set({ solo: !track.solo })}
          style={small(Boolean(track.solo))}
        >
          Solo
        </button>
      </div>
    </div>
  );
});

/** The mixing view: each track's fader under its own column, in view while time scrolls. */
export function Faders({ columns, width }: { columns: readonly Column[]; width: number }) {
  return (
    <div
      data-testid="faders"
      data-head="faders"
      style={{
        position: 'absolute',
        left: 0,
        bottom: 0,
        width,
        height: FADERS,
        pointerEvents: 'none',
        background: 'linear-gradient(transparent, var(--c-ground) 30%)',
      }}
    >
      {columns.map(({ track, left, width: w, own }) => (
        <Fader key={track.id} track={track} left={left} width={own ? own.left + own.width - left : w} />
      ))}
    </div>
  );
}
