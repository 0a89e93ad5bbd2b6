import type { Transition, TransitionKind } from '../../properties';
import type { Layer } from '../layers';
import type { Size } from '../placement';
import { blur } from './blur';
import { circle } from './circle';
import { dip } from './dip';
import { dissolve } from './dissolve';
import { flash } from './flash';
import type { TransitionKindEntry } from './kind';
import { push } from './push';
import { shape } from './shape';
import { slide } from './slide';
import { spin } from './spin';
import { wipe } from './wipe';
import { zoom } from './zoom';

export { outlineFrom } from './outlines';

/** Every transition by its kind. A new one is one file, one line here, and its name in `core/properties/transition.ts`. */
export const TRANSITIONS: Record<TransitionKind, TransitionKindEntry> = {
  dissolve,
  dip,
  flash,
  slide,
  push,
  wipe,
  circle,
  shape,
  zoom,
  spin,
  blur,
};

/** What is drawn between two pictures, `p` (0 to 1) of the way from the one to the other. */
export function between(transition: Transition, p: number, from: Layer[], to: Layer[], frame: Size): Layer[] {
  return TRANSITIONS[transition.kind].draw(p, from, to, frame, transition);
}
