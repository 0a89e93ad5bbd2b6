import type { Action } from './action';
import { CUTTING } from './cut';
import { ENVELOPE } from './envelope';
import { FRAMING_ACTIONS } from './framing';
import { GOING } from './going';
import { LOOKS } from './looks';
import { MIXING } from './mixing';
import { MOVING } from './moving';
import { PICTURE } from './picture';
import { SELECTING } from './select';
import { SOUND } from './sound';
import { STRETCH } from './stretch';
import { FURTHER } from './tracks';
import { TITLES } from './titles';
import { TRANSITION_ACTIONS } from './transitions';
import { VIEW } from './view';

export { GROUPS, type Action, type Situation } from './action';

/** Every action of the editor: a new one is one entry in one of these tables. */
export const ACTIONS: readonly Action[] = [
  GOING,
  SELECTING,
  CUTTING,
  MOVING,
  PICTURE,
  FRAMING_ACTIONS,
  TRANSITION_ACTIONS,
  LOOKS,
  TITLES,
  SOUND,
  ENVELOPE,
  MIXING,
  STRETCH,
  FURTHER,
  VIEW,
].flat();

const byId = new Map(ACTIONS.map((action) => [action.id, action]));

/** An action by its id. @throws Error when there is none: a slip in the program */
export function actionOf(id: string): Action {
  const action = byId.get(id);
  if (!action) throw new Error(`there is no action ${id}`);
  return action;
}
