import type { TogetherStep } from '@flimzy/core/edits';
import { ALL_FRAMING, withFigures } from '@flimzy/core/frame';
import { clipEnd, findClip, hasPicture, keyTime, sizeIn, timeOfKey, type Clip, type MediaFacts, type Piece } from '@flimzy/core/piece';
import {
  changes,
  CURVE_NAMES,
  keyMoments,
  keys,
  valueOf,
  type Curve,
  type CurveName,
  type Ease,
  type PropertyValues,
} from '@flimzy/core/properties';
import { toGrid, type Flicks } from '@flimzy/core/time';
import { create } from 'zustand';
import { say } from '../look/Toast';
import { currentPiece, moveTo, together, tryTogether, useEditor } from './editor';

/** A clip with a picture to be framed, and what it shows. */
export interface Framed {
  clip: Clip;
  media: MediaFacts;
}

/** The pictures among clips; a nest has the frame of the piece. */
export function picturesOf(piece: Piece, ids: readonly string[]): Framed[] {
  return ids.flatMap((id) => {
    const found = findClip(piece, id);
    const media = found && piece.media[found.clip.media];
    return found?.track.kind === 'picture' && media && (hasPicture(media) || media.kind === 'nest') ? [{ clip: found.clip, media }] : [];
  });
}

/** The size of what a clip shows, in pixels. */
export const sizeOf = (piece: Piece, media: MediaFacts) => sizeIn(piece.format, media);

/** Where on its material's clock a clip is at the playhead, or at its nearer end. Flicks. */
export function momentOf(clip: Clip, playhead: Flicks): Flicks {
  return keyTime(clip, Math.max(clip.start, Math.min(playhead, clipEnd(clip))));
}

const clipNames = (clips: readonly { name: string }[]) => (clips.length === 1 ? (clips[0]?.name ?? '') : `${clips.length} clips`);

const setting = (clip: Clip, values: PropertyValues): TogetherStep => ({ name: 'set', params: { clips: [clip.id], values } });

type Figures = Partial<Record<CurveName, number>>;

const steps = (clips: readonly Clip[], figures: Figures) =>
  clips.map((clip) => setting(clip, withFigures(clip, momentOf(clip, useEditor.getState().playhead), figures)));

/** Sets figures of clips at the playhead: by a key where one changes, throughout where it does not. */
export function setFigures(clips: readonly Clip[], figures: Figures, title = 'Framing'): boolean {
  return together(`${title} of ${clipNames(clips)}`, steps(clips, figures));
}

/** Shows what that would be. */
export function tryFigures(clips: readonly Clip[], figures: Figures): void {
  const { playhead } = useEditor.getState();
  tryTogether('Framing', steps(clips, figures), () => playhead);
}

/** Sets the same values on all of some clips, worked out for each. */
export function setEach(title: string, all: readonly Framed[], values: (framed: Framed, n: number) => PropertyValues): boolean {
  return together(
    `${title}: ${clipNames(all.map(({ clip }) => clip))}`,
    all.map((framed, n) => setting(framed.clip, values(framed, n))),
  );
}

/** Which figures a key at the playhead is set on: those that change already, or the usual ones. */
const KEYED: readonly CurveName[] = ['scale', 'x', 'y', 'turn', 'focusX', 'focusY'];

/** Keys of all that changes at a moment of the clip, or, where there is one of each, takes them away. */
export function toggleKeys(clips: readonly Clip[], only?: CurveName): boolean {
  const { playhead } = useEditor.getState();
  const all = clips.map((clip) => {
    const at = momentOf(clip, playhead);
    const changing = CURVE_NAMES.filter((name) => changes(clip[name]));
    const names = only ? [only] : changing.length > 0 ? changing : KEYED;
    const there = names.every((name) => keys.keyAt(valueOf(clip, name), at));
    return { clip, there, values: names.map((name) => [name, (there ? keys.withoutKey : keys.withKey)(valueOf(clip, name), at)] as const) };
  });
  const title = all[0]?.there ? 'Take away a key' : 'Set a key';
  return together(
    `${title} of ${clipNames(clips)}`,
    all.map(({ clip, values }) => setting(clip, Object.fromEntries(values))),
  );
}

/** What becomes of all figures of a clip that have a key at a moment of the material. */
function withKeysAt(clip: Clip, at: Flicks, work: (curve: Curve) => Curve): PropertyValues {
  const names = CURVE_NAMES.filter((name) => keys.keyAt(valueOf(clip, name), at));
  return Object.fromEntries(names.map((name) => [name, work(valueOf(clip, name))]));
}

/** The keys of all figures at a moment of the material, at another one. */
export const keysMoved = (clip: Clip, at: Flicks, to: Flicks): PropertyValues =>
  withKeysAt(clip, at, (curve) => keys.withKeyMoved(curve, at, to));

/** How the change from a key on to the next is eased. */
export function setEase(clip: Clip, at: Flicks, ease: Ease): boolean {
  return together(`Ease of ${clip.name}`, [
    setting(
      clip,
      withKeysAt(clip, at, (curve) => keys.withEase(curve, at, ease)),
    ),
  ]);
}

/** Goes to the next key of a clip, or the one before. */
export function goToKey(clip: Clip, way: 1 | -1): void {
  const piece = currentPiece();
  if (!piece) return;
  const { playhead } = useEditor.getState();
  const times = keyMoments(clip)
    .map((at) => toGrid(timeOfKey(clip, at), piece.format.rate))
    .filter((time) => time >= clip.start && time <= clipEnd(clip));
  const next = way > 0 ? times.find((time) => time > playhead) : times.findLast((time) => time < playhead);
  if (next === undefined) return say(way > 0 ? 'There is no key after this.' : 'There is no key before this.');
  moveTo(next);
}

/** Framing that was copied, with the moment of the material at which its clip began. */
const useCopied = create<{ values: PropertyValues; from: Flicks } | null>(() => null);
export const useHasFraming = () => useCopied((s) => s !== null);

export function copyFraming(clip: Clip): void {
  useCopied.setState(
    { values: Object.fromEntries(ALL_FRAMING.map((name) => [name, valueOf(clip, name)])), from: keyTime(clip, clip.start) },
    true,
  );
  say('The framing is copied: select other clips and paste it.');
}

/** Gives clips the framing that was copied; what changes begins with each of them. */
export function pasteFraming(all: readonly Framed[]): boolean {
  const copied = useCopied.getState();
  if (!copied) {
    say('Copy the framing of another clip first.');
    return false;
  }
  return setEach('Paste the framing', all, ({ clip }) => {
    const by = keyTime(clip, clip.start) - copied.from;
    const later = Object.entries(copied.values).map(([name, value]) => [name, changes(value) ? keys.later(value as Curve, by) : value]);
    return Object.fromEntries(later) as PropertyValues;
  });
}
