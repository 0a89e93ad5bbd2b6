import { stat } from 'node:fs/promises';
import { Post } from '@flimzy/contract';
import { cuesBeside } from '@flimzy/core/deliver';
import { captionFile } from '@flimzy/core/formats';
import type { About } from '@flimzy/core/piece';
import { and, desc, eq, inArray } from 'drizzle-orm';
import type { Database } from '../db/open';
import { posts } from '../db/schema';
import { settingsOf, type DeliveryStore } from '../deliveries/store';
import type { EventHub } from '../events/hub';
import { idFrom } from '../files/hash';
import { ProblemError } from '../http/problem';
import type { Keeper } from '../keeping/keeper';
import type { Accounts } from './accounts';
import { NotNow, SaysNo, SignedOut, type Remote } from './remote';

type Row = typeof posts.$inferSelect;

/** Someone asked for a post to stop. */
class Cancelled extends Error {
  override name = 'Cancelled';
}

/** A post that is worked on. */
interface Running {
  stop: AbortController;
  /** Of the sending, 0 to 1. */
  progress: number;
  /** How far it has come in all: announced 1, sent 2, shown 3, and between. */
  reached: number;
  toldAt: number;
  /** Resolves when its work is over, however. */
  ended: Promise<void>;
}

/** Waits after a try that failed, in seconds, and how often is tried without anything getting further. */
const WAITS = [1, 1, 2, 3, 5, 10, 20, 60];
const TRIES = 20;

/** The captions that go beside an export, as WebVTT; null where there are none. */
function captionsOf(delivery: Parameters<typeof settingsOf>[0]): string | null {
  const cues = cuesBeside(delivery.document, settingsOf(delivery));
  return cues.length > 0 ? captionFile(cues, 'vtt') : null;
}

/** How often a platform is asked how far it is, in ms. */
const ASK_EVERY = 1500;

/** What goes on where it stopped when it is asked for again; what is over. */
const AGAIN: Row['status'][] = ['failed', 'cancelled'];
const OVER: Row['status'][] = ['live', 'refused', ...AGAIN];

const pause = (ms: number, signal: AbortSignal) =>
  new Promise<void>((resolve, reject) => {
    signal.throwIfAborted();
    const timer = setTimeout(resolve, ms);
    signal.addEventListener('abort', () => {
      clearTimeout(timer);
      reject(signal.reason as Error);
    });
  });

/**
 * Exports on their way to a platform. Each is announced under its own id, so that announced again, after a lost answer or an end of the
 * server, it is the same video there; its bytes go on where they stopped.
 */
export class Posts {
  private readonly running = new Map<string, Running>();

  constructor(
    private readonly db: Database,
    private readonly hub: EventHub,
    private readonly keeper: Keeper,
    private readonly deliveries: DeliveryStore,
    private readonly accounts: Accounts,
    private readonly remote: Remote | null,
  ) {}

  async list(piece: string): Promise<Post[]> {
    const rows = await this.db.select().from(posts).where(eq(posts.piece, piece)).orderBy(desc(posts.createdAt)).limit(100);
    return rows.map((row) => this.shown(row)).filter((post) => Post.safeParse(post).success);
  }

