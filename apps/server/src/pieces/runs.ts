/**
 * A stack of log numbers, bottom first, as runs of neighbours: `[1, 40]` is 1 to 40, `[9, 7]` is 9, 8, 7. A hundred thousand edits one
 * after the other are one run.
 */
export type Runs = readonly (readonly [from: number, to: number])[];

/** The stack with one more on top. */
export function pushed(runs: Runs, n: number): Runs {
  const top = runs.at(-1);
  if (!top) return [[n, n]];
  const [from, to] = top;
  const goesOn = from === to ? Math.abs(n - to) === 1 : n - to === Math.sign(to - from);
  return goesOn ? [...runs.slice(0, -1), [from, n]] : [...runs, [n, n]];
}

/** The stack without its topmost, and that; null when it is empty. */
export function popped(runs: Runs): { top: number; rest: Runs } | null {
  const last = runs.at(-1);
  if (!last) return null;
  const [from, to] = last;
  const under = runs.slice(0, -1);
  return { top: to, rest: from === to ? under : [...under, [from, to - Math.sign(to - from)]] };
}

/** How many are on it. */
export function height(runs: Runs): number {
  return runs.reduce((n, [from, to]) => n + Math.abs(to - from) + 1, 0);
}

/** The topmost `count`, bottom first, and what is under them. */
export function taken(runs: Runs, count: number): { top: number[]; rest: Runs } {
  const top: number[] = [];
  let rest = runs;
  while (top.length < count) {
    const step = popped(rest);
    if (!step) break;
    top.push(step.top);
    ({ rest } = step);
  }
  return { top: top.reverse(), rest };
}

/** What is under `n`; all of it when `n` is not on it. */
export function under(runs: Runs, n: number): Runs {
  let rest = runs;
  for (let step = popped(rest); step; step = popped(rest)) {
    ({ rest } = step);
    if (step.top === n) return rest;
  }
  return runs;
}

/** The undo and redo stacks after one more entry of the log. */
export function folded(
  { undo, redo }: { undo: Runs; redo: Runs },
  entry: { seq: number; kind: 'do' | 'undo' | 'redo' },
): { undo: Runs; redo: Runs } {
  if (entry.kind === 'do') return { undo: pushed(undo, entry.seq), redo: [] };
  const from = popped(entry.kind === 'undo' ? undo : redo);
  if (!from) return { undo, redo };
  return entry.kind === 'undo' ? { undo: from.rest, redo: pushed(redo, from.top) } : { undo: pushed(undo, from.top), redo: from.rest };
}
