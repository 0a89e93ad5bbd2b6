import type { Marker } from '@flimzy/core/piece';
import type { Flicks, Rate } from '@flimzy/core/time';
import { memo } from 'react';
import { moveTo } from '../open/editor';
import { LETTER_COLOURS } from '../look/letters';
import { RULER } from './columns';
import { rulerLabel, rulerStep, toPixels } from './scale';

interface RulerProps {
  rate: Rate;
  markers: readonly Marker[];
  zoom: number;
  /** The stretch in view. */
  from: Flicks;
  to: Flicks;
}

/** Timecode down the left side, as fine as there is room for, with the markers. */
export const Ruler = memo(function Ruler({ rate, markers, zoom, from, to }: RulerProps) {
  const step = rulerStep(zoom, rate);
  const labels: React.JSX.Element[] = [];
  for (let n = Math.floor(from / step); n * step <= to; n += 1) {
    const time = n * step;
    labels.push(
      <div
        key={n}
        style={{
          position: 'absolute',
          top: toPixels(time, zoom) - 7,
          left: 1,
          fontFamily: 'DMMono_400Regular',
          fontSize: 10,
          lineHeight: '14px',
          color: 'var(--c-muted)',
          whiteSpace: 'nowrap',
          pointerEvents: 'none',
        }}
      >
        {rulerLabel(time, step, rate)}
      </div>,
    );
  }
  const marks = markers.filter((m) => m.time >= from && m.time <= to);
  return (
    <>
      {labels}
      {marks.map((marker) => (
        <button
          key={marker.id}
          data-marker={marker.id}
          data-testid="marker"
          aria-label={`Marker ${marker.letter} ${marker.name}. Go there; drag to move it`}
          onClick={() => moveTo(marker.time)}
          style={{
            position: 'absolute',
            top: toPixels(marker.time, zoom) - 15,
            left: 0,
            width: RULER,
            height: 30,
            padding: 0,
            border: 0,
            background: 'transparent',
            touchAction: 'none',
            pointerEvents: 'auto',
            cursor: 'ns-resize',
            display: 'flex',
            alignItems: 'center',
          }}
        >
          <span
            style={{
              width: 18,
              height: 18,
              borderRadius: '4px 9px 9px 4px',
              background: LETTER_COLOURS[marker.letter],
              color: '#17191a',
              fontFamily: 'DMMono_500Medium',
              fontSize: 11,
              lineHeight: '18px',
              textAlign: 'center',
            }}
          >
            {marker.letter}
          </span>
        </button>
      ))}
    </>
  );
});
