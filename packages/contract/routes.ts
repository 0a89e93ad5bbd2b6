import { z } from 'zod';
import { ADDRESSES, filled } from './addresses';
import { route, type Route } from './route';
import { ARCHIVES } from './archives';
import { POSTING } from './posting';
import { SENDING } from './sending';
import { FrameTable, MediaItem } from './media';
import { Freeable, Storage } from './storage';
import { MediaId, PieceName } from '@flimzy/core/piece';
import { EditAnswer, EditBatch, NewPiece, OpenedPiece, LAST_REVISION, PieceId, PieceSummary, Version } from './pieces';
import { LogEntry } from '@flimzy/core/edits';
import { Fields } from '@flimzy/core/properties';
import { Hearing } from '@flimzy/core/sound';

const mediaId = z.object({ id: MediaId });
const pieceId = z.object({ id: PieceId });
const versionId = z.object({ id: PieceId, version: z.uuid() });

export const ROUTES = {
  health: route({
    method: 'GET',
    url: '/api/health',
    summary: 'Whether the server is up.',
    answer: z.object({ ok: z.literal(true), version: z.string() }),
  }),

  listMedia: route({
    method: 'GET',
    url: '/api/media',
    summary: 'All media items that are not deleted, newest first.',
    answer: z.array(MediaItem),
  }),
  getMedia: route({ method: 'GET', url: '/api/media/:id', summary: 'One media item.', params: mediaId, answer: MediaItem }),
  deleteMedia: route({
    method: 'DELETE',
    url: '/api/media/:id',
    summary: 'Takes an item off the shelf; the original stays.',
    params: mediaId,
    answer: MediaItem,
  }),
  restoreMedia: route({
    method: 'POST',
    url: '/api/media/:id/restore',
    summary: 'Puts a deleted item back.',
    params: mediaId,
    answer: MediaItem,
  }),
  prepareAgain: route({
    method: 'POST',
    url: '/api/media/:id/again',
    summary: 'Tries once more to make what could not be made of an item.',
    params: mediaId,
    answer: MediaItem,
  }),
  mediaFrames: route({
    method: 'GET',
    url: ADDRESSES.mediaFrames,
    summary: 'When each frame begins, in flicks.',
    params: mediaId,
    answer: FrameTable,
  }),
  mediaProxy: route({
    method: 'GET',
    url: ADDRESSES.mediaProxy,
    summary:
      'The proxy: MP4 for video and sound, JPEG or PNG for a photo. Byte ranges. Of interlaced video also with its fields as recorded.',
    params: mediaId,
    query: z.object({ fields: Fields.optional() }),
    answer: { bytes: 'video/mp4' },
  }),
  mediaOriginal: route({
    method: 'GET',
    url: ADDRESSES.mediaOriginal,
    summary: 'The file as it was brought in, byte for byte.',
    params: mediaId,
    answer: { bytes: 'application/octet-stream' },
  }),
  mediaFilmstrip: route({
    method: 'GET',
    url: ADDRESSES.mediaFilmstrip,
    summary: 'Small pictures at even steps in one JPEG; `of` says how many, so that another one has another address.',
    params: mediaId,
    query: z.object({ of: z.coerce.number().int().positive() }),
    answer: { bytes: 'image/jpeg' },
  }),
  mediaTile: route({
    method: 'GET',
    url: ADDRESSES.mediaTile,
    summary: 'One picture of the filmstrip, sharp.',
    params: mediaId,
    query: z.object({ n: z.coerce.number().int().nonnegative() }),
    answer: { bytes: 'image/jpeg' },
  }),
  mediaAt: route({
    method: 'GET',
    url: ADDRESSES.mediaAt,
    summary:
      'The middle of a frame of interlaced video, pixel for pixel, at a time in flicks: deinterlaced, or with its fields as recorded.',
    params: mediaId,
    query: z.object({
      at: z.coerce
        .number()
        .int()
        .nonnegative()
        .max(2 ** 53 - 1),
      fields: Fields,
    }),
    answer: { bytes: 'image/jpeg' },
  }),
  mediaPeaks: route({
    method: 'GET',
    url: ADDRESSES.mediaPeaks,
    summary: 'Waveform peaks: signed bytes, low and high of each bin.',
    params: mediaId,
    query: z.object({ bin: z.coerce.number().int().positive() }),
    answer: { bytes: 'application/octet-stream' },
  }),
  mediaHearing: route({
    method: 'GET',
    url: ADDRESSES.mediaHearing,
    summary: 'What was heard in an item: how loud it is, and where someone speaks.',
    params: mediaId,
    answer: Hearing,
  }),
  mediaLight: route({
    method: 'GET',
    url: ADDRESSES.mediaLight,
    summary: 'The light of the frames of an item: 8 × 8 colours each, row by row, a byte each for red, green and blue.',
    params: mediaId,
    answer: { bytes: 'application/octet-stream' },
  }),
  mediaSound: route({
    method: 'GET',
    url: ADDRESSES.mediaSound,
    summary: 'Decoded sound: 48 kHz, left and right interleaved, 32-bit floats, little-endian; short at the end.',
    params: mediaId,
    query: z.object({ from: z.coerce.number().int().nonnegative(), count: z.coerce.number().int().positive().max(480_000) }),
    answer: { bytes: 'application/octet-stream' },
  }),

  listPieces: route({
    method: 'GET',
    url: '/api/pieces',
    summary: 'All pieces that are not deleted, last changed first.',
    answer: z.array(PieceSummary),
  }),
  newPiece: route({ method: 'POST', url: '/api/pieces', summary: 'Makes an empty piece.', body: NewPiece, answer: PieceSummary }),
  openPiece: route({
    method: 'GET',
    url: '/api/pieces/:id',
    summary: 'The document with the ends of its undo and redo stacks.',
    params: pieceId,
    answer: OpenedPiece,
  }),
  copyPiece: route({
    method: 'POST',
    url: '/api/pieces/:id/copy',
    summary: 'Makes a copy with its own history.',
    params: pieceId,
    answer: PieceSummary,
  }),
  deletePiece: route({
    method: 'DELETE',
    url: '/api/pieces/:id',
    summary: 'Deletes a piece; it can be restored.',
    params: pieceId,
    answer: PieceSummary,
  }),
  restorePiece: route({
    method: 'POST',
    url: '/api/pieces/:id/restore',
    summary: 'Takes back a deletion.',
    params: pieceId,
    answer: PieceSummary,
  }),
  editPiece: route({
    method: 'POST',
    url: '/api/pieces/:id/edits',
    summary: 'Carries out edits on top of all there is, and answers with everything since.',
    params: pieceId,
    body: EditBatch,
    answer: EditAnswer,
  }),
  olderEdits: route({
    method: 'GET',
    url: '/api/pieces/:id/stack',
    summary: 'Entries of the undo or redo stack that lie under a given one, the nearest last.',
    params: pieceId,
    query: z.object({ stack: z.enum(['undo', 'redo']), below: z.coerce.number().int().positive().max(LAST_REVISION) }),
    answer: z.array(LogEntry),
  }),
  listVersions: route({
    method: 'GET',
    url: '/api/pieces/:id/versions',
    summary: 'Named versions, newest first.',
    params: pieceId,
    answer: z.array(Version),
  }),
  saveVersion: route({
    method: 'POST',
    url: '/api/pieces/:id/versions',
    summary: 'Gives the piece as it is now a name.',
    params: pieceId,
    body: z.object({ name: PieceName }),
    answer: Version,
  }),
  copyVersion: route({
    method: 'POST',
    url: '/api/pieces/:id/versions/:version/copy',
    summary: 'Makes a piece of its own from a named version.',
    params: versionId,
    answer: PieceSummary,
  }),
  deleteVersion: route({
    method: 'DELETE',
    url: '/api/pieces/:id/versions/:version',
    summary: 'Forgets the name of a version; the history stays.',
    params: versionId,
    answer: Version,
  }),
  mediaUses: route({
    method: 'GET',
    url: '/api/media/:id/uses',
    summary: 'The pieces whose clips use a media item, and how many of them.',
    params: mediaId,
    answer: z.array(z.object({ piece: PieceId, name: z.string(), clips: z.number().int() })),
  }),
  piecePoster: route({
    method: 'GET',
    url: ADDRESSES.piecePoster,
    summary: 'A frame of the piece as JPEG.',
    params: pieceId,
    answer: { bytes: 'image/jpeg' },
  }),
  pieceFrame: route({
    method: 'GET',
    url: ADDRESSES.pieceFrame,
    summary: 'Any frame of the piece as PNG, drawn by the server.',
    params: pieceId,
    query: z.object({
      at: z.coerce.number().int().nonnegative(),
      width: z.coerce.number().int().min(16).max(1920).default(540),
      from: z.enum(['proxy', 'original']).default('proxy'),
    }),
    answer: { bytes: 'image/png' },
  }),

  storage: route({
    method: 'GET',
    url: '/api/storage',
    summary: 'What takes how much room on the server, and what could be freed.',
    answer: Storage,
  }),
  freeStorage: route({
    method: 'POST',
    url: '/api/storage/free',
    summary: 'Frees the room of one kind of thing, for good.',
    body: z.object({ what: Freeable }),
    answer: Storage,
  }),
  ...SENDING,
  ...ARCHIVES,
  ...POSTING,
} as const;

export type RouteName = keyof typeof ROUTES;

/** Where resumable uploads go (tus 1.0.0). Metadata: `filename`, `filetype`, and `item`, a UUID that the app chose for the item (missing: the server chooses). The upload's id becomes the media item's. */
export const UPLOADS_URL = '/api/uploads';

/** A header that every request that changes something carries: a page of another site cannot send it. */
export const OURS_HEADER = 'x-flimzy';

/** The names of the machine itself, as they stand in an address. */
export const LOOPBACK: readonly string[] = ['localhost', '127.0.0.1', '[::1]'];

/** Where a device without a cookie types the access code. */
export const ENTER_URL = '/enter';

/** Where server-sent events come from. */
export const EVENTS_URL = '/api/events';

/** Largest file taken, in bytes: 32 GiB. */
export const MAX_UPLOAD = 32 * 1024 ** 3;

/** Fills the `:name` places of a route's URL, and adds a query. */
export const urlOf = (r: Route, params?: Record<string, string>, query?: Record<string, string | number>): string =>
  filled(r.url, params, query);
