import type { MediaItem } from '@flimzy/contract';
import { isStill, type Clip, type MediaFacts } from '@flimzy/core/piece';
import { formatTimecode, type Rate } from '@flimzy/core/time';
import { memo } from 'react';
import { touchClip } from '../editing/editor';
import { Filmstrip } from './Filmstrip';
import { NestInside } from './NestInside';
import { toPixels } from './scale';
import { HEADS } from './TrackHeads';
import { Waveform } from './Waveform';

export interface ClipBlockProps {
  clip: Clip;
  media: MediaFacts | undefined;
  item: MediaItem | undefined;
  kind: 'picture' | 'sound';
  rate: Rate;
  zoom: number;
  left: number;
  width: number;
  selected: boolean;
  /** Its ends can be pulled: standing out where it alone is selected, within it where its neighbours may be too. */
  ends: 'none' | 'out' | 'in';
  lifted: boolean;
  /** It would move, though it is not held. */
  stirred: boolean;
  /** Its track is hidden. */
  faded: boolean;
  /** Frames by which it stands apart from what it is linked with; null when it is in step. */
  offset: number | null;
  /** The part of the timeline in view, in pixels from its top. */
  viewTop: number;
  viewBottom: number;
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

/** Words on a clip; over a picture they are white with a shadow, whatever the theme. */
const written = (over: boolean) =>
  ({
    overflow: 'hidden',
    textOverflow: 'ellipsis',
    whiteSpace: 'nowrap',
    pointerEvents: 'none',
    lineHeight: '14px',
    color: over ? '#fff' : 'var(--c-ink)',
    textShadow: over ? '0 0 3px rgba(0,0,0,0.9), 0 1px 2px rgba(0,0,0,0.8)' : undefined,
  }) as const;

/** The name of a clip: at its top, or, while that is scrolled away, under the names of the tracks. */
function Name({ text, over }: { text: string; over: boolean }) {
  const place = { position: 'sticky', top: HEADS, display: 'block', height: 14, margin: '3px 4px 0 5px', zIndex: 1 } as const;
  return <span style={{ ...written(over), ...place, fontFamily: 'InstrumentSans_500Medium', fontSize: 11 }}>{text}</span>;
}

function Length({ text, over }: { text: string; over: boolean }) {
  const place = { position: 'absolute', left: 5, right: 4, bottom: 3 } as const;
  return <span style={{ ...written(over), ...place, fontFamily: 'DMMono_500Medium', fontSize: 10 }}>{text}</span>;
}

/** What a clip stands on: a nest shows layers, a picture plain ground, sound its tone. */
function groundOf(kind: 'picture' | 'sound', media: MediaFacts | undefined): string {
  if (media?.kind === 'nest')
    return 'repeating-linear-gradient(0deg, var(--c-raised) 0 14px, color-mix(in srgb, var(--c-ink) 14%, var(--c-raised)) 14px 16px)';
  if (kind === 'picture') return 'var(--c-raised)';
  return `color-mix(in srgb, ${media?.kind === 'sound' ? 'var(--c-music) 16%' : 'var(--c-speech) 13%'}, var(--c-panel))`;
}

/** A word in the corner of a clip: that it stands still, or by how many frames it is out of step. */
function Badge({ text, warn = false }: { text: string; warn?: boolean }) {
  return (
    <span
      data-testid={warn ? 'out-of-step' : undefined}
      style={{
        position: 'absolute',
        right: 3,
        top: 20,
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

/** A clip on its track: frames or waveform, with its name and length. */
export const ClipBlock = memo(function ClipBlock({
  clip,
  media,
  item,
  kind,
  rate,
  zoom,
  left,
  width,
  selected,
  ends,
  lifted,
  stirred,
  faded,
  offset,
  viewTop,
  viewBottom,
}: ClipBlockProps) {
  const top = toPixels(clip.start, zoom);
  const height = Math.max(2, toPixels(clip.length, zoom) - 2);
  const seenTop = Math.max(0, viewTop - top);
  const seenBottom = Math.min(height, viewBottom - top);
  const length = formatTimecode(clip.length, rate);
  const roomy = height > 40;
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
        top,
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
      <div
        style={{
          position: 'absolute',
          inset: 0,
          overflow: 'hidden',
          borderRadius: 7,
          background: groundOf(kind, media),
          boxShadow: selected ? '0 0 0 2.5px var(--c-paper)' : lifted ? '0 8px 24px rgba(0,0,0,0.5)' : 'none',
          outline: stirred ? '2px dashed var(--c-ink)' : undefined,
          outlineOffset: -2,
        }}
      >
        {media?.kind === 'nest' ? (
          <NestInside clip={clip} kind={kind} zoom={zoom} width={width} viewTop={seenTop} viewBottom={seenBottom} />
        ) : null}
        {kind === 'picture' && item?.filmstrip && media ? (
          <Filmstrip
            media={clip.media}
            strip={item.filmstrip}
            from={clip.hold ?? clip.from}
            still={isStill(clip, media)}
            width={width}
            zoom={zoom}
            viewTop={seenTop}
            viewBottom={seenBottom}
          />
        ) : null}
        {kind === 'sound' && media?.kind !== 'nest' ? (
          <Waveform
            media={clip.media}
            there={item?.hasPeaks ?? false}
            from={clip.from}
            viewTop={seenTop}
            viewBottom={seenBottom}
            width={width}
            zoom={zoom}
            level={clip.level}
            colour={media?.kind === 'sound' ? 'var(--c-music)' : 'var(--c-speech)'}
          />
        ) : null}
        {clip.hold !== undefined ? <Badge text="still" /> : null}
        {media?.kind === 'nest' ? <Badge text="nest" /> : null}
        {offset !== null ? <Badge text={`${offset > 0 ? '+' : '−'}${Math.abs(offset)} f`} warn /> : null}
        {roomy ? <Length text={length} over={kind === 'picture'} /> : null}
      </div>
      {height > 18 ? <Name text={clip.name} over={kind === 'picture'} /> : null}
      {ends === 'out' || (ends === 'in' && height >= ROOM_WITHIN) ? (
        <>
          <Handle clip={clip} edge="head" height={height} within={ends === 'in'} />
          <Handle clip={clip} edge="tail" height={height} within={ends === 'in'} />
        </>
      ) : null}
    </div>
  );
});
