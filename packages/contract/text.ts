/** Half a pair of UTF-16, which stands for no letter, and the letter NUL: neither can be kept. */
const NO_LETTERS = /\p{Surrogate}|\0/u;

/** Things within things that a value from outside may have. */
const DEEPEST = 60;

/** Whether a text can be kept as it is. */
export function wellFormed(text: string): boolean {
  return !NO_LETTERS.test(text);
}

/** Where in a value from outside something stands that cannot be kept: such a text (as a name too), or a number that is not exact. Null when all is well. */
export function cannotBeKept(value: unknown, place = 'it', depth = 0): string | null {
  if (depth > DEEPEST) return 'it is nested too deeply';
  if (typeof value === 'string') return wellFormed(value) ? null : `${place} holds letters that no text can have`;
  if (typeof value === 'number') return Math.abs(value) <= Number.MAX_SAFE_INTEGER ? null : `${place} is too large a number`;
  if (typeof value !== 'object' || value === null) return null;
  for (const [name, inner] of Object.entries(value)) {
    const wrong = wellFormed(name) ? cannotBeKept(inner, name, depth + 1) : 'a name holds letters that no text can have';
    if (wrong) return wrong;
  }
  return null;
}
