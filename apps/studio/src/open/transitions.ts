import type { TogetherStep } from '@flimzy/core/edits';
import { crossfadeRoom, isHeard, seamAt, type Piece, type Seam } from '@flimzy/core/piece';
import { Transition, TRANSITION_NAMES, type TransitionKind } from '@flimzy/core/properties';
import { fromSeconds, type Flicks } from '@flimzy/core/time';
import { z } from 'zod';
import { together } from './editor';
import { kept } from './kept';
import { useLengths } from './lengths';

/** How a person goes over from one picture to the next: how often which was used, the one used last, whether the sound goes along. */
const Habits = z.object({
  used: z.record(z.string(), z.number()).default({}),
  last: Transition.nullable().default(null),
  sound: z.boolean().default(true),
});

export const { use: useHabits, set: setHabits } = kept('flimzy.transitions', Habits);

/** The kinds, those used most first. */
export function kindsByUse(): TransitionKind[] {
  const { used } = useHabits.getState();
  const kinds = Object.keys(TRANSITION_NAMES) as TransitionKind[];
  return kinds.sort((a, b) => (used[b] ?? 0) - (used[a] ?? 0));
}

/** A new transition of a kind, with the figures used last. */
export function newTransition(kind: TransitionKind): Transition {
  const { last } = useHabits.getState();
  return Transition.parse({ ...last, kind, length: useLengths.getState().transition });
}

/** Remembers that one was chosen. */
export function noteUse(transition: Transition): void {
  const { used } = useHabits.getState();
  setHabits({ last: transition, used: { ...used, [transition.kind]: (used[transition.kind] ?? 0) + 1 } });
}

/** The longest transition at a join for which both clips have material left, in flicks; what is longer holds the last or first frame. */
export const materialFor = ({ unusedAfter, unusedBefore }: Seam): Flicks => Math.max(0, 2 * Math.min(unusedAfter, unusedBefore));

const SHORT = fromSeconds(0.03);

/** Gives the joins before some clips a transition (null: plain cuts), and their sounds a crossfade as long where both are heard. */
export function setTransitions(piece: Piece, clips: readonly string[], transition: Transition | null): boolean {
  const steps: TogetherStep[] = [{ name: 'set', params: { clips: [...clips], values: { transition: transition ?? 'none' } } }];
  if (useHabits.getState().sound) {
    const heard = clips.filter((id) => {
      const seam = seamAt(piece, id);
      if (!seam || !isHeard(seam.after, piece.media[seam.after.media]) || seam.handOver === null) return false;
      return transition ? crossfadeRoom(piece, seam) > SHORT : seam.after.blend !== undefined;
    });
    if (heard.length > 0)
      steps.push({ name: 'crossfade', params: { clips: heard, length: transition ? Math.min(transition.length, fromSeconds(4)) : 0 } });
  }
  const where = clips.length === 1 ? 'at a join' : `at ${clips.length} joins`;
  return together(transition ? `${TRANSITION_NAMES[transition.kind]} ${where}` : `Plain cuts ${where}`, steps);
}
