import { FlashFinder, LIGHT_CELLS, lightAt, type Flashing, type Light } from '@flimzy/core/analyse';
import { isFile, pieceLength, seenClips, type Piece } from '@flimzy/core/piece';
import { frameLength, frameStart } from '@flimzy/core/time';
import { useQueries } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { lightQuery } from '../material/light';
import { titleLights } from '../material/titleLight';
import { usePieceFonts } from './useChecked';

/** For so long frames are looked at before the page may draw again: milliseconds. */
const AT_ONCE = 10;

const dataOf = (all: readonly { data: Light | undefined }[]) => all.map((one) => one.data);
const NONE: readonly Flashing[] = [];

/** Where a piece flashes so that it can harm, looked at while that is wanted; what was found before stays until then. */
export function useFlashes(piece: Piece, wanted: boolean): readonly Flashing[] {
  const [found, setFound] = useState(NONE);
  const media = useMemo(() => {
    const ids = new Set(seenClips(piece).map(({ clip }) => clip.media));
    return [...ids].flatMap((id) => piece.media[id] ?? []).filter((one) => isFile(one) && one.width > 0);
  }, [piece]);
  const lights = useQueries({
    queries: media.map(({ id, kind }) => ({ ...lightQuery(id, kind === 'video'), enabled: wanted })),
    combine: dataOf,
  });
  const { format } = piece;
  const fonts = usePieceFonts(piece);
  // Kept from edit to edit: what a title covers is drawn once.
  const titles = useMemo(() => (wanted && fonts ? titleLights(format) : null), [wanted, fonts, format]);
  useEffect(() => {
    if (!titles) return;
    let over = false;
    const known = new Map(media.map(({ id }, n) => [id, lights[n] ?? null]));
    const look = async () => {
      const { rate } = format;
      const finder = new FlashFinder(rate.num / rate.den);
      const count = Math.round(pieceLength(piece) / frameLength(rate));
      // What is not known yet is taken for what was there before it: dark.
      let before: ArrayLike<number> = new Float32Array(3 * LIGHT_CELLS ** 2);
      let since = -Infinity;
      for (let n = 0; n < count && !over; n += 1) {
        if (performance.now() - since > AT_ONCE) {
          await new Promise((resolve) => setTimeout(resolve, 0));
          since = performance.now();
        }
        before = lightAt(piece, frameStart(n, rate), (id) => known.get(id) ?? null, titles) ?? before;
        finder.push(before);
      }
      if (!over) setFound(finder.finish());
    };
    void look();
    return () => {
      over = true;
    };
  }, [piece, format, titles, media, lights]);
  return wanted ? found : NONE;
}