  /**
   * Posts a finished export; one that is on its way there, or is shown there, is given as it is.
   * @throws ProblemError when it cannot be posted
   */
  async create(deliveryId: string, platform: string, about: About): Promise<{ post: Post; fresh: boolean }> {
    const delivery = await this.deliveries.get(deliveryId);
    if (delivery.status !== 'done') throw new ProblemError('not-ready', 'That export is not finished.');
    if (!(await stat(this.deliveries.fileOf(delivery)).catch(() => null)))
      throw new ProblemError('not-found', 'The file of that export is gone: export again, then post it.');
    const { name, account, titleLongest } = await this.accounts.get(platform);
    if (!account || account.stale) throw new ProblemError('bad-request', `Sign in to ${name} first.`);
    if (!about.title.trim()) throw new ProblemError('bad-request', 'It needs a title.');
    if (about.title.length > titleLongest)
      throw new ProblemError('bad-request', `A title has at most ${titleLongest} letters on ${name}; this one has ${about.title.length}.`);
    const mine = await this.db
      .select()
      .from(posts)
      .where(and(eq(posts.delivery, deliveryId), eq(posts.platform, platform)))
      .orderBy(desc(posts.createdAt));
    const there = mine.find(({ status }) => status !== 'refused');
    if (there?.status === 'failed' || there?.status === 'cancelled') {
      // What the platform was told already it goes by.
      if (!there.remote) await this.moveOn(there.id, { about }, AGAIN);
      return this.again(there.id);
    }
    if (there) return { post: this.shown(there), fresh: false };
    const values = {
      // The same whenever the same is posted, also when it was taken off the list meanwhile: the platform is told of it once.
      id: idFrom(`${deliveryId} ${platform} ${mine.length}`),
      delivery: deliveryId,
      piece: delivery.piece,
      platform,
      platformName: name,
      about,
      status: 'waiting' as const,
      reasons: [],
    };
    const [row] = await this.db.insert(posts).values(values).onConflictDoNothing().returning();
    if (row) await this.keeper.keep({ in: 'posts', put: row });
    return { post: await this.tell(values.id), fresh: row !== undefined };
  }

  /** Has one that failed or was cancelled go on where it stopped. */
  async again(id: string): Promise<{ post: Post; fresh: boolean }> {
    await this.get(id);
    // Its work must have ended before it begins again.
    if (this.running.get(id)?.stop.signal.aborted) await this.running.get(id)?.ended;
    const fresh = await this.moveOn(id, { status: 'waiting', says: null, finishedAt: null }, AGAIN);
    return { post: await this.tell(id), fresh };
  }

  async cancel(id: string): Promise<Post> {
    await this.moveOn(id, { status: 'cancelled', says: null, finishedAt: new Date() });
    this.running.get(id)?.stop.abort(new Cancelled());
    return this.tell(id);
  }

  /** Takes one that is over off the list. */
  async remove(id: string): Promise<Post> {
    const row = await this.get(id);
    if (!OVER.includes(row.status)) throw new ProblemError('in-use', 'It is being posted just now: cancel that first.');
    await this.db.delete(posts).where(eq(posts.id, id));
    await this.keeper.keep({ in: 'posts', gone: id });
    this.hub.tell({ type: 'post-gone', id, piece: row.piece });
    return this.shown(row);
  }

  /** Those that are on their way: after a start, they go on. */
  async unfinished(): Promise<string[]> {
    const rows = await this.db
      .select({ id: posts.id })
      .from(posts)
      .where(inArray(posts.status, ['waiting', 'sending', 'looking']))
      .orderBy(posts.createdAt);
    return rows.map(({ id }) => id);
  }

  /** Stops what runs, to be gone on with at the next start. */
  stopAll(): void {
    for (const { stop } of this.running.values()) stop.abort(new Cancelled());
  }

  /** Does the work of one post, until it is shown, refused, or given up. */
  async work(id: string): Promise<void> {
    const row = await this.get(id);
    if (OVER.includes(row.status) || this.running.has(id)) return;
    let end: () => void = () => undefined;
    const ended = new Promise<void>((resolve) => (end = resolve));
    const running: Running = { stop: new AbortController(), progress: 0, reached: 0, toldAt: 0, ended };
    this.running.set(id, running);
    const { signal } = running.stop;
    try {
      let furthest = -1;
      for (let tries = 0; ; tries += 1) {
        try {
          await this.attempt(id, running);
          return;
        } catch (error) {
          signal.throwIfAborted();
          if (!(error instanceof NotNow)) throw error;
          // What gets further is not given up.
          if (running.reached > furthest) tries = 0;
          furthest = running.reached;
          if (tries >= TRIES) throw new SaysNo(`${error.message} It was tried ${TRIES} times; try again later.`);
          const seconds = error.seconds ?? WAITS[Math.min(tries, WAITS.length - 1)] ?? 60;
          await this.moveOn(id, { says: `${error.message} It is tried again in ${seconds} s.` });
          await this.tell(id);
          await pause(seconds * 1000, signal);
        }
      }
    } catch (error) {
      if (error instanceof Cancelled) return;
      if (error instanceof SignedOut) await this.accounts.isStale(row.platform);
      const known = error instanceof SignedOut || error instanceof SaysNo || error instanceof ProblemError;
      const says = known ? error.message : 'The server ran into an error of its own. Try again: it goes on where it stopped.';
      await this.moveOn(id, { status: 'failed', says, finishedAt: new Date() });
      if (!known) throw error;
    } finally {
      this.running.delete(id);
      end();
      await this.tell(id).catch(() => undefined);
    }
  }

