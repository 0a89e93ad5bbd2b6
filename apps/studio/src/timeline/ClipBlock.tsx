import type { Clip } from '@flimzy/core/piece';
import { formatTimecode, type Flicks } from '@flimzy/core/time';
import { memo } from 'react';
import { touchClip } from '../open/editor';
import { ClipFace, type ClipFaceProps } from './ClipFace';
import { KeyMarks } from './KeyMarks';
import { MeetingMarks } from './MeetingMarks';
import { standing } from './scale';
import { SoundShape } from './SoundShape';

export interface ClipBlockProps extends ClipFaceProps {
  left: number;
  /** How much later than without the drag it stands, in flicks: it is drawn where it stood and moved, which costs no painting. */
  by: Flicks;
  /** Its ends can be pulled: standing out where it alone is selected, within it where its neighbours may be too. */
  ends: 'none' | 'out' | 'in';
  /** Its track is hidden. */
  faded: boolean;
}

/** A clip must be this high for ends within it, so that there is room to touch the clip itself, in pixels. */
const ROOM_WITHIN = 120;

/** How far an end stands out of its clip, and how far its tab is moved within what can be touched, in pixels. */
function endPlace(height: number, within: boolean): { out: number; tab: number } {
  if (within) return { out: 0, tab: -12 };
  return height < 60 ? { out: -34, tab: 4 } : { out: -22, tab: -8 };
}

/** One end of a selected clip, to pull. */
function Handle({ clip, edge, height, within }: { clip: Clip; edge: 'head' | 'tail'; height: number; within: boolean }) {
  const { out, tab } = endPlace(height, within);
  return (
    <div
      data-handle={edge}
      data-clip={clip.id}
      role="slider"
      aria-label={edge === 'head' ? `Start of ${clip.name}` : `End of ${clip.name}`}
      aria-valuenow={0}
      style={{
        position: 'absolute',
        left: -4,
        right: -4,
        height: 44,
        [edge === 'head' ? 'top' : 'bottom']: out,
        display: 'flex',
        justifyContent: 'center',
        alignItems: 'center',
        touchAction: 'none',
        cursor: 'ns-resize',
        zIndex: 3,
      }}
    >
      <div
        style={{
          width: 46,
          height: 15,
          background: 'var(--c-paper)',
          display: 'flex',
          alignItems: 'center',
          justifyContent: 'center',
          borderRadius: (edge === 'head') === within ? '0 0 10px 10px' : '10px 10px 0 0',
          transform: `translateY(${edge === 'head' ? tab : -tab}px)`,
        }}
      >
        <div style={{ width: 18, height: 2.5, borderRadius: 2, background: 'var(--c-onpaper)' }} />
      </div>
    </div>
  );
}

/** A clip on its track: where it stands, and its ends to pull. */
export const ClipBlock = memo(function ClipBlock({ left, by, ends, faded, ...shown }: ClipBlockProps) {
  const { clip, media, kind, rate, zoom, width, height, selected, lifted } = shown;
  const length = formatTimecode(clip.length, rate);
  return (
    <div
      data-clip={clip.id}
      data-kind={kind}
      role="button"
      tabIndex={0}
      aria-pressed={selected}
      aria-label={`${clip.name}, from ${formatTimecode(clip.start, rate)}, ${length} long`}
      onKeyDown={(event) => {
        if (event.key !== 'Enter' || event.shiftKey || (selected && media?.kind === 'nest')) return;
        event.stopPropagation();
        touchClip(clip.id, event.ctrlKey || event.metaKey);
      }}
      style={{
        position: 'absolute',
        ...standing(clip.start, by, zoom),
        left,
        width,
        height,
        opacity: lifted ? 0.82 : faded ? 0.4 : 1,
        zIndex: selected || lifted ? 2 : 1,
        cursor: 'grab',
        userSelect: 'none',
        WebkitUserSelect: 'none',
      }}
    >
      <ClipFace {...shown} />
      {kind === 'picture' && (clip.transition || clip.ending) ? <MeetingMarks clip={clip} zoom={zoom} width={width} /> : null}
      {kind === 'picture' ? <KeyMarks clip={clip} zoom={zoom} held={ends === 'out'} /> : null}
      {kind === 'sound' && ends === 'out' ? <SoundShape clip={clip} zoom={zoom} width={width} /> : null}
      {ends === 'out' || (ends === 'in' && height >= ROOM_WITHIN) ? (
        <>
          <Handle clip={clip} edge="head" height={height} within={ends === 'in'} />
          <Handle clip={clip} edge="tail" height={height} within={ends === 'in'} />
        </>
      ) : null}
    </div>
  );
});
