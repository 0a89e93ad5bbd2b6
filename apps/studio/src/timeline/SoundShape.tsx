import { keyTime, seamAt, soundSpan, timelineAt, timeOfKey, type Clip } from '@flimzy/core/piece';
import { duckAt } from '@flimzy/core/sound';
import { FADES, points, valueAt, valueOf, type FadeCurve } from '@flimzy/core/properties';
import { ascending } from '@flimzy/core/time';
import { memo } from 'react';
import Svg, { Path } from 'react-native-svg';
import { useDuckLine } from '../open/ducking';
import { useSettledPiece } from '../open/editor';
import { toPixels } from './scale';
import { acrossFor, type ShapeHandle } from './shape';

interface SoundShapeProps {
  clip: Clip;
  zoom: number;
  width: number;
}

/** What a finger finds on a clip's sound: the line of its level with the points of its envelope, and where its fades end. */
export const SoundShape = memo(function SoundShape({ clip, zoom, width }: SoundShapeProps) {
  const duck = useDuckLine(clip.id);
  const piece = useSettledPiece(); // a join is where it was until the finger lifts
  const span = soundSpan(clip);
  const height = toPixels(span.end - span.start, zoom);
  if (height < 70) return null;
  const curve = valueOf(clip, 'envelope');
  const keys = points.pointsOf(curve);
  const top = (moment: number) => toPixels(timeOfKey(clip, moment) - span.start, zoom);
  const across = (moment: number) => acrossFor(clip.level + valueAt(curve, moment), width);
  const [begin, end] = ascending(keyTime(clip, span.start), keyTime(clip, span.end));
  const line = [begin, ...keys.map((key) => key.at).filter((at) => at > begin && at < end), end];
  const path = `M${line.map((at) => `${across(at).toFixed(1)} ${top(at).toFixed(1)}`).join('L')}`;
  // How it sounds in the end, where it makes way for speech: the same line, taken down.
  const turns = (duck ?? []).map((point) => point.at).filter((at) => at > span.start && at < span.end);
  const low = (at: number) => {
    const moment = keyTime(clip, at);
    return `${acrossFor(clip.level + valueAt(curve, moment) + duckAt(duck ?? [], at), width).toFixed(1)} ${top(moment).toFixed(1)}`;
  };
  const stops = [...new Set([span.start, ...turns, ...line.map((moment) => timelineAt(clip, moment)), span.end])].sort((a, b) => a - b);
  const ducked = duck && duck.length > 0 ? `M${stops.map(low).join('L')}` : '';
  const [into, out] = [toPixels(valueOf(clip, 'fadeIn'), zoom), toPixels(valueOf(clip, 'fadeOut'), zoom)];
  const slope = (curve: FadeCurve, from: number, to: number) => slopePath(curve, width, from, to);
  const slopes = [
    into > 0 ? slope(valueOf(clip, 'fadeInCurve'), 0, into) : '',
    out > 0 ? slope(valueOf(clip, 'fadeOutCurve'), height, height - out) : '',
  ].join('');
  const seam = piece && seamAt(piece, clip.id);
  const joined = Boolean(seam && seam.handOver !== null);
  const cross = toPixels((clip.blend ?? 0) / 2, zoom);
  return (
    <div style={{ position: 'absolute', top: 0, left: 0, width, height, pointerEvents: 'none', zIndex: 3 }}>
      <Svg width={width} height={height} style={{ position: 'absolute', top: 0, left: 0, overflow: 'visible' }}>
        {joined && cross > 0 ? (
          <Path
            d={slope(valueOf(clip, 'blendCurve'), -cross, cross) + slope(valueOf(clip, 'blendCurve'), cross, -cross)}
            fill="none"
            stroke="var(--c-ink)"
            strokeWidth={1.5}
            strokeDasharray="3 3"
          />
        ) : null}
        {slopes ? <Path d={slopes} stroke="var(--c-ink)" strokeWidth={1.5} strokeDasharray="3 3" fill="none" /> : null}
        {ducked ? <Path d={ducked} stroke="var(--c-ground)" strokeWidth={4} fill="none" /> : null}
        {ducked ? <Path d={ducked} stroke="var(--c-ink)" strokeWidth={1.5} strokeDasharray="5 2" fill="none" /> : null}
        <Path d={path} stroke="var(--c-ground)" strokeWidth={4} fill="none" />
        <Path d={path} stroke="var(--c-ink)" strokeWidth={2} fill="none" />
      </Svg>
      <Grip
        handle="line"
        clip={clip}
        label={`Level of ${clip.name}: drag across, or touch to add a point`}
        style={{ left: Math.max(0, Math.min(width - 24, across((begin + end) / 2) - 12)), top: 40, width: 24, height: height - 80 }}
      />
      {keys.map((key, n) =>
        key.at < begin || key.at > end ? null : (
          <Grip
            key={key.at}
            handle="point"
            point={n}
            clip={clip}
            label={`Point ${n + 1} of the envelope of ${clip.name}`}
            style={{ left: across(key.at) - 15, top: top(key.at) - 15, width: 30, height: 30 }}
          >
            <Dot size={11} />
          </Grip>
        ),
      )}
      {joined ? (
        <Grip
          handle="blend"
          clip={clip}
          label={`Crossfade where ${clip.name} begins`}
          style={{ left: width / 2 - 16, top: -Math.max(34, cross) - 16, width: 32, height: 32 }}
        >
          <div style={{ transform: 'rotate(45deg)' }}>
            <Dot size={11} hollow square />
          </div>
        </Grip>
      ) : null}
      {(['fade-in', 'fade-out'] as const).map((handle) => (
        <Grip
          key={handle}
          handle={handle}
          clip={clip}
          label={handle === 'fade-in' ? `Fade in of ${clip.name}` : `Fade out of ${clip.name}`}
          style={{
            left: width - 22,
            top: (handle === 'fade-in' ? Math.max(22, into) : height - Math.max(22, out)) - 16,
            width: 32,
            height: 32,
          }}
        >
          <Dot size={13} hollow />
        </Grip>
      ))}
    </div>
  );
});

