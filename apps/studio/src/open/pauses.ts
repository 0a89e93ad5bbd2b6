import type { Pause } from '@flimzy/core/analyse';
import { create } from 'zustand';

/** The pauses that were found, for the timeline to show; those kept stay in the piece. */
export const usePauses = create<{ found: readonly Pause[]; kept: ReadonlySet<string> }>(() => ({ found: [], kept: new Set() }));

/** A name that a pause keeps while it is looked at. */
export const pauseName = (pause: Pause) => `${pause.clip} ${pause.from}`;

/** Keeps a pause that would be taken out, or the other way round. */
export function keepOrTake(pause: Pause): void {
  const kept = new Set(usePauses.getState().kept);
  if (!kept.delete(pauseName(pause))) kept.add(pauseName(pause));
  usePauses.setState({ kept });
}
