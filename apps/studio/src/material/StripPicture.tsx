import type { Filmstrip } from '@flimzy/contract';
import { useState, type CSSProperties } from 'react';
import { useCalm } from '../api/calm';
import { addressOf } from '../api/address';

interface StripPictureProps {
  media: string;
  strip: Filmstrip;
  /** Which of its pictures. */
  n: number;
  /** Size it is drawn in, in pixels of the page. */
  width: number;
  height: number;
  style?: CSSProperties | undefined;
  /** False while it will change in a moment: the small pictures, which are all there at once, do until then. */
  settled?: boolean;
}

/** One picture of an item's filmstrip: at once from the small ones, and over that a sharp one where they would be blurred. */
export function StripPicture({ media, strip, n, width, height, style, settled = true }: StripPictureProps) {
  const [missing, setMissing] = useState(false);
  const calm = useCalm((s) => s.calm);
  const rows = Math.ceil(strip.count / strip.columns);
  const density = typeof window === 'undefined' ? 1 : window.devicePixelRatio || 1;
  const blurred = width * density > strip.width * 1.1;
  return (
    <div
      style={{
        position: 'absolute',
        width,
        height,
        backgroundImage: `url(${addressOf('mediaFilmstrip', { id: media }, { of: strip.count })})`,
        backgroundSize: `${strip.columns * width}px ${rows * height}px`,
        backgroundPosition: `-${(n % strip.columns) * width}px -${Math.floor(n / strip.columns) * height}px`,
        ...style,
      }}
    >
      {blurred && strip.sharp && strip.sharp > strip.width && settled && calm && !missing ? (
        <img
          key={n}
          alt=""
          src={addressOf('mediaTile', { id: media }, { n })}
          decoding="async"
          draggable={false}
          onError={() => setMissing(true)}
          style={{ width: '100%', height: '100%', display: 'block', pointerEvents: 'none' }}
        />
      ) : null}
    </div>
  );
}
