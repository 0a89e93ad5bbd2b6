import EyeOff from 'lucide-react-native/icons/eye-off';
import Headphones from 'lucide-react-native/icons/headphones';
import Lock from 'lucide-react-native/icons/lock';
import VolumeX from 'lucide-react-native/icons/volume-x';
import type { Track } from '@flimzy/core/piece';
import { memo } from 'react';
import { openPanel } from '../open/panels';
import type { Column } from './columns';

/** Height of the names of tracks, in pixels: what a thumb needs. The name itself is drawn lower. */
export const HEADS = 44;
const NAME = 30;

const STATES = [
  ['locked', Lock, 'locked'],
  ['hidden', EyeOff, 'hidden'],
  ['muted', VolumeX, 'muted'],
  ['solo', Headphones, 'solo'],
] as const;

/** In words what a track is and what state it is in. */
function words(track: Track, covers: boolean): string {
  const states = STATES.filter(([flag]) => track[flag]).map(([, , word]) => word);
  const covering = covers ? ', covers the tracks to its left' : '';
  return `Track ${track.name}: ${track.kind}${covering}${states.length ? `, ${states.join(', ')}` : ''}. Open`;
}

const Head = memo(function Head({ track, left, width, covers }: { track: Track; left: number; width: number; covers: boolean }) {
  const on = STATES.filter(([flag]) => track[flag]);
  return (
    <button
      data-head={track.id}
      aria-label={words(track, covers)}
      onClick={() => openPanel({ name: 'track', track: track.id })}
      style={{
        position: 'absolute',
        left,
        top: 0,
        width,
        height: HEADS,
        padding: '2px 0 0',
        border: 0,
        background: 'transparent',
        display: 'flex',
        alignItems: 'flex-start',
        pointerEvents: 'auto',
        cursor: 'pointer',
      }}
    >
      <span
        style={{
          display: 'flex',
          alignItems: 'center',
          gap: 3,
          width: '100%',
          height: NAME,
          boxSizing: 'border-box',
          padding: '0 4px',
          borderRadius: 7,
          background: 'var(--c-panel)',
          color: 'var(--c-muted)',
          fontFamily: 'InstrumentSans_500Medium',
          fontSize: 11,
          overflow: 'hidden',
          whiteSpace: 'nowrap',
        }}
      >
        {on.map(([flag, Glyph]) => (
          <Glyph key={flag} size={12} color="var(--c-ink)" />
        ))}
        <span style={{ overflow: 'hidden', textOverflow: 'ellipsis' }}>{track.name}</span>
      </span>
    </button>
  );
});

/** The names of the tracks above their columns; they stay in view while time scrolls. */
export function TrackHeads({ columns, width, shift }: { columns: readonly Column[]; width: number; shift: number }) {
  return (
    <div
      data-testid="track-heads"
      style={{
        position: 'sticky',
        top: 0,
        zIndex: 4,
        width,
        height: HEADS,
        background: 'linear-gradient(var(--c-ground) 60%, transparent)',
        pointerEvents: 'none',
        transform: shift ? `translateY(${-shift}px)` : undefined,
      }}
    >
      {columns.map(({ track, left, width: w, own, covers }) => (
        <Head key={track.id} track={track} left={left} width={own ? own.left + own.width - left : w} covers={covers} />
      ))}
    </div>
  );
}
