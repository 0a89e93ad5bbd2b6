import type { LogEntry } from '@flimzy/core/edits';
import type { FrameTimes } from '@flimzy/core/frame';
import type { About, MediaFacts, Piece, PieceFormat } from '@flimzy/core/piece';
import type { DeliveryCheck, Filmstrip } from '@flimzy/contract';
import type { DeliverySettings, PlatformFormat } from '@flimzy/core/deliver';
import { bigint, boolean, integer, jsonb, pgTable, primaryKey, real, text, timestamp, uniqueIndex } from 'drizzle-orm/pg-core';
import type { SourceFacts } from '../media/source';
import type { Runs } from '../pieces/runs';

const moment = (name: string) => timestamp(name, { withTimezone: true, mode: 'date' });

/** Media items. The files stand under media/ID in the data folder. */
export const media = pgTable('media', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  fileName: text('file_name').notNull(),
  size: bigint('size', { mode: 'number' }).notNull(),
  status: text('status', { enum: ['preparing', 'ready', 'failed'] }).notNull(),
  /** Everything is made: proxy, frame times, filmstrip, peaks. Not so while preparing, and after a crash. */
  complete: boolean('complete').notNull().default(false),
  error: text('error'),
  /** What a person should know of an item that can be used: a sentence. */
  note: text('note'),
  /** Bytes of each file that was made, so that one that is damaged or gone is found and made again. */
  made: jsonb('made').$type<Record<string, number>>(),
  sha256: text('sha256'),
  facts: jsonb('facts').$type<MediaFacts>(),
  source: jsonb('source').$type<SourceFacts>(),
  frames: jsonb('frames').$type<FrameTimes>(),
  filmstrip: jsonb('filmstrip').$type<Filmstrip>(),
  createdAt: moment('created_at').notNull().defaultNow(),
  deletedAt: moment('deleted_at'),
  /** When its files were removed for good, to free their space. */
  purgedAt: moment('purged_at'),
});

/** Pieces as the list shows them; the document itself is a snapshot plus the edits after it. */
export const pieces = pgTable('pieces', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  format: jsonb('format').$type<PieceFormat>().notNull(),
  length: bigint('length', { mode: 'number' }).notNull(),
  clips: integer('clips').notNull(),
  revision: integer('revision').notNull(),
  createdAt: moment('created_at').notNull().defaultNow(),
  changedAt: moment('changed_at').notNull().defaultNow(),
  deletedAt: moment('deleted_at'),
});

/** The edit log: nothing here is ever changed or removed. */
export const edits = pgTable(
  'edits',
  {
    piece: text('piece')
      .notNull()
      .references(() => pieces.id),
    seq: integer('seq').notNull(),
    id: text('id').notNull(),
    kind: text('kind', { enum: ['do', 'undo', 'redo'] }).notNull(),
    name: text('name').notNull(),
    title: text('title').notNull(),
    target: text('target'),
    params: jsonb('params').$type<unknown>(),
    patches: jsonb('patches').$type<LogEntry['patches']>().notNull(),
    inverse: jsonb('inverse').$type<LogEntry['inverse']>().notNull(),
    at: moment('at').notNull(),
  },
  (t) => [primaryKey({ columns: [t.piece, t.seq] }), uniqueIndex('edits_id').on(t.piece, t.id)],
);

/** Whole documents, now and then, so that opening a piece replays few edits. Revision 0 is the piece as it was made. */
export const snapshots = pgTable(
  'snapshots',
  {
    piece: text('piece')
      .notNull()
      .references(() => pieces.id),
    revision: integer('revision').notNull(),
    document: jsonb('document').$type<Piece>().notNull(),
    /** The undo and redo stacks there, as runs of log numbers; missing in snapshots of before. */
    undo: jsonb('undo').$type<Runs>(),
    redo: jsonb('redo').$type<Runs>(),
  },
  (t) => [primaryKey({ columns: [t.piece, t.revision] })],
);

/** Moments of a piece that were given a name. */
export const versions = pgTable('versions', {
  id: text('id').primaryKey(),
  piece: text('piece')
    .notNull()
    .references(() => pieces.id),
  name: text('name').notNull(),
  revision: integer('revision').notNull(),
  at: moment('at').notNull().defaultNow(),
});

/** Exports. The document is kept with each: it shows the piece as it was when it was asked for. */
export const deliveries = pgTable('deliveries', {
  id: text('id').primaryKey(),
  piece: text('piece').notNull(),
  pieceName: text('piece_name').notNull(),
  revision: integer('revision').notNull(),
  document: jsonb('document').$type<Piece>().notNull(),
  /** How it is made; null in those of before: as the piece is. */
  settings: jsonb('settings').$type<DeliverySettings>(),
  status: text('status', { enum: ['waiting', 'rendering', 'paused', 'done', 'failed', 'cancelled'] }).notNull(),
  progress: real('progress').notNull().default(0),
  error: text('error'),
  fileName: text('file_name').notNull(),
  size: bigint('size', { mode: 'number' }),
  /** What was looked at in the finished file. */
  checks: jsonb('checks').$type<DeliveryCheck[]>(),
  length: bigint('length', { mode: 'number' }).notNull(),
  /** Its place among those that wait: the lowest comes first, of equal ones the oldest. */
  rank: integer('rank').notNull().default(0),
  segments: integer('segments').notNull().default(0),
  segmentsKept: integer('segments_kept').notNull().default(0),
  createdAt: moment('created_at').notNull().defaultNow(),
  finishedAt: moment('finished_at'),
  /** Taken off the list; its file goes when it can no longer be taken back. */
  deletedAt: moment('deleted_at'),
});

/** Formats of platforms that people made themselves. */
export const formats = pgTable('formats', { id: text('id').primaryKey(), format: jsonb('format').$type<PlatformFormat>().notNull() });

/** Who is signed in on which platform. The token is sealed with the secret of the data folder. */
export const accounts = pgTable('accounts', {
  /** The platform. */
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  sealed: text('sealed').notNull(),
  /** The platform no longer takes it. */
  stale: boolean('stale').notNull().default(false),
});

/** Exports that were posted. */
export const posts = pgTable('posts', {
  id: text('id').primaryKey(),
  delivery: text('delivery').notNull(),
  piece: text('piece').notNull(),
  platform: text('platform').notNull(),
  platformName: text('platform_name').notNull(),
  about: jsonb('about').$type<About>().notNull(),
  status: text('status', { enum: ['waiting', 'sending', 'looking', 'live', 'refused', 'failed', 'cancelled'] }).notNull(),
  /** What the platform calls it, and where its bytes go, once it was announced. */
  remote: text('remote'),
  upload: text('upload'),
  page: text('page'),
  reasons: jsonb('reasons').$type<string[]>().notNull(),
  says: text('says'),
  createdAt: moment('created_at').notNull().defaultNow(),
  finishedAt: moment('finished_at'),
});

/** Small facts about the data folder itself: whether the demo was loaded. */
export const notes = pgTable('notes', { key: text('key').primaryKey(), value: text('value').notNull() });
