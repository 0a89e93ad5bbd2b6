import type { Clip } from '../piece';

/** One change of a document, as Mutative writes and applies them: into an array, `add` inserts and `remove` closes up. */
export interface Patch {
  op: 'add' | 'remove' | 'replace';
  path: (string | number)[];
  value?: unknown;
}

/** The fields in which two states of a clip differ. */
export function changedFields(a: Clip, b: Clip): (keyof Clip)[] {
  const fields: (keyof Clip)[] = [];
  // By the fields they have: most clips have few of those there are.
  for (const field in b) if (field !== 'id' && a[field as keyof Clip] !== b[field as keyof Clip]) fields.push(field as keyof Clip);
  for (const field in a) if (!(field in b) && a[field as keyof Clip] !== undefined) fields.push(field as keyof Clip);
  return fields;
}

/** Whether two lists hold the same clips in the same state. */
export function sameClips(before: readonly Clip[], now: readonly Clip[]): boolean {
  return before.length === now.length && before.every((clip, i) => clip === now[i] || sameState(clip, now[i] as Clip));
}

function sameState(a: Clip, b: Clip): boolean {
  return a.id === b.id && changedFields(a, b).length === 0;
}

/**
 * Patches that turn one list of clips into another, and back. Clips keep their identity by id; between what both lists begin
 * and end with, the old clips are taken out and the new ones put in.
 */
export function difference(
  path: readonly (string | number)[],
  before: readonly Clip[],
  now: readonly Clip[],
): { patches: Patch[]; inverse: Patch[] } {
  let head = 0;
  while (head < before.length && head < now.length && before[head]?.id === now[head]?.id) head += 1;
  let tail = 0;
  while (tail < before.length - head && tail < now.length - head && before.at(-1 - tail)?.id === now.at(-1 - tail)?.id) tail += 1;
  const patches: Patch[] = [];
  const fields: Patch[] = [];
  const back: Patch[] = [];
  for (let i = before.length - tail - 1; i >= head; i -= 1) patches.push({ op: 'remove', path: [...path, i] });
  for (let i = head; i < now.length - tail; i += 1) patches.push({ op: 'add', path: [...path, i], value: now[i] });
  for (let i = 0; i < now.length; i += 1) {
    if (i >= head && i < now.length - tail) continue;
    const old = before[i < head ? i : before.length - (now.length - i)] as Clip;
    const next = now[i] as Clip;
    if (old === next) continue;
    for (const field of changedFields(old, next)) {
      const place = placeOf(path, i, field);
      fields.push(change(place, old[field], next[field]));
      back.push(change(place, next[field], old[field]));
    }
  }
  const inverse = [...back];
  for (let i = now.length - tail - 1; i >= head; i -= 1) inverse.push({ op: 'remove', path: [...path, i] });
  for (let i = head; i < before.length - tail; i += 1) inverse.push({ op: 'add', path: [...path, i], value: before[i] });
  return { patches: [...patches, ...fields], inverse };
}

/** The way to a field of a clip. Written out for a track of the piece itself: thousands are made at once. */
function placeOf(path: readonly (string | number)[], i: number, field: string): (string | number)[] {
  const [tracks, track, clips, more] = path;
  if (more !== undefined || tracks === undefined || track === undefined || clips === undefined) return [...path, i, field];
  return [tracks, track, clips, i, field];
}

function change(path: (string | number)[], old: unknown, next: unknown): Patch {
  if (next === undefined) return { op: 'remove', path };
  return { op: old === undefined ? 'add' : 'replace', path, value: next };
}
