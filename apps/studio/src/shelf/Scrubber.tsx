import type { MediaItem } from '@flimzy/contract';
import { PEAK_BINS } from '@flimzy/core/analyse';
import type { Range } from '@flimzy/core/piece';
import { toSeconds } from '@flimzy/core/time';
import Svg, { Path } from 'react-native-svg';
import { AS_IT_IS, usePeaks, waveformPath } from '../material/peaks';
import { StripPicture } from '../material/StripPicture';

const HEIGHT = 54;
const WAVE = 26;

/** An item lying across, frames above its waveform: a finger on it scrubs. In, out and kept ranges are marked. */
export function Filmstrip({
  item,
  width,
  length,
  time,
  from,
  to,
  ranges,
  onTime,
}: {
  item: MediaItem;
  width: number;
  length: number;
  time: number;
  from: number | null;
  to: number | null;
  ranges: readonly Range[];
  onTime: (time: number) => void;
}) {
  const strip = item.filmstrip;
  const at = (t: number) => (t / length) * width;
  const zoom = width / Math.max(0.01, toSeconds(length));
  const bin = PEAK_BINS.find((b) => (b / 48_000) * zoom > 0.6) ?? PEAK_BINS[2];
  const { data } = usePeaks(item.id, bin, item.hasPeaks);
  const tile = strip ? (HEIGHT * strip.width) / strip.height : HEIGHT;
  const count = strip ? Math.ceil(width / tile) : 0;
  const frames = Array.from({ length: count }, (_, k) => {
    const n = strip ? Math.min(strip.count - 1, Math.floor((((k + 0.5) * tile) / width) * (length / strip.step))) : 0;
    return { k, n };
  });
  const scrub = (e: React.PointerEvent<HTMLDivElement>) =>
    onTime(((e.clientX - e.currentTarget.getBoundingClientRect().left) / width) * length);
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={`Time in ${item.name}`}
      aria-valuenow={Math.round((time / length) * 100)}
      data-testid="scrubber"
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        scrub(e);
      }}
      onPointerMove={(e) => e.buttons > 0 && scrub(e)}
      style={{
        position: 'relative',
        width,
        height: (strip ? HEIGHT : 0) + (item.hasPeaks ? WAVE : 0),
        touchAction: 'none',
        borderRadius: 10,
        overflow: 'hidden',
        background: 'var(--c-raised)',
        cursor: 'ew-resize',
      }}
    >
      {strip
        ? frames.map(({ k, n }) => (
            <StripPicture key={k} media={item.id} strip={strip} n={n} width={tile} height={HEIGHT} style={{ left: k * tile, top: 0 }} />
          ))
        : null}
      {data ? (
        <Svg width={width} height={WAVE} style={{ position: 'absolute', left: 0, bottom: 0 }}>
          <Path
            d={waveformPath(data, bin, 0, width, WAVE, zoom, AS_IT_IS).outline}
            fill="var(--c-speech)"
            transform={`translate(0 ${WAVE}) rotate(-90)`}
          />
        </Svg>
      ) : null}
      {ranges.map((range) => (
        <div
          key={range.id}
          style={{
            position: 'absolute',
            left: at(range.from),
            width: Math.max(2, at(range.to - range.from)),
            bottom: 0,
            height: 5,
            background: 'var(--c-paper)',
            borderRadius: 3,
          }}
        />
      ))}
      {from !== null || to !== null ? (
        <div
          style={{
            position: 'absolute',
            top: 0,
            bottom: 0,
            left: at(from ?? 0),
            width: at((to ?? length) - (from ?? 0)),
            boxSizing: 'border-box',
            borderLeft: from === null ? undefined : '3px solid var(--c-paper)',
            borderRight: to === null ? undefined : '3px solid var(--c-paper)',
            background: 'color-mix(in srgb, var(--c-paper) 22%, transparent)',
          }}
        />
      ) : null}
      <div style={{ position: 'absolute', top: 0, bottom: 0, left: at(time) - 1, width: 2, background: 'var(--c-signal)' }} />
    </div>
  );
}
