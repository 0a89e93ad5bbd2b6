import { apply, create } from 'mutative';
import { z } from 'zod';
import { brokenInvariants, nestFacts, type Piece } from '../piece';
import { captionsFollow } from './captionsFollow';
import { EditRefused, type EditContext, type EditKind } from './edit';
import type { Patch } from './difference';
import { asCalledNow } from './former';
import { Plan } from './plan';
import { EDITS, isEditName, type EditName, type EditParams } from './table';

const PatchSchema = z.object({
  op: z.enum(['replace', 'remove', 'add']),
  path: z.array(z.union([z.string(), z.number()])),
  value: z.unknown().optional(),
});

/** What a person asks for: an edit, or the taking back or doing again of one. The id makes asking twice harmless. */
export const EditRequest = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('do'), id: z.uuid(), name: z.string().max(40), params: z.unknown() }),
  z.object({ kind: z.literal('undo'), id: z.uuid(), target: z.uuid() }),
  z.object({ kind: z.literal('redo'), id: z.uuid(), target: z.uuid() }),
]);
export type EditRequest = z.infer<typeof EditRequest>;

/** One line of a piece's edit log. Applying `patches` moves the document forward by it, whatever kind it is. */
export const LogEntry = z.object({
  /** 1 for the first edit of a piece; the document's revision is the number of its last entry. */
  seq: z.number().int().positive(),
  id: z.uuid(),
  kind: z.enum(['do', 'undo', 'redo']),
  /** The edit's name in the table; for undo and redo that of the edit concerned. */
  name: z.string(),
  title: z.string(),
  params: z.unknown(),
  /** For undo and redo: the id of the edit taken back or done again. */
  target: z.uuid().nullable(),
  patches: z.array(PatchSchema),
  inverse: z.array(PatchSchema),
  /** When the server took it, ISO 8601. */
  at: z.string(),
});
export type LogEntry = z.infer<typeof LogEntry>;

/** What an edit comes to, before it has a place in the log. */
export interface EditResult {
  piece: Piece;
  name: string;
  title: string;
  params: unknown;
  patches: Patch[];
  inverse: Patch[];
}

/** One step of a {@link TOGETHER} edit. */
const Together = z.object({
  title: z.string().min(1).max(200),
  edits: z
    .array(z.object({ name: z.string().max(40), params: z.unknown() }))
    .min(1)
    .max(2_000),
});

/** The name of the edit that is several others in a row: one line of history, taken back as one. */
export const TOGETHER = 'together';

/**
 * Applies one edit. Pure: the piece given is not changed.
 * @throws EditRefused with a sentence for people when it cannot be made, or would break an invariant.
 */
export function applyEdit(piece: Piece, id: string, name: string, rawParams: unknown): EditResult {
  return drained(applyEditSteps(piece, id, name, rawParams));
}

/** The same in steps, so that whoever has others waiting can let them go first: one step for each edit of several made as one. */
export function* applyEditSteps(piece: Piece, id: string, name: string, rawParams: unknown): Generator<void, EditResult> {
  const newId = idsOf(id);
  if (name !== TOGETHER) return applyOne(piece, name, rawParams, newId);
  const params = sensible(Together, name, rawParams);
  const results: EditResult[] = [];
  for (const one of params.edits) {
    results.push(applyOne(results.at(-1)?.piece ?? piece, one.name, one.params, newId));
    yield;
  }
  return {
    piece: results.at(-1)?.piece ?? piece,
    name,
    title: params.title,
    params,
    patches: results.flatMap((r) => r.patches),
    inverse: [...results].reverse().flatMap((r) => r.inverse),
  };
}

