import { applyEdit, EditRefused } from '../../edits';
import type { Piece } from '../../piece';
import { uncaptioned } from './captions';
import type { Check, Checked, Finding, Mend } from './check';
import { flashing } from './flashes';
import { tooLong, tooShort } from './length';
import { black, frozen, missing } from './picture';
import { otherRate, otherShape } from './shape';
import { doubled, otherLoudness, tooHigh, uneven } from './sound';
import { wordsBoxed, wordsBrief, wordsFaint, wordsOutside } from './words';
import { wordsOver } from './wordsOver';

export type { Checked, Finding, Loud, Mend } from './check';

/** Every check there is, by name, in the order in which findings are shown. A new one is one function and one line here. */
export const CHECKS = {
  missing,
  tooLong,
  tooShort,
  otherRate,
  black,
  flashing,
  uncaptioned,
  wordsOutside,
  wordsOver,
  wordsBrief,
  wordsFaint,
  wordsBoxed,
  otherShape,
  otherLoudness,
  tooHigh,
  doubled,
  uneven,
  frozen,
} as const satisfies Record<string, Check>;
export type CheckName = keyof typeof CHECKS;

/** Whether the edits of a mend can be made now: a locked track, a link, a title across the join may be in the way. */
function canBeMade(piece: Piece, mend: Mend): boolean {
  if (!('edits' in mend)) return true;
  try {
    mend.edits.steps.reduce((now, { name, params }, n) => applyEdit(now, `mend-${n}`, name, params).piece, piece);
    return true;
  } catch (error) {
    if (error instanceof EditRefused) return false;
    throw error;
  }
}

/** Mends of so many findings are tried out; those of the others may turn out to be refused. */
const TRIED = 40;

/** What would go wrong with a piece on a platform, what is refused first; with the mends that can be made. */
export function preflight(checked: Checked): (Finding & { check: CheckName })[] {
  const all = Object.entries(CHECKS).flatMap(([check, look]) =>
    look(checked).map((finding) => ({ ...finding, check: check as CheckName })),
  );
  const inOrder = [...all.filter(({ weight }) => weight === 'refused'), ...all.filter(({ weight }) => weight === 'hurts')];
  return inOrder.map((finding, n) =>
    n < TRIED ? { ...finding, mends: finding.mends.filter((mend) => canBeMade(checked.piece, mend)) } : finding,
  );
}