  /** Goes as far as it can with one. @throws NotNow, SignedOut, SaysNo */
  private async attempt(id: string, running: Running): Promise<void> {
    const { remote } = this;
    const { signal } = running.stop;
    const reach = (far: number) => (running.reached = Math.max(running.reached, far));
    if (!remote) throw new SaysNo('There is no service to post to.');
    const row = await this.get(id);
    const { platform } = row;
    const token = await this.accounts.token(platform);
    const delivery = await this.deliveries.get(row.delivery);
    const file = this.deliveries.fileOf(delivery);
    const found = await stat(file).catch(() => null);
    if (!found) throw new SaysNo('The file of the export is gone: export again, then post that.');
    let shown = row.remote
      ? await remote.state(platform, token, row.remote, signal)
      : await remote.announce(platform, token, id, { ...row.about, size: found.size, captions: captionsOf(delivery) }, signal);
    if (!row.remote) await this.moveOn(id, { remote: shown.id, upload: shown.upload });
    reach(1);
    if (shown.state === 'waiting') {
      await this.moveOn(id, { status: 'sending', says: null });
      await this.tell(id);
      await remote.send(shown.upload ?? '', token, file, found.size, (share) => this.onProgress(id, share), signal);
      reach(2);
      shown = await remote.state(platform, token, shown.id, signal);
    }
    await this.moveOn(id, { status: 'looking', says: null });
    await this.tell(id);
    reach(2.5);
    while (shown.state === 'processing' || shown.state === 'waiting') {
      await pause(ASK_EVERY, signal);
      shown = await remote.state(platform, token, shown.id, signal);
    }
    const { page, reasons, state } = shown;
    await this.moveOn(id, { status: state, page, reasons, says: null, finishedAt: new Date() });
  }

  private onProgress(id: string, share: number): void {
    const running = this.running.get(id);
    if (!running) return;
    running.progress = Math.max(running.progress, Math.min(1, share));
    running.reached = Math.max(running.reached, 1 + running.progress);
    if (Date.now() - running.toldAt < 250) return;
    running.toldAt = Date.now();
    this.tell(id).catch(() => undefined);
  }

  /** Moves one that is not over on, or one of those states alone; resolves when that is on the disk, with whether it was. */
  private async moveOn(id: string, set: Partial<Row>, from: Row['status'][] = ['waiting', 'sending', 'looking']): Promise<boolean> {
    const moved = await this.db
      .update(posts)
      .set(set)
      .where(and(eq(posts.id, id), inArray(posts.status, from)))
      .returning({ id: posts.id });
    if (moved.length > 0) await this.keeper.keep({ in: 'posts', id, set });
    return moved.length > 0;
  }

  private async get(id: string): Promise<Row> {
    const [row] = await this.db.select().from(posts).where(eq(posts.id, id));
    if (!row) throw new ProblemError('not-found', 'That post is not on the list.');
    return row;
  }

  private async tell(id: string): Promise<Post> {
    const post = this.shown(await this.get(id));
    this.hub.tell({ type: 'post', post });
    return post;
  }

  private shown({ about, createdAt, finishedAt, remote: _remote, upload: _upload, ...row }: Row): Post {
    const sent = row.status === 'looking' || row.status === 'live' || row.status === 'refused';
    return {
      ...row,
      title: about.title,
      progress: sent ? 1 : (this.running.get(row.id)?.progress ?? 0),
      createdAt: createdAt.toISOString(),
      finishedAt: finishedAt?.toISOString() ?? null,
    };
  }
}
