import type { MediaItem } from '@flimzy/contract';
import { clipEnd, indexAt, isHeard, pieceLength, soundSpan, apartBy, type Clip, type Piece } from '@flimzy/core/piece';
import { formatTimecode, frameLength, type Flicks } from '@flimzy/core/time';
import { memo } from 'react';
import { currentPiece, useEditor } from '../open/editor';
import { Text } from '../look/Text';
import { ClipBlock } from './ClipBlock';
import type { Column } from './columns';
import { DoubledMarks } from './DoubledMarks';
import { toneOf } from './Material';
import { OwnSound } from './OwnSound';
import { PauseBands } from './PauseBands';
import { partInView, toPixels, toTime } from './scale';
import { useShowing } from './showing';

interface TracksProps {
  piece: Piece;
  columns: readonly Column[];
  width: number;
  byId: ReadonlyMap<string, MediaItem>;
  zoom: number;
  viewTop: number;
  viewBottom: number;
}

const NOBODY: ReadonlySet<string> = new Set();

/** Everything on the timeline that is in view. */
export const Tracks = memo(function Tracks({ piece, columns, width, byId, zoom, viewTop, viewBottom }: TracksProps) {
  const { show, box } = useShowing();
  const selected = useEditor((s) => s.selected);
  const original = currentPiece();
  const starts = original && original !== piece ? startsIn(original) : null;
  const chosen = new Set(selected);
  return (
    <>
      {columns.map((column) => (
        <TrackColumn
          key={column.track.id}
          piece={piece}
          column={column}
          starts={starts}
          byId={byId}
          zoom={zoom}
          chosen={chosen}
          single={selected.length === 1 ? (selected[0] ?? null) : null}
          lifted={show?.kind === 'move' ? show.clips : []}
          stirred={show?.stirred ?? NOBODY}
          viewTop={viewTop}
          viewBottom={viewBottom}
        />
      ))}
      <DoubledMarks columns={columns} zoom={zoom} viewTop={viewTop} viewBottom={viewBottom} />
      <Stretch zoom={zoom} width={width} />
      {show?.caught !== null && show?.caught !== undefined ? (
        <div
          aria-hidden
          style={{
            position: 'absolute',
            top: toPixels(show.caught, zoom) - 1,
            left: 0,
            right: 0,
            borderTop: '2px dashed var(--c-ink)',
            zIndex: 4,
          }}
        />
      ) : null}
      {box ? (
        <div
          aria-hidden
          data-testid="box"
          style={{
            position: 'absolute',
            left: box.left,
            top: box.top,
            width: box.right - box.left,
            height: box.bottom - box.top,
            border: '1.5px dashed var(--c-ink)',
            background: 'color-mix(in srgb, var(--c-ink) 8%, transparent)',
            zIndex: 4,
          }}
        />
      ) : null}
      {show && original && pieceLength(original) !== pieceLength(piece) ? (
        <div
          aria-hidden
          style={{ position: 'absolute', top: toPixels(pieceLength(piece), zoom) + 6, left: columns[0]?.left ?? 44, whiteSpace: 'nowrap' }}
        >
          <Text kind="small">ends {formatTimecode(pieceLength(piece), piece.format.rate)}</Text>
        </div>
      ) : null}
    </>
  );
});

const stood = new WeakMap<Piece, Map<string, Flicks>>();

/** When every clip begins, by id: gathered once for every state of the piece. */
function startsIn(piece: Piece): Map<string, Flicks> {
  const starts = stood.get(piece) ?? new Map(piece.tracks.flatMap(({ clips }) => clips.map((clip) => [clip.id, clip.start] as const)));
  stood.set(piece, starts);
  return starts;
}

interface ColumnProps {
  piece: Piece;
  column: Column;
  /** When clips begin without what is being dragged; null when nothing is. */
  starts: ReadonlyMap<string, Flicks> | null;
  byId: ReadonlyMap<string, MediaItem>;
  zoom: number;
  chosen: ReadonlySet<string>;
  single: string | null;
  lifted: readonly string[];
  stirred: ReadonlySet<string>;
  viewTop: number;
  viewBottom: number;
}

