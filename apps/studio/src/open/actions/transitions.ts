import { seamsOf } from '@flimzy/core/piece';
import { Transition } from '@flimzy/core/properties';
import Waypoints from 'lucide-react-native/icons/blend';
import { say } from '../../look/Toast';
import { edit } from '../editor';
import { useLengths } from '../lengths';
import { openPanel } from '../panels';
import { joinsBefore, nearestSeam, situation } from '../situation';
import { newTransition, setTransitions } from '../transitions';
import type { Action, Situation } from './action';

const pictureSeam = (s: Situation) => {
  const clip = nearestSeam(s);
  const track = s.piece.tracks.find((one) => one.clips.some((other) => other.id === clip?.id));
  return track?.kind === 'picture' ? clip : null;
};

function openTransition(): void {
  const now = situation();
  const clip = now && pictureSeam(now);
  if (!clip) return say('There is no join of pictures here: two clips must touch.');
  openPanel({ name: 'transition', clip: clip.id, end: false });
}

/** The clips after the joins an action is about: before those selected, or all of the main track. */
function joins(now: Situation): string[] {
  const main = now.piece.tracks[0];
  const clips = now.selected.length > 0 ? joinsBefore(now) : main ? seamsOf(main) : [];
  return clips.map((clip) => clip.id);
}

function allJoins(on: boolean): void {
  const now = situation();
  if (!now) return;
  const clips = joins(now);
  if (clips.length === 0) return say('There is no join here.');
  if (setTransitions(now.piece, clips, on ? newTransition('dissolve') : null))
    say(on ? `A dissolve at ${clips.length === 1 ? 'the join' : `${clips.length} joins`}.` : 'Plain cuts again.');
}

/** The whole piece comes out of black, or goes into it; or not any more. */
function fromBlack(end: boolean): void {
  const now = situation();
  const main = now?.piece.tracks[0]?.clips;
  const clip = end ? main?.at(-1) : main?.[0];
  if (!clip) return say('There is no picture yet.');
  const field = end ? 'ending' : 'transition';
  const value = clip[field] ? ('none' as const) : Transition.parse({ kind: 'dissolve', length: useLengths.getState().fade });
  edit('set', { clips: [clip.id], values: { [field]: value } });
}

/** How pictures go over into each other. */
export const TRANSITION_ACTIONS: readonly Action[] = [
  {
    id: 'transition',
    group: 'Picture',
    words: 'Transition at the nearest join: choose one, seen over your own two clips',
    caption: 'Transition',
    icon: Waypoints,
    key: 'shift+t',
    run: openTransition,
  },
  {
    id: 'transitions-all',
    group: 'Picture',
    words: 'A dissolve at the joins before the selected clips, or at all joins',
    caption: 'All joins',
    run: () => allJoins(true),
  },
  {
    id: 'transitions-none',
    group: 'Picture',
    words: 'Plain cuts at the joins before the selected clips, or at all joins',
    caption: 'Plain cuts',
    run: () => allJoins(false),
  },
  {
    id: 'from-black',
    group: 'Picture',
    words: 'The picture comes out of black at the start of the piece; or not',
    caption: 'From black',
    run: () => fromBlack(false),
  },
  {
    id: 'to-black',
    group: 'Picture',
    words: 'The picture goes into black at the end of the piece; or not',
    caption: 'To black',
    run: () => fromBlack(true),
  },
];
