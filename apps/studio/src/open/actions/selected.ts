import { isHeard } from '@flimzy/core/piece';
import { say } from '../../look/Toast';
import { useEditor } from '../editor';
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