/** One track: only the clips in view are there. */
function TrackColumn({ piece, column, starts, byId, zoom, chosen, single, lifted, stirred, viewTop, viewBottom }: ColumnProps) {
  const { track, left, width, own } = column;
  const { rate } = piece.format;
  const [from, to] = [toTime(viewTop, zoom), toTime(viewBottom, zoom)];
  const picture = track.kind === 'picture';
  const drawn: React.JSX.Element[] = [];
  for (let i = Math.max(0, indexAt(track, from) - 1); i < track.clips.length; i += 1) {
    const clip = track.clips[i] as Clip;
    const before = track.clips[i - 1];
    const gapFrom = before ? clipEnd(before) : 0;
    if (gapFrom > to) break;
    const item = byId.get(clip.media);
    const media = piece.media[clip.media];
    const offset = clip.link ? apartBy(piece, clip) : 0;
    const shared = { clip, by: clip.start - (starts?.get(clip.id) ?? clip.start), item, zoom };
    if (picture && track === piece.tracks[0] && clip.start > gapFrom)
      drawn.push(
        <Gap
          key={`gap ${clip.id}`}
          top={toPixels(gapFrom, zoom)}
          height={toPixels(clip.start - gapFrom, zoom)}
          left={left}
          width={width}
          label={formatTimecode(clip.start - gapFrom, rate)}
        />,
      );
    if (clip.start < to && clipEnd(clip) > from)
      drawn.push(
        <ClipBlock
          key={clip.id}
          {...shared}
          {...partInView(clip.start, clip.length, zoom, viewTop, viewBottom)}
          media={media}
          kind={track.kind}
          tone={toneOf(media, track.role)}
          rate={rate}
          left={left}
          width={width}
          selected={chosen.has(clip.id)}
          ends={track.locked || !chosen.has(clip.id) ? 'none' : single === null ? 'in' : 'out'}
          lifted={lifted.includes(clip.id)}
          stirred={stirred.has(clip.id)}
          faded={Boolean(track.hidden) && picture}
          offset={offset === 0 ? null : Math.round(offset / frameLength(rate))}
        />,
      );
    const span = soundSpan(clip);
    if (own && isHeard(clip, media) && span.start < to && span.end > from)
      drawn.push(
        <OwnSound
          key={`own ${clip.id}`}
          {...shared}
          {...partInView(span.start, span.end - span.start, zoom, viewTop, viewBottom)}
          left={own.left}
          width={own.width}
          pullable={single === clip.id && !track.locked}
          muted={track.muted}
        />,
      );
  }
  return (
    <>
      {drawn}
      <PauseBands column={column} zoom={zoom} rate={rate} />
    </>
  );
}

/** The stretch between in and out: a band across all tracks. */
function Stretch({ zoom, width }: { zoom: number; width: number }) {
  const markIn = useEditor((s) => s.markIn);
  const markOut = useEditor((s) => s.markOut);
  if (markIn === null && markOut === null) return null;
  const from = markIn ?? markOut ?? 0;
  const to = markOut ?? markIn ?? 0;
  return (
    <div
      data-testid="stretch"
      aria-hidden
      style={{
        position: 'absolute',
        left: 0,
        width,
        top: toPixels(from, zoom),
        height: Math.max(0, toPixels(to - from, zoom)),
        borderTop: markIn === null ? undefined : '2px solid var(--c-ink)',
        borderBottom: markOut === null ? undefined : '2px solid var(--c-ink)',
        background: 'repeating-linear-gradient(45deg, color-mix(in srgb, var(--c-ink) 13%, transparent) 0 6px, transparent 6px 12px)',
        pointerEvents: 'none',
        zIndex: 3,
      }}
    />
  );
}

/** Empty room on the picture track: black in the piece. */
function Gap({ top, height, left, width, label }: { top: number; height: number; left: number; width: number; label: string }) {
  return (
    <div
      data-testid="gap"
      style={{
        position: 'absolute',
        top,
        left,
        width,
        height: height - 2,
        boxSizing: 'border-box',
        border: '1px dashed var(--c-hairline)',
        borderRadius: 7,
        display: 'flex',
        alignItems: 'center',
        justifyContent: 'center',
      }}
    >
      {height > 30 ? <Text kind="small">gap {label}</Text> : null}
    </div>
  );
}
