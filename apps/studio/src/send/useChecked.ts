import {
  asSent,
  preflight,
  standsOut,
  type BoxOf,
  type CheckName,
  type DeliverySettings,
  type Finding,
  type PlatformFormat,
} from '@flimzy/core/deliver';
import { groundOf, type Flashing, type Ground } from '@flimzy/core/analyse';
import { lastShown } from '@flimzy/core/frame';
import { pieceLength, seenTracks, timelines, type Clip, type Piece } from '@flimzy/core/piece';
import { partsOf } from '@flimzy/core/properties';
import { filesOfParts } from '@flimzy/stage';
import { useEffect, useMemo, useState } from 'react';
import { useMedia } from '../api/queries';
import { stillPixels } from '../preview/stillPixels';
import { boxOfTitle } from '../material/titleBox';
import { useFonts } from '../material/useFonts';
import { useDucking } from '../open/ducking';
import { useEditor } from '../open/editor';
import { standOf } from '../open/state';
import type { Measured } from '../open/engine';

const NOWHERE = { x: 0, y: 0, width: 0, height: 0 };
export const boxOf: BoxOf = (parts, frame) => boxOfTitle(parts, frame) ?? NOWHERE;

/** The fonts of a piece's titles, those in its nests too. Whether they are there, or cannot be had just now. */
export const usePieceFonts = (piece: Piece): boolean =>
  useFonts(
    useMemo(() => {
      const clips = timelines(piece).flatMap(([, { tracks }]) => tracks.flatMap((track) => track.clips));
      return filesOfParts(clips.flatMap((clip) => partsOf(clip.overlay ?? 'none')));
    }, [piece]),
  );

/** How loud the piece is, measured while it is asked for, once for each state of it; null until then, or where it cannot be. */
export function useLoudness(piece: Piece, wanted: boolean): { loud: Measured | null; measuring: boolean } {
  const engine = useEditor((s) => s.engine);
  const stand = useEditor(standOf);
  const [known, setKnown] = useState<{ of: string; loud: Measured | null } | null>(null);
  useEffect(() => {
    if (!wanted || !engine || known?.of === stand || pieceLength(piece) === 0) return;
    let over = false;
    engine
      .measure(piece, null, () => undefined)
      .then(
        (loud) => !over && setKnown({ of: stand, loud }),
        () => !over && setKnown({ of: stand, loud: null }),
      );
    return () => {
      over = true;
    };
    // oxlint-disable-next-line react-hooks/exhaustive-deps -- the stand names the piece
  }, [wanted, engine, stand]);
  const fresh = known?.of === stand;
  return { loud: fresh ? known.loud : null, measuring: wanted && !fresh };
}

/** How many titles are looked behind, and how wide the frame is drawn for that, in pixels. */
const LOOKED_BEHIND = 24;
const WIDE = 96;

/** What lies behind the words of each title that does not stand out by itself, in the middle of its time; those known before stay until then. */
function useGrounds(sent: Piece, wanted: boolean): ReadonlyMap<string, Ground> {
  const engine = useEditor((s) => s.engine);
  const [grounds, setGrounds] = useState<ReadonlyMap<string, Ground>>(new Map());
  useEffect(() => {
    if (!wanted || !engine) return;
    let over = false;
    const look = async () => {
      const found = new Map<string, Ground>();
      const titles = seenTracks(sent)
        .flatMap((track) => track.clips)
        .filter(isBare);
      for (const clip of titles.slice(0, LOOKED_BEHIND)) {
        const tracks = sent.tracks.map((track) => ({ ...track, clips: track.clips.filter(({ id }) => id !== clip.id) }));
        const time = lastShown(sent, clip.start + Math.floor(clip.length / 2));
        const pixels = await stillPixels(engine, { ...sent, tracks }, time, WIDE);
        if (over) return;
        const { x, y, width, height } = boxOf(partsOf(clip.overlay ?? 'none'), sent.format);
        const by = (pixels?.width ?? 0) / sent.format.width;
        const ground = pixels && groundOf(pixels.data, pixels, { x: x * by, y: y * by, width: width * by, height: height * by });
        if (ground) found.set(clip.id, ground);
      }
      setGrounds(found);
    };
    void look();
    return () => {
      over = true;
    };
  }, [sent, wanted, engine]);
  return grounds;
}

/** Whether a clip has words for which it matters what lies behind them. */
const isBare = (clip: Clip) => partsOf(clip.overlay ?? 'none').some((part) => part.kind === 'text' && !standsOut(part));

/** What would go wrong with a piece in a format, in the shape in which it is sent; anew with every edit. */
export function useChecked(
  piece: Piece,
  format: PlatformFormat | null,
  settings: DeliverySettings,
  { loud, flashes }: { loud: Measured | null; flashes: readonly Flashing[] },
): (Finding & { check: CheckName })[] {
  const { data: items } = useMedia();
  const hearing = useDucking((s) => s.hearing);
  const fonts = usePieceFonts(piece);
  const [width, height] = [settings.size?.width ?? piece.format.width, settings.size?.height ?? piece.format.height];
  const { captions } = settings;
  const sent = useMemo(
    () => asSent(piece, { size: { width, height }, format, captions }, boxOf),
    // oxlint-disable-next-line react-hooks/exhaustive-deps -- words are measured with the fonts that are there
    [piece, width, height, format, captions, fonts],
  );
  const grounds = useGrounds(sent, format !== null && fonts);
  return useMemo(() => {
    if (!format || !fonts) return [];
    // What was taken off the shelf is still there for the pieces that use it; only what is known not to be ready is missing.
    const broken = new Set((items ?? []).filter(({ usable }) => !usable).map(({ id }) => id));
    const isThere = (id: string) => !broken.has(id);
    const groundBehind = (clip: string) => grounds.get(clip) ?? null;
    const length = pieceLength(piece);
    const known = { hearing, groundOf: groundBehind, isThere, loud, flashes };
    return preflight({ piece, sent, length, format, boxOf, ...known });
  }, [piece, sent, format, fonts, items, hearing, grounds, loud, flashes]);
}