/** What steps come to, taken all at once. */
export function drained<T>(steps: Generator<void, T>): T {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

/** How many edits a request comes to: 1, or as many as it makes as one. What a server may be asked for at once is counted by this. */
export function weightOf(request: EditRequest): number {
  if (request.kind !== 'do' || request.name !== TOGETHER) return 1;
  const parsed = z.object({ edits: z.array(z.unknown()) }).safeParse(request.params);
  return parsed.success ? Math.max(1, parsed.data.edits.length) : 1;
}

/** The ids of what an edit makes, one after the other. */
function idsOf(edit: string): () => string {
  let n = 0;
  return () => `${edit}.${(n += 1)}`;
}

function sensible<S extends z.ZodType>(schema: S, name: string, raw: unknown): z.output<S> {
  const parsed = schema.safeParse(raw);
  if (parsed.success) return parsed.data;
  throw new EditRefused(`The edit “${name}” was asked for in a way that makes no sense: ${z.prettifyError(parsed.error)}`);
}

/**
 * The piece that an edit would make, for looking at only: without the patches that keep it and take it back, which a finger that
 * drags has no time for. The same piece when it would change nothing.
 * @throws EditRefused as {@link applyEdit} does
 */
export function draftOf(piece: Piece, name: string, rawParams: unknown): Piece {
  const newId = idsOf('draft');
  const steps = name === TOGETHER ? sensible(Together, name, rawParams).edits : [{ name, params: rawParams }];
  return steps.reduce((current, one) => applyOne(current, one.name, one.params, newId, false).piece, piece);
}

function applyOne(piece: Piece, called: string, asked: unknown, newId: () => string, patched = true): EditResult {
  const { name, params: rawParams } = asCalledNow(called, asked);
  if (!isEditName(name)) throw new EditRefused(`There is no edit called “${name}”.`);
  const kind: EditKind<z.ZodType> = EDITS[name];
  const params = sensible(kind.params, name, rawParams);
  const title = kind.title(params, piece);
  const context: EditContext = {
    newId,
    get plan() {
      return (plan ??= new Plan(piece, newId));
    },
  };
  let plan: Plan | null = null;
  const recipe = (draft: Piece) => kind.apply(draft, params, context);
  const [changed, patches, inverse] = patched ? create(piece, recipe, { enablePatches: true }) : [create(piece, recipe), [], []];
  if (plan && !kind.wordsStay) captionsFollow(plan);
  // What was planned is worked out on the piece as it was; it is written after everything else, and taken back first.
  const planned = (plan as Plan | null)?.finish(changed, patched) ?? { piece: changed, patches: [], inverse: [] };
  const [settled, morePatches, moreInverse] = settleNests(planned.piece);
  const broken = brokenInvariants(settled);
  if (broken.length > 0) throw new EditRefused(`That cannot be done: ${broken[0]}.`);
  return {
    piece: settled,
    name,
    title,
    params,
    patches: [...patches, ...planned.patches, ...morePatches],
    inverse: [...moreInverse, ...planned.inverse, ...inverse],
  };
}

/** Brings the facts of nests up to date with their insides. */
function settleNests(piece: Piece): [Piece, Patch[], Patch[]] {
  const stale = Object.keys(piece.nests ?? {}).flatMap((id) => {
    const facts = nestFacts(piece, id);
    return JSON.stringify(piece.media[id]) === JSON.stringify(facts) ? [] : [facts];
  });
  if (stale.length === 0) return [piece, [], []];
  return create(
    piece,
    (draft) => {
      for (const facts of stale) draft.media[facts.id] = facts;
    },
    { enablePatches: true },
  );
}

/** Moves a piece forward by log entries, in order. */
export function applyEntries(piece: Piece, entries: readonly Pick<LogEntry, 'patches'>[]): Piece {
  return entries.reduce((current, entry) => apply(current, entry.patches), piece);
}

/** A request for an edit by name, with its parameters checked by the compiler. */
export function editRequest<N extends EditName>(id: string, name: N, params: EditParams<N>): EditRequest {
  return { kind: 'do', id, name, params };
}

/** One of several edits made as one. */
export type TogetherStep = { [N in EditName]: { name: N; params: EditParams<N> } }[EditName];

/** Several edits as one: one line of history. */
export function togetherRequest(id: string, title: string, edits: TogetherStep[]): EditRequest {
  return { kind: 'do', id, name: TOGETHER, params: { title, edits } };
}
