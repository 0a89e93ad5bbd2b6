import type { Platform } from '@flimzy/contract';
import { eq } from 'drizzle-orm';
import type { Database } from '../db/open';
import { accounts } from '../db/schema';
import type { EventHub } from '../events/hub';
import { ProblemError } from '../http/problem';
import type { Keeper } from '../keeping/keeper';
import { NotNow, SaysNo, SignedOut, type Remote } from './remote';
import type { Seal } from './seal';

/** The platforms that can be posted to, and the tokens for them, which leave here only for the platform itself. */
export class Accounts {
  constructor(
    private readonly db: Database,
    private readonly hub: EventHub,
    private readonly keeper: Keeper,
    private readonly seal: Seal,
    private readonly remote: Remote | null,
  ) {}

  /** @throws ProblemError when the service does not answer */
  async list(): Promise<Platform[]> {
    const { remote } = this;
    if (!remote) return [];
    const [there, rows] = await Promise.all([remote.platforms().catch(unreachable), this.db.select().from(accounts)]);
    return there.map((platform) => {
      const row = rows.find(({ id }) => id === platform.id);
      return { ...platform, tokenPage: remote.tokenPage(platform.id), account: row ? { name: row.name, stale: row.stale } : null };
    });
  }

  /** @throws ProblemError `not-found` */
  async get(id: string): Promise<Platform> {
    const found = (await this.list()).find((platform) => platform.id === id);
    if (!found) throw new ProblemError('not-found', 'There is no such platform.');
    return found;
  }

  async signIn(id: string, token: string): Promise<Platform> {
    const { remote } = this;
    await this.get(id);
    if (!remote) throw new ProblemError('not-found', 'There is no such platform.');
    if (!/^[\x21-\x7e]+$/.test(token))
      throw new ProblemError('bad-request', 'A token has no spaces and no letters of that kind. Copy it once more.');
    const { name } = await remote.person(id, token).catch((error: unknown) => {
      if (error instanceof SignedOut)
        throw new ProblemError('bad-request', 'The platform does not know that token. Copy it once more, or get another one there.');
      return unreachable(error);
    });
    const row = { id, name, sealed: this.seal.close(token, id), stale: false };
    await this.db.insert(accounts).values(row).onConflictDoUpdate({ target: accounts.id, set: row });
    await this.keeper.keep({ in: 'accounts', put: row });
    this.hub.tell({ type: 'accounts' });
    return this.get(id);
  }

  async signOut(id: string): Promise<Platform> {
    await this.db.delete(accounts).where(eq(accounts.id, id));
    await this.keeper.keep({ in: 'accounts', gone: id });
    this.hub.tell({ type: 'accounts' });
    return this.get(id);
  }

  /** The token for a platform. @throws SignedOut when there is none that it takes */
  async token(id: string): Promise<string> {
    const [row] = await this.db.select().from(accounts).where(eq(accounts.id, id));
    const token = row && !row.stale ? this.seal.open(row.sealed, id) : null;
    if (token === null) throw new SignedOut('Nobody is signed in there: sign in, then try again.');
    return token;
  }

  /** The platform no longer takes its token. */
  async isStale(id: string): Promise<void> {
    await this.db.update(accounts).set({ stale: true }).where(eq(accounts.id, id));
    await this.keeper.keep({ in: 'accounts', id, set: { stale: true } });
    this.hub.tell({ type: 'accounts' });
  }
}

function unreachable(error: unknown): never {
  if (error instanceof NotNow || error instanceof SaysNo || error instanceof SignedOut) throw new ProblemError('not-ready', error.message);
  throw error;
}
