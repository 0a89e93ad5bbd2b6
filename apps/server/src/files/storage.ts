import { readdir, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import type { Freeable, Storage } from '@flimzy/contract';
import type { DeliveryStore } from '../deliveries/store';
import { listDumps } from '../keeping/dumps';
import type { DataFolder } from '../media/folders';
import type { MediaRow, MediaStore } from '../media/store';
import type { PieceStore } from '../pieces/store';
import { room } from './space';

const DAY = 86_400_000;

/** How long what was deleted can be taken back, and how long a file that is no media can be downloaded or tried again, in ms. */
const DELETED_KEPT = 30 * DAY;
const UNUSABLE_KEPT = 7 * DAY;

/** Bytes that a file or everything in a folder takes on the disk: holes in files take none. */
async function taken(place: string): Promise<number> {
  const found = await stat(place).catch(() => null);
  if (!found) return 0;
  if (!found.isDirectory()) return found.blocks === undefined ? found.size : Math.min(found.size, found.blocks * 512);
  const names = await readdir(place).catch(() => []);
  const sizes = await Promise.all(names.map((name) => taken(path.join(place, name))));
  return sizes.reduce((a, b) => a + b, 0);
}

/** What takes room, and how to free it. */
export class StorageKeeper {
  /** @param mended what was mended at this start */
  constructor(
    private readonly folder: DataFolder,
    private readonly media: MediaStore,
    private readonly pieces: PieceStore,
    private readonly deliveries: DeliveryStore,
    private readonly mended: string | null,
  ) {}

  async report(): Promise<Storage> {
    const { folder } = this;
    const [originals, whole] = await this.mediaSizes(await this.media.kept());
    const [disk, unused, deleted, finished] = await Promise.all([
      room(folder.root),
      this.unused(),
      this.deleted(),
      this.deliveries.finished(),
    ]);
    const bytesOf = async (rows: MediaRow[]) => (await this.mediaSizes(rows))[1];
    const files = await Promise.all(finished.map((row) => taken(this.deliveries.fileOf(row))));
    const segments = await taken(folder.segments());
    const [newest] = await listDumps(folder.dumps());
    const gone = finished.filter((row) => row.deletedAt);
    const fileOf = new Map(finished.map((row, i) => [row.id, files[i] ?? 0]));
    const sum = (rows: typeof finished) => rows.reduce((n, row) => n + (fileOf.get(row.id) ?? 0), 0);
    const there = finished.filter((row) => (fileOf.get(row.id) ?? 0) > 0);
    return {
      ...disk,
      originals,
      made: whole - originals,
      uploads: (await taken(folder.uploads())) + (await taken(folder.archives())),
      segments,
      deliveries: await taken(folder.deliveries()),
      database: (await taken(folder.database())) + (await taken(folder.journal())),
      backups: await taken(folder.dumps()),
      freeable: {
        segments: { bytes: segments, count: (await readdir(folder.segments())).length },
        deliveries: { bytes: sum(there), count: there.length },
        unused: { bytes: await bytesOf(unused), count: unused.length },
        deleted: { bytes: (await bytesOf(deleted)) + sum(gone), count: deleted.length + gone.filter((row) => fileOf.get(row.id)).length },
      },
      backedUpAt: newest?.at.toISOString() ?? null,
      mended: this.mended,
    };
  }

  private async mediaSizes(rows: readonly MediaRow[]): Promise<[originals: number, whole: number]> {
    const sizes = await Promise.all(
      rows.map(async ({ id }) => [await taken(this.folder.file(id, 'original')), await taken(this.folder.medium(id))] as const),
    );
    return [sizes.reduce((n, [original]) => n + original, 0), sizes.reduce((n, [, all]) => n + all, 0)];
  }

  /** Those among items that no clip, and no shelf that a person put in order, holds. Reads every piece, when there are any to ask of. */
  private async idle(rows: readonly MediaRow[]): Promise<MediaRow[]> {
    if (rows.length === 0) return [];
    const used = await this.pieces.allUsed();
    return rows.filter((row) => !used.has(row.id));
  }

  /** Items that no piece uses; nothing that is being prepared. */
  private async unused(): Promise<MediaRow[]> {
    return this.idle((await this.media.kept()).filter((row) => !row.deletedAt && row.complete));
  }

  /** Items taken off the shelf that no piece uses, and that nobody works on. One that is used goes on being there for its pieces. */
  private async deleted(): Promise<MediaRow[]> {
    return this.idle((await this.media.kept()).filter((row) => row.deletedAt && row.complete));
  }

  /** Frees a kind of thing for good. */
  async free(what: Freeable): Promise<Storage> {
    if (what === 'segments')
      for (const name of await readdir(this.folder.segments()))
        if (name.endsWith('.mp4')) await rm(path.join(this.folder.segments(), name), { force: true });
    if (what === 'deliveries') for (const row of await this.deliveries.finished()) await this.deliveries.purge(row.id);
    if (what === 'unused') for (const row of await this.unused()) await this.purge(row);
    if (what === 'deleted') await this.purgeDeleted(Date.now());
    return this.report();
  }

  /** Removes the files of what was deleted before a time. */
  private async purgeDeleted(before: number): Promise<void> {
    for (const row of await this.deleted()) if ((row.deletedAt?.getTime() ?? Infinity) <= before) await this.purge(row);
    for (const row of await this.deliveries.finished())
      if ((row.deletedAt?.getTime() ?? Infinity) <= before) await this.deliveries.purge(row.id);
  }

  private async purge(row: MediaRow): Promise<void> {
    // First said, then done: an item that is said to be there is there.
    await this.media.update(row.id, { purgedAt: new Date(), deletedAt: row.deletedAt ?? new Date() });
    await rm(this.folder.medium(row.id), { recursive: true, force: true });
  }

  /** Now and then: what could be taken back for long enough goes, and files that turned out to be no media. */
  async tidy(now = Date.now()): Promise<void> {
    await this.purgeDeleted(now - DELETED_KEPT);
    for (const row of await this.media.kept())
      if (row.status === 'failed' && row.complete && row.createdAt.getTime() < now - UNUSABLE_KEPT) {
        await this.media.update(row.id, { purgedAt: new Date() });
        await rm(this.folder.medium(row.id), { recursive: true, force: true });
      }
  }
}
