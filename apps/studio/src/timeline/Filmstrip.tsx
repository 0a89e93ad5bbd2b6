import type { Filmstrip as Strip } from '@flimzy/contract';
import { sourceTile } from '@flimzy/core/frame';
import type { Flicks } from '@flimzy/core/time';
import { memo } from 'react';
import { useDebounce } from 'use-debounce';
import { StripPicture } from '../material/StripPicture';
import { toTime } from './scale';

interface FilmstripProps {
  media: string;
  strip: Strip;
  /** Time in the material at the top of the clip, in flicks. */
  from: Flicks;
  /** How fast it goes on from there; 0 for a still, below 0 backwards. */
  speed: number;
  width: number;
  zoom: number;
  /** The part of the clip in view, in pixels from its top. */
  viewTop: number;
  viewBottom: number;
}

/** The frames of a clip, one below the other; only those in view are there. */
export const Filmstrip = memo(function Filmstrip({ media, strip, from, speed, width, zoom, viewTop, viewBottom }: FilmstripProps) {
  const tile = Math.max(24, (width * strip.height) / strip.width);
  // While a finger pinches or pulls the head, every move would ask for other ones.
  const [calm] = useDebounce(`${zoom} ${from}`, 150);
  const settled = calm === `${zoom} ${from}`;
  const tiles: React.JSX.Element[] = [];
  for (let k = Math.max(0, Math.floor(viewTop / tile)); k * tile < viewBottom; k += 1) {
    const n = speed === 0 ? 0 : sourceTile(strip, from + toTime(k * tile + tile / 2, zoom) * speed);
    tiles.push(
      <StripPicture
        key={k}
        media={media}
        strip={strip}
        n={n}
        width={width}
        height={tile}
        settled={settled}
        style={{ top: k * tile, left: 0, borderBottom: '1px solid rgba(23,25,26,0.55)', boxSizing: 'border-box' }}
      />,
    );
  }
  return <>{tiles}</>;
});
