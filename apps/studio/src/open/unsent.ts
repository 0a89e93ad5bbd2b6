import { EditRequest } from '@flimzy/core/edits';
import { v4 as uuid } from 'uuid';
import { z } from 'zod';

/** This window, for as long as its page is there. */
const WINDOW = uuid();
const ALIVE = (window: string) => `flimzy.window.${window}`;

/** Where Web Locks are missing, a window says so often that it is there, and is taken for gone after so long without a word, in ms. */
const SAYS = 2000;
const GONE = 10_000;

/** Missing where the page is not served securely. */
const locks = (globalThis as { navigator?: { locks?: LockManager } }).navigator?.locks;

let saying = false;

/** Says to other windows, from the first time on, that this one is there: they must not take its unsent edits for their own. */
function beHere(): void {
  if (saying) return;
  saying = true;
  if (locks) return void locks.request(ALIVE(WINDOW), () => new Promise(() => undefined));
  const say = () => put(ALIVE(WINDOW), String(Date.now()));
  say();
  setInterval(say, SAYS);
  globalThis.addEventListener?.('pagehide', () => localStorage.removeItem(ALIVE(WINDOW)));
}

/** Runs work while another window is sure not to be there; does nothing when it is. */
async function ifGone(other: string, work: () => void): Promise<void> {
  if (locks) return locks.request(ALIVE(other), { ifAvailable: true }, (lock) => void (lock && work()));
  const said = Number(localStorage.getItem(ALIVE(other)));
  if (Date.now() - said > GONE) work();
}

/** Writes something, if there is room for it. */
function put(key: string, text: string): boolean {
  try {
    localStorage.setItem(key, text);
    return true;
  } catch {
    return false;
  }
}

function read<S extends z.ZodType>(key: string, schema: S): z.output<S> | null {
  try {
    return schema.parse(JSON.parse(localStorage.getItem(key) ?? 'null'));
  } catch {
    return null;
  }
}

const Queue = z.array(EditRequest);

/** A change that could not be kept, where the person can see it. */
const Aside = z.object({ request: EditRequest, title: z.string(), sentence: z.string(), at: z.string() });
export type Aside = z.infer<typeof Aside>;

/** Most changes set aside that are kept for one piece. */
const ASIDE_MOST = 200;

/**
 * What this device holds of a piece that the server has not taken: the edits of this window on their way (each window has a queue of
 * its own, so that none erases another's), and what could not be kept.
 */
export class Unsent {
  private readonly stem: string;
  private readonly asideKey: string;

  constructor(piece: string) {
    this.stem = `flimzy.unsent.${piece}`;
    this.asideKey = `flimzy.aside.${piece}`;
    beHere();
  }

  private get key(): string {
    return `${this.stem}.${WINDOW}`;
  }

  /** Keeps the edits on their way. False when there is no room for them. */
  keep(pending: readonly EditRequest[]): boolean {
    if (pending.length > 0) return put(this.key, JSON.stringify(pending));
    localStorage.removeItem(this.key);
    return true;
  }

  /** What this window could not send when the piece was last open, and what pages that are gone could not: from now on this window's own. */
  async takeOver(): Promise<EditRequest[]> {
    const found: EditRequest[] = read(this.key, Queue) ?? [];
    const take = (key: string) => {
      found.push(...(read(key, Queue) ?? []));
      // Only once they are kept here they go there.
      if (this.keep(found)) localStorage.removeItem(key);
    };
    const keys = Object.keys(localStorage).filter((key) => key !== this.key);
    for (const key of keys.sort()) {
      if (key === this.stem)
        take(key); // of a version that had one queue for all
      else if (key.startsWith(`${this.stem}.`)) await ifGone(key.slice(this.stem.length + 1), () => take(key));
    }
    return found;
  }

  /** What could not be kept, last first. */
  get aside(): Aside[] {
    return read(this.asideKey, z.array(Aside)) ?? [];
  }

  setAside(one: Aside): void {
    put(this.asideKey, JSON.stringify([one, ...this.aside].slice(0, ASIDE_MOST)));
  }

  /** Takes one from what was set aside. */
  takeBack(id: string): Aside | null {
    const all = this.aside;
    put(this.asideKey, JSON.stringify(all.filter((one) => one.request.id !== id)));
    return all.find((one) => one.request.id === id) ?? null;
  }
}
