import { doubledSound } from '@flimzy/core/analyse';
import type { Clip, Track } from '@flimzy/core/piece';
import { LEVEL_MIN } from '@flimzy/core/properties';
import { formatTimecode } from '@flimzy/core/time';
import { useMemo } from 'react';
import { say } from '../look/Toast';
import { edit, useSettledPiece } from '../open/editor';
import type { Column } from './columns';
import { toPixels, toTime } from './scale';
import { HEADS } from './TrackHeads';

/** In sight while any of the stretch is, under the heads of the tracks. */
const MARK = {
  position: 'sticky',
  top: HEADS + 4,
  display: 'block',
  margin: '2px auto',
  width: '92%',
  minHeight: 44,
  boxSizing: 'border-box',
  padding: '4px 2px',
  border: 0,
  borderRadius: 6,
  background: 'var(--c-warn)',
  color: 'var(--c-onpaper)',
  fontFamily: 'InstrumentSans_600SemiBold',
  fontSize: 10,
  lineHeight: '14px',
  pointerEvents: 'auto',
  cursor: 'pointer',
} as const;

function silence(clip: Clip, track: Track): void {
  if (edit('set', { clips: [clip.id], values: { level: LEVEL_MIN } })) say(`${clip.name} is silent on ${track.name}; the other is heard.`);
}

interface DoubledMarksProps {
  columns: readonly Column[];
  zoom: number;
  viewTop: number;
  viewBottom: number;
}

/** Marks where the same sound is heard twice at almost the same time; touching one silences the clip it stands on. */
export function DoubledMarks({ columns, zoom, viewTop, viewBottom }: DoubledMarksProps) {
  const piece = useSettledPiece();
  const all = useMemo(() => (piece ? doubledSound(piece) : []), [piece]);
  const seen = all.filter(({ from, to }) => from < toTime(viewBottom, zoom) && to > toTime(viewTop, zoom));
  if (!piece || seen.length === 0) return null;
  const { rate } = piece.format;
  return seen.flatMap(({ clips, from, to }) =>
    clips.flatMap((clip) => {
      const column = columns.find(({ track }) => track.clips.some((one) => one.id === clip.id));
      if (!column) return [];
      const { left, width } = column.own ?? column;
      return [
        <div
          key={`${clip.id} ${clips[0].id} ${clips[1].id}`}
          style={{
            position: 'absolute',
            top: toPixels(from, zoom),
            left,
            width,
            height: Math.max(52, toPixels(to - from, zoom)),
            boxSizing: 'border-box',
            border: '1.5px dashed var(--c-warn)',
            borderRadius: 7,
            pointerEvents: 'none',
            zIndex: 4,
          }}
        >
          <button
            data-head
            data-testid="doubled"
            aria-label={`The sound of ${clip.name} is heard twice from ${formatTimecode(from, rate)}: silence it here, on ${column.track.name}`}
            onClick={() => silence(clip, column.track)}
            style={MARK}
          >
            Twice: silence
          </button>
        </div>,
      ];
    }),
  );
}
