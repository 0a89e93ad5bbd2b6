import { isHeard } from '@flimzy/core/piece';
import { say } from '../../look/Toast';
import { select, useEditor } from '../editor';
import { picturesOf, type Framed } from '../framing';
import { situation, targets } from '../situation';
import type { Situation } from './action';

/** The situation when something is selected, else null. */
export const chosen = () => {
  const now = situation();
  return now && now.selected.length > 0 ? now : null;
};

/** Says that nothing is selected. */
export const need = () => say('Select a clip first: touch it on the timeline.');

/** Whether anything is selected. */
export const any = (s: Situation) => s.selected.length > 0;

/** Which tracks a ripple reaches, as chosen. */
export const reach = () => useEditor.getState().reach;

/** Does something to the selected clips, or says that there are none. */
export function withSelected(run: (clips: string[]) => void): void {
  const { selected } = useEditor.getState();
  if (selected.length === 0) return say('Select a clip first: touch it on the timeline.');
  run([...selected]);
}

/** The clips an action is about that are heard. */
export const audible = (s: Situation) => targets(s).filter(({ clip }) => isHeard(clip, s.piece.media[clip.media]));

/** The pictures that an action is about. */
export const pictured = (s: Situation): Framed[] =>
  picturesOf(
    s.piece,
    targets(s).map(({ clip }) => clip.id),
  );

export const anyPicture = (s: Situation) => pictured(s).length > 0;

/** Does something to the pictures that an action is about, or says that there are none. */
export function withPictures(run: (all: Framed[], now: Situation) => void): () => void {
  return () => {
    const now = situation();
    const all = now ? pictured(now) : [];
    if (!now || all.length === 0) return need();
    run(all, now);
  };
}

/** Does something to the first of them. */
export const withPicture = (run: (one: Framed) => void) => withPictures(([one]) => one && run(one));

/** Selects the first picture that an action is about, unless one of them is selected. */
export function selectPicture(all: readonly Framed[], { selected }: Situation): void {
  const [one] = all;
  if (one && !all.some(({ clip }) => selected.includes(clip.id))) select(one.clip.id);
}