/** How a sound rises from nothing at one height (px) to all of it at another, drawn as the curve it follows. */
function slopePath(curve: FadeCurve, width: number, from: number, to: number): string {
  const steps = curve === 'even' ? 1 : 16;
  const points = Array.from({ length: steps + 1 }, (_, i) => i / steps).map(
    (share) => `${(width * FADES[curve](share)).toFixed(1)} ${(from + (to - from) * share).toFixed(1)}`,
  );
  return `M${points.join('L')}`;
}

function Dot({ size, hollow = false, square = false }: { size: number; hollow?: boolean; square?: boolean }) {
  const border = hollow ? '2.5px solid var(--c-ink)' : '2px solid var(--c-ground)';
  return (
    <div
      style={{
        width: size,
        height: size,
        borderRadius: square ? 2 : size,
        background: hollow ? 'var(--c-ground)' : 'var(--c-ink)',
        border,
      }}
    />
  );
}

interface GripProps {
  handle: ShapeHandle;
  point?: number;
  clip: Clip;
  label: string;
  style: { left: number; top: number; width: number; height: number };
  children?: React.ReactNode;
}

function Grip({ handle, point, clip, label, style, children }: GripProps) {
  return (
    <div
      data-handle={handle}
      data-point={point}
      data-clip={clip.id}
      role="slider"
      aria-label={label}
      aria-valuenow={0}
      style={{
        position: 'absolute',
        ...style,
        display: 'flex',
        alignItems: 'center',
        justifyContent: 'center',
        pointerEvents: 'auto',
        touchAction: handle === 'line' ? 'pan-y' : 'none',
        cursor: handle === 'line' ? 'ew-resize' : 'grab',
        zIndex: handle === 'line' ? 1 : 2,
      }}
    >
      {children}
    </div>
  );
}
