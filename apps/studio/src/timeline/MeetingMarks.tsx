import { findClip, meetingInto, meetingOut, type Clip, type Meeting } from '@flimzy/core/piece';
import { TRANSITION_NAMES } from '@flimzy/core/properties';
import { frameLength } from '@flimzy/core/time';
import { memo } from 'react';
import { usePiece } from '../open/editor';
import { toPixels } from './scale';

interface MeetingMarksProps {
  clip: Clip;
  zoom: number;
  width: number;
}

/** Where a clip's picture comes in over the one before it or out of nothing, and where it goes: to be pulled longer, and touched. */
export const MeetingMarks = memo(function MeetingMarks({ clip, zoom, width }: MeetingMarksProps) {
  const piece = usePiece();
  const found = piece && findClip(piece, clip.id);
  if (!found) return null;
  const frame = frameLength(piece.format.rate);
  return (
    <>
      <Mark meeting={meetingInto(found.track, found.index, frame)} clip={clip} zoom={zoom} width={width} />
      <Mark meeting={meetingOut(found.track, found.index, frame)} clip={clip} zoom={zoom} width={width} end />
    </>
  );
});

function Mark({ meeting, clip, zoom, width, end = false }: MeetingMarksProps & { meeting: Meeting | null; end?: boolean }) {
  if (!meeting) return null;
  const height = toPixels(meeting.to - meeting.from, zoom);
  const top = toPixels(meeting.from - clip.start, zoom);
  const name = TRANSITION_NAMES[meeting.transition.kind];
  // Not wider to touch than the middle of the clip: beside it the join itself and the clips are touched.
  const reach = Math.max(height, 30);
  return (
    <>
      <svg
        width={width}
        height={height}
        data-testid="meeting"
        style={{ position: 'absolute', left: 0, top, pointerEvents: 'none', zIndex: 3, overflow: 'visible' }}
        aria-hidden
      >
        <rect x={1} y={0} width={width - 2} height={height} fill="rgba(0,0,0,0.35)" stroke="#fff" strokeWidth={1.2} />
        <path d={`M1 ${height}L${width - 1} 0`} stroke="#fff" strokeWidth={1.2} />
      </svg>
      <div
        data-handle={end ? 'meet-end' : 'meet'}
        data-clip={clip.id}
        role="slider"
        aria-valuenow={0}
        aria-label={`${name} ${end ? 'at the end of' : 'before'} ${clip.name}: pull to make it longer or shorter, touch for more`}
        style={{
          position: 'absolute',
          left: width / 2 - 20,
          width: 40,
          top: top + height / 2 - reach / 2,
          height: reach,
          touchAction: 'none',
          cursor: 'ns-resize',
          zIndex: 4,
        }}
      />
    </>
  );
}
