import type { MediaItem } from '@flimzy/contract';
import { changedFields } from '@flimzy/core/edits';
import type { Clip, MediaFacts } from '@flimzy/core/piece';
import { overlayName } from '@flimzy/core/properties';
import { formatTimecode, type Rate } from '@flimzy/core/time';
import { memo } from 'react';
import { Material } from './Material';
import { NestInside } from './NestInside';
import { HEADS } from './TrackHeads';

export interface ClipFaceProps {
  clip: Clip;
  media: MediaFacts | undefined;
  item: MediaItem | undefined;
  kind: 'picture' | 'sound';
  /** The colour of its sound. */
  tone: string;
  rate: Rate;
  zoom: number;
  width: number;
  height: number;
  selected: boolean;
  lifted: boolean;
  /** It would move, though it is not held. */
  stirred: boolean;
  /** Frames by which it stands apart from what it is linked with; null when it is in step. */
  offset: number | null;
  /** The part of the clip in view, in pixels from its top. */
  seenTop: number;
  seenBottom: number;
}

/** Words on a clip; over a picture they are white on a dark plate, whatever the theme. */
const written = (over: boolean) =>
  ({
    overflow: 'hidden',
    textOverflow: 'ellipsis',
    whiteSpace: 'nowrap',
    pointerEvents: 'none',
    lineHeight: '14px',
    color: over ? '#fff' : 'var(--c-ink)',
    width: 'fit-content',
    borderRadius: 4,
    padding: over ? '0 3px' : 0,
    background: over ? 'rgba(0,0,0,0.72)' : undefined,
  }) as const;

/** The name of a clip: at its top, or, while that is scrolled away, under the names of the tracks. */
function Name({ text, over, lines = 1 }: { text: string; over: boolean; lines?: number }) {
  const place = {
    position: 'sticky',
    top: HEADS,
    display: 'block',
    height: lines > 1 ? 'fit-content' : 14,
    maxHeight: 14 * lines,
    whiteSpace: lines > 1 ? 'pre-wrap' : 'nowrap',
    maxWidth: 'calc(100% - 8px)',
    margin: '3px 4px 0',
    boxSizing: 'border-box',
    zIndex: 1,
  } as const;
  return <span style={{ ...written(over), ...place, fontFamily: 'InstrumentSans_500Medium', fontSize: 11 }}>{text}</span>;
}

function Length({ text, over }: { text: string; over: boolean }) {
  const place = { position: 'absolute', left: 4, bottom: 3 } as const;
  return <span style={{ ...written(over), ...place, fontFamily: 'DMMono_500Medium', fontSize: 10 }}>{text}</span>;
}

/** What a clip stands on: a nest shows layers, a picture plain ground, sound its tone. */
function groundOf(kind: 'picture' | 'sound', media: MediaFacts | undefined, tone: string): string {
  if (media?.kind === 'nest')
    return 'repeating-linear-gradient(0deg, var(--c-raised) 0 14px, color-mix(in srgb, var(--c-ink) 14%, var(--c-raised)) 14px 16px)';
  if (media?.kind === 'overlay') return 'color-mix(in srgb, var(--c-paper) 26%, var(--c-raised))';
  if (kind === 'picture') return 'var(--c-raised)';
  return `color-mix(in srgb, ${tone} 15%, var(--c-panel))`;
}

/** The box of a clip, or of its own sound. */
export const boxOf = (kind: 'picture' | 'sound', media: MediaFacts | undefined, tone: string) =>
  ({ position: 'absolute', inset: 0, overflow: 'hidden', borderRadius: 7, background: groundOf(kind, media, tone) }) as const;

/** A word in the corner of a clip: that it stands still, or by how many frames it is out of step. */
function Badge({ text, warn = false, row = 0 }: { text: string; warn?: boolean; row?: number }) {
  return (
    <span
      data-testid={warn ? 'out-of-step' : undefined}
      style={{
        position: 'absolute',
        right: 3,
        top: 20 + 18 * row,
        padding: '0 4px',
        borderRadius: 5,
        fontFamily: 'DMMono_500Medium',
        fontSize: 10,
        lineHeight: '15px',
        background: warn ? 'var(--c-warn)' : 'var(--c-paper)',
        color: 'var(--c-onpaper)',
        zIndex: 1,
      }}
    >
      {text}
    </span>
  );
}

/** How fast it runs; a minus is backwards. */
const speedBadge = (speed: number) => `${speed < 0 ? '−' : ''}${Math.round(Math.abs(speed) * 100)} %`;

/** What is to be known of a clip at a glance. */
function badgesOf(clip: Clip, media: MediaFacts | undefined): string[] {
  return [
    ...(clip.hold !== undefined ? ['still'] : clip.speed !== undefined ? [speedBadge(clip.speed)] : []),
    ...(media?.kind === 'nest' ? ['nest'] : []),
    ...(clip.effects !== undefined ? ['look'] : []),
  ];
}

/** Says of a clip that is not held that it would move. */
function Moves({ over }: { over: boolean }) {
  const line = `2px dashed ${over ? '#fff' : 'var(--c-ink)'}`;
  return (
    <div
      data-testid="would-move"
      style={{
        position: 'absolute',
        inset: 0,
        border: line,
        borderRadius: 7,
        boxShadow: over ? 'inset 0 0 0 2px rgba(0,0,0,0.55)' : undefined,
        pointerEvents: 'none',
      }}
    />
  );
}

/** Whether a clip looks the same in two states: it may stand at another time. */
export function looksAlike<P extends { clip: Clip }>(was: P, now: P): boolean {
  return (Object.keys(now) as (keyof P)[]).every((key) =>
    key === 'clip' ? changedFields(was.clip, now.clip).every((field) => field === 'start') : Object.is(was[key], now[key]),
  );
}

/** What a clip shows, wherever it stands: not drawn again for hundreds of clips that only move. */
export const ClipFace = memo(function ClipFace({
  clip,
  media,
  item,
  kind,
  tone,
  rate,
  zoom,
  width,
  height,
  selected,
  lifted,
  stirred,
  offset,
  seenTop,
  seenBottom,
}: ClipFaceProps) {
  return (
    <>
      <div
        style={{
          ...boxOf(kind, media, tone),
          boxShadow: selected ? '0 0 0 2.5px var(--c-paper)' : lifted ? '0 8px 24px rgba(0,0,0,0.5)' : 'none',
        }}
      >
        {media?.kind === 'nest' ? (
          <NestInside clip={clip} kind={kind} zoom={zoom} width={width} viewTop={seenTop} viewBottom={seenBottom} />
        ) : (
          <Material {...{ clip, media, item, kind, tone, zoom, width }} viewTop={seenTop} viewBottom={seenBottom} />
        )}
        {badgesOf(clip, media).map((text, n) => (
          <Badge key={text} text={text} row={n} />
        ))}
        {offset !== null ? <Badge text={`${offset > 0 ? '+' : '−'}${Math.abs(offset)} f`} warn row={badgesOf(clip, media).length} /> : null}
        {height > 40 ? <Length text={formatTimecode(clip.length, rate)} over={kind === 'picture'} /> : null}
        {stirred ? <Moves over={kind === 'picture'} /> : null}
      </div>
      {height > 18 ? (
        <Name
          text={clip.overlay ? overlayName(clip.overlay) : clip.name}
          lines={clip.overlay ? Math.max(1, Math.floor((height - 24) / 14)) : 1}
          over={kind === 'picture'}
        />
      ) : null}
    </>
  );
}, looksAlike);
