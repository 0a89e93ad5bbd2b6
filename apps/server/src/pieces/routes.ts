import { stat, writeFile, rename, readdir, rm } from 'node:fs/promises';
import path from 'node:path';
import { lastShown } from '@flimzy/core/frame';
import { pieceLength } from '@flimzy/core/piece';
import { toGridBelow } from '@flimzy/core/time';
import type { FastifyInstance } from 'fastify';
import { drawStill } from '../deliveries/still';
import { handle } from '../http/register';
import type { DataFolder } from '../media/folders';
import type { MediaStore } from '../media/store';
import type { PieceStore } from './store';

/** Longest side of a poster, in pixels. */
const POSTER_SIDE = 480;

/** Where in a piece its poster is taken: a third in, past the first shot as a rule. */
const POSTER_AT = 1 / 3;

export function pieceRoutes(app: FastifyInstance, store: PieceStore, media: MediaStore, folder: DataFolder): void {
  handle(app, 'listPieces', () => store.list());
  handle(app, 'newPiece', ({ body }) => store.create(body));
  handle(app, 'openPiece', ({ params }) => store.open(params.id));
  handle(app, 'copyPiece', ({ params }) => store.copy(params.id));
  handle(app, 'deletePiece', ({ params }) => store.setDeleted(params.id, true));
  handle(app, 'restorePiece', ({ params }) => store.setDeleted(params.id, false));
  handle(app, 'editPiece', ({ params, body }) => store.edit(params.id, body.since, body.requests));
  handle(app, 'olderEdits', ({ params, query }) => store.olderUndo(params.id, query.before));

  handle(app, 'listVersions', ({ params }) => store.versions(params.id));
  handle(app, 'saveVersion', ({ params, body }) => store.saveVersion(params.id, body.name));
  handle(app, 'copyVersion', ({ params }) => store.copyVersion(params.id, params.version));
  handle(app, 'deleteVersion', ({ params }) => store.deleteVersion(params.id, params.version));
  handle(app, 'mediaUses', ({ params }) => store.usesOf(params.id));

  handle(app, 'piecePoster', async ({ params, reply }) => {
    const { piece, revision } = await store.head(params.id);
    const name = `${piece.id}-${revision}.jpg`;
    const file = path.join(folder.posters(), name);
    if (!(await stat(file).catch(() => null))) {
      const { width, height, rate } = piece.format;
      const stage = await drawStill(
        media,
        folder,
        piece,
        toGridBelow(pieceLength(piece) * POSTER_AT, rate),
        Math.round((width * POSTER_SIDE) / Math.max(width, height)),
        'proxy',
      );
      await writeFile(`${file}.new`, await stage.toJpeg(82));
      await rename(`${file}.new`, file);
      for (const old of await readdir(folder.posters()))
        if (old.startsWith(`${piece.id}-`) && old !== name) await rm(path.join(folder.posters(), old), { force: true });
    }
    return reply.type('image/jpeg').header('cache-control', 'private, no-cache').sendFile(name, folder.posters(), { cacheControl: false });
  });

  handle(app, 'pieceFrame', async ({ params, query, reply }) => {
    const { piece } = await store.head(params.id);
    const time = toGridBelow(lastShown(piece, query.at), piece.format.rate);
    const stage = await drawStill(media, folder, piece, time, query.width, query.from);
    return reply
      .type('image/png')
      .header('cache-control', 'no-store')
      .send(await stage.toPng());
  });
}
