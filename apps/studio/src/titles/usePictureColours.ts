import { coloursOf } from '@flimzy/core/analyse';
import { evaluate, lastShown, pictureLayers } from '@flimzy/core/frame';
import type { Piece } from '@flimzy/core/piece';
import { useEffect, useState } from 'react';
import { useEditor } from '../open/editor';
import { stillPixels } from '../preview/stillPixels';

/** How wide a picture is whose colours are counted, in pixels; how many of them are offered. */
const WIDE = 32;
const MOST = 5;

/** The colours of the picture at the playhead as it was when this was first asked. */
export function usePictureColours(piece: Piece | null): readonly string[] {
  const engine = useEditor((s) => s.engine);
  const [colours, setColours] = useState<readonly string[]>([]);
  useEffect(() => {
    let over = false;
    const time = piece ? lastShown(piece, useEditor.getState().playhead) : 0;
    if (!piece || pictureLayers(evaluate(piece, time).layers).length === 0) return;
    void stillPixels(engine, piece, time, WIDE).then((pixels) => pixels && !over && setColours(coloursOf(pixels.data, MOST)));
    return () => {
      over = true;
    };
    // Once for a picture, not for every edit of a title over it.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [engine]);
  return colours;
}
