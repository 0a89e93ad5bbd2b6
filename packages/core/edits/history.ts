import { apply } from 'mutative';
import type { Piece } from '../piece';
import { applyEditSteps, drained, type EditRequest, type LogEntry } from './apply';
import { EditRefused } from './edit';

/** What can be taken back, and what can be done again; the last of each comes first in line. */
export interface Stacks {
  undo: readonly LogEntry[];
  redo: readonly LogEntry[];
}

/** The stacks after one more entry. A new edit clears what could be done again. */
export function pushEntry(stacks: Stacks, entry: LogEntry): Stacks {
  if (entry.kind === 'do') return { undo: [...stacks.undo, entry], redo: [] };
  const [from, to] = entry.kind === 'undo' ? [stacks.undo, stacks.redo] : [stacks.redo, stacks.undo];
  const target = from.at(-1);
  if (!target || target.id !== entry.target) return stacks;
  const rest = from.slice(0, -1);
  return entry.kind === 'undo' ? { undo: rest, redo: [...to, target] } : { undo: [...to, target], redo: rest };
}

/** The stacks that a whole log leads to. */
export function foldLog(entries: readonly LogEntry[]): Stacks {
  return entries.reduce<Stacks>(pushEntry, { undo: [], redo: [] });
}

/** A piece with the place it has reached in its log. */
export interface Head extends Stacks {
  piece: Piece;
  revision: number;
}

/**
 * Carries out a request on a head: the one function by which the app (at once) and the server (for good) change a piece.
 * @throws EditRefused when the edit cannot be made, or the edit to take back is not the last one any more.
 */
export function carryOut(head: Head, request: EditRequest, at: string): { head: Head; entry: LogEntry } {
  return drained(carryOutSteps(head, request, at));
}

/** The same in steps: see {@link applyEditSteps}. */
export function* carryOutSteps(head: Head, request: EditRequest, at: string): Generator<void, { head: Head; entry: LogEntry }> {
  const seq = head.revision + 1;
  let entry: LogEntry;
  let piece: Piece;
  if (request.kind === 'do') {
    const result = yield* applyEditSteps(head.piece, request.id, request.name, request.params);
    const { name, title, params, patches, inverse } = result;
    piece = result.piece;
    entry = { seq, id: request.id, kind: 'do', name, title, params, target: null, patches, inverse, at };
  } else {
    const target = (request.kind === 'undo' ? head.undo : head.redo).at(-1);
    if (!target || target.id !== request.target)
      throw new EditRefused(`Another edit came in between, so there is nothing to ${request.kind} here.`);
    const [patches, inverse] = request.kind === 'undo' ? [target.inverse, target.patches] : [target.patches, target.inverse];
    piece = apply(head.piece, patches);
    const { name, title } = target;
    entry = { seq, id: request.id, kind: request.kind, name, title, params: null, target: target.id, patches, inverse, at };
  }
  return { head: { ...pushEntry(head, entry), piece, revision: seq }, entry };
}
