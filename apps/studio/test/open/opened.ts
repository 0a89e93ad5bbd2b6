import { carryOut, EditRefused, type EditRequest, type Head, type LogEntry } from '@flimzy/core/edits';
import type { Clip, Piece } from '@flimzy/core/piece';
import { frameLength } from '@flimzy/core/time';
import { addFrames, emptyPiece, MUSIC, VIDEO } from '../../../../packages/core/test/making';
import { ACTIONS, actionOf } from '../../src/open/actions';
import { currentPiece, openEditor, selectAll, useEditor } from '../../src/open/editor';
import { situation } from '../../src/open/situation';

export const F = frameLength({ num: 30, den: 1 });

/** Three joined clips of 60, 90 and 30 frames with material on either side, over music of 200. */
export const three = (): Piece =>
  addFrames(addFrames(addFrames(addFrames(emptyPiece(), VIDEO, 30, 60), VIDEO, 120, 90), VIDEO, 240, 30), MUSIC, 0, 200, 'sound-1');

/** A server in memory: what it holds, what it was asked, and whether it answers. */
export class MemoryServer {
  head: Head;
  log: LogEntry[] = [];
  away = false;
  asked: string[] = [];
  /** Entries of a stack sent at once. */
  sent = 200;
  /** The status with which a batch is turned away; null when it is not. */
  trouble: (requests: EditRequest[]) => number | null = () => null;

  constructor(piece: Piece) {
    this.head = { piece, revision: 0, undo: [], redo: [] };
    Object.assign(globalThis, { fetch: (url: string, init?: { body?: string }) => this.answer(url, init?.body) });
  }

  /** Does an edit as someone else would. */
  take(request: EditRequest): string | null {
    if (this.log.some((entry) => entry.id === request.id)) return null;
    try {
      const { head, entry } = carryOut(this.head, request, new Date().toISOString());
      this.head = head;
      this.log.push(entry);
      return null;
    } catch (error) {
      if (!(error instanceof EditRefused)) throw error;
      return error.message;
    }
  }

  private answer(url: string, body?: string): Promise<{ ok: boolean; status: number; json: () => Promise<unknown> }> {
    this.asked.push(url);
    if (this.away) return Promise.reject(new TypeError('no network'));
    const { searchParams } = new URL(url, 'http://flimzy');
    const json = (value: unknown) =>
      Promise.resolve({ ok: true, status: 200, json: () => Promise.resolve(JSON.parse(JSON.stringify(value))) });
    if (body === undefined) {
      const { piece, revision, undo, redo } = this.head;
      const below = searchParams.get('below');
      if (below !== null) {
        const stack = searchParams.get('stack') === 'undo' ? undo : redo;
        const place = stack.findIndex((entry) => entry.seq === Number(below));
        return json((place < 0 ? stack : stack.slice(0, place)).slice(-this.sent));
      }
      const top = <T>(stack: readonly T[]) => stack.slice(-this.sent);
      return json({ piece, revision, undo: top(undo), redo: top(redo), undoDepth: undo.length, redoDepth: redo.length });
    }
    const { since, requests } = JSON.parse(body) as { since: number; requests: EditRequest[] };
    const error = this.trouble(requests);
    if (error !== null) {
      const problem = { type: '/problems/x', title: 'No', status: error, detail: `Not with ${error}.` };
      return Promise.resolve({ ok: false, status: error, json: () => Promise.resolve(problem) });
    }
    const known = requests.map((request) => request.id).filter((id) => this.log.some((entry) => entry.id === id));
    const refused = requests.flatMap((request) => {
      const sentence = this.take(request);
      return sentence === null ? [] : [{ id: request.id, sentence }];
    });
    return json({ entries: this.log.filter((entry) => entry.seq > since), refused, known });
  }
}

/** Lets promises come to rest. */
export const settle = () => new Promise((resolve) => setTimeout(resolve, 20));

/** Opens a piece in the editor against a server in memory. */
export async function opened(piece = three()): Promise<MemoryServer> {
  const server = new MemoryServer(piece);
  openEditor(piece.id);
  await settle();
  return server;
}

export const piece = (): Piece => currentPiece() as Piece;
/** Start, length and in-point of the clips of a track, in frames. */
export const layout = (track = 0) => (piece().tracks[track]?.clips ?? []).map((c) => [c.start / F, c.length / F, c.from / F]);
export const clipAt = (n: number, track = 0): Clip => piece().tracks[track]?.clips[n] as Clip;
export const undoTitle = () => useEditor.getState().session?.current.undo.at(-1)?.title;

/** Selects clips of a track by their places. */
export const choose = (...places: number[]) => selectAll(places.map((n) => clipAt(n).id));
export const at = (frames: number) => useEditor.setState({ playhead: frames * F });

/** Does an action, as its button would: only when it makes sense now. */
export function does(id: string): void {
  const action = actionOf(id);
  const now = situation();
  if (action.when && now && !action.when(now)) throw new Error(`“${action.words}” is not offered now`);
  action.run();
}

/** The actions offered now. */
export const offered = () => ACTIONS.filter((action) => !action.when || action.when(situation()!)).map((action) => action.id);
