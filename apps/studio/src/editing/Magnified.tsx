import { PEAK_BINS } from '@flimzy/core/analyse';
import type { Clip } from '@flimzy/core/piece';
import { materialGain } from '@flimzy/core/sound';
import { FLICKS_PER_SECOND, type Flicks } from '@flimzy/core/time';
import { useState } from 'react';
import Svg, { Path } from 'react-native-svg';
import { usePeaks } from '../material/peaks';
import { lyingWaveform } from '../timeline/paced';

interface MagnifiedProps {
  clip: Clip;
  /** The stretch, on the timeline, and what shows around it. Flicks. */
  from: Flicks;
  to: Flicks;
  width: number;
  onChange: (from: Flicks, to: Flicks) => void;
}

const HEIGHT = 92;
/** How much is shown on either side of the stretch, in seconds. */
const ROOM = 0.35;
const HUNDREDTH = FLICKS_PER_SECOND / 100;

/** The sound around a stretch, magnified and lying, with both ends of the stretch to pull: to the hundredth of a second. */
export function Magnified({ clip, from, to, width, onChange }: MagnifiedProps) {
  const [pulled, setPulled] = useState<{ end: 'from' | 'to'; time: Flicks; begin: Flicks; zoom: number } | null>(null);
  const { data } = usePeaks(clip.media, PEAK_BINS[0], true);
  // While an end is pulled what is shown stays, so that it does not run away under the finger.
  const begin = pulled?.begin ?? from - ROOM * FLICKS_PER_SECOND;
  const zoom = pulled?.zoom ?? width / ((to - from) / FLICKS_PER_SECOND + 2 * ROOM);
  const at = (time: Flicks) => ((time - begin) / FLICKS_PER_SECOND) * zoom;
  const shown = pulled ? { from, to, [pulled.end]: pulled.time } : { from, to };
  const plain = materialGain({ ...clip, fadeIn: undefined, fadeOut: undefined });
  const { path, transform } = lyingWaveform(clip, data, begin, width, HEIGHT - 12, zoom, plain);
  const limited = (end: 'from' | 'to', time: Flicks) => {
    const whole = Math.round(time / HUNDREDTH) * HUNDREDTH;
    return end === 'from' ? Math.min(whole, to - HUNDREDTH) : Math.max(whole, from + HUNDREDTH);
  };
  const done = (end: 'from' | 'to', time: Flicks) => (end === 'from' ? onChange(time, to) : onChange(from, time));
  return (
    <div
      data-testid="magnified"
      style={{ position: 'relative', width, height: HEIGHT, background: 'var(--c-raised)', borderRadius: 10, overflow: 'hidden' }}
    >
      <Svg width={width} height={HEIGHT} style={{ position: 'absolute', top: 0, left: 0 }}>
        <Path d={path} fill="var(--c-speech)" transform={`translate(0 ${HEIGHT - 6}) ${transform}`} />
      </Svg>
      <div
        style={{
          position: 'absolute',
          top: 0,
          bottom: 0,
          left: at(shown.from),
          width: Math.max(1, at(shown.to) - at(shown.from)),
          background:
            'repeating-linear-gradient(-45deg, rgba(0,0,0,0.55) 0 5px, color-mix(in srgb, var(--c-paper) 30%, transparent) 5px 8px)',
        }}
      />
      {(['from', 'to'] as const).map((end) => (
        <div
          key={end}
          role="slider"
          tabIndex={0}
          data-testid={`cover-${end}-handle`}
          aria-label={end === 'from' ? 'Where it begins' : 'Where it ends'}
          aria-valuenow={Math.round(shown[end] / HUNDREDTH)}
          onKeyDown={(e) => {
            const by = e.key === 'ArrowLeft' || e.key === 'ArrowUp' ? -1 : e.key === 'ArrowRight' || e.key === 'ArrowDown' ? 1 : 0;
            if (by === 0) return;
            e.preventDefault();
            e.stopPropagation();
            done(end, limited(end, shown[end] + by * HUNDREDTH));
          }}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            setPulled({ end, time: shown[end], begin, zoom });
          }}
          onPointerMove={(e) => {
            if (pulled?.end !== end) return;
            const x = e.clientX - (e.currentTarget.parentElement?.getBoundingClientRect().left ?? 0);
            setPulled({ ...pulled, time: limited(end, begin + (x / zoom) * FLICKS_PER_SECOND) });
          }}
          onPointerUp={() => {
            if (pulled?.end === end && pulled.time !== (end === 'from' ? from : to)) done(end, pulled.time);
            setPulled(null);
          }}
          onPointerCancel={() => setPulled(null)}
          style={{
            position: 'absolute',
            top: 0,
            bottom: 0,
            left: at(shown[end]) - 22,
            width: 44,
            display: 'flex',
            justifyContent: 'center',
            alignItems: end === 'from' ? 'flex-start' : 'flex-end',
            touchAction: 'none',
            cursor: 'ew-resize',
          }}
        >
          <div style={{ position: 'absolute', top: 0, bottom: 0, width: 2, background: 'var(--c-paper)' }} />
          <div style={{ width: 16, height: 22, borderRadius: 6, background: 'var(--c-paper)', border: '2px solid var(--c-ground)' }} />
        </div>
      ))}
    </div>
  );
}
