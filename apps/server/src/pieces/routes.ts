import { readdir, readFile, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { BATCH_WEIGHT } from '@flimzy/contract';
import { weightOf } from '@flimzy/core/edits';
import { lastShown } from '@flimzy/core/frame';
import { pieceLength } from '@flimzy/core/piece';
import { toGridBelow } from '@flimzy/core/time';
import type { FastifyInstance } from 'fastify';
import { drawStill } from '../deliveries/still';
import type { Stills } from '../deliveries/stills';
import { whole } from '../files/whole';
import { ProblemError } from '../http/problem';
import { leaving } from '../http/leaving';
import { handle } from '../http/register';
import type { DataFolder } from '../media/folders';
import type { MediaStore } from '../media/store';
import type { PieceStore } from './store';

/** Longest side of a poster, in pixels. */
const POSTER_SIDE = 480;

/** Where in a piece its poster is taken, unless a person chose: a third in, past the first shot as a rule. */
const POSTER_AT = 1 / 3;

export function pieceRoutes(app: FastifyInstance, store: PieceStore, media: MediaStore, folder: DataFolder, stills: Stills): void {
  handle(app, 'listPieces', () => store.list());
  handle(app, 'newPiece', ({ body }) => store.create(body));
  handle(app, 'openPiece', ({ params }) => store.open(params.id));
  handle(app, 'copyPiece', ({ params }) => store.copy(params.id));
  handle(app, 'deletePiece', ({ params }) => store.setDeleted(params.id, true));
  handle(app, 'restorePiece', ({ params }) => store.setDeleted(params.id, false));
  handle(app, 'editPiece', async ({ params, body }) => {
    const weight = body.requests.reduce((sum, request) => sum + weightOf(request), 0);
    if (body.requests.length > 1 && weight > BATCH_WEIGHT)
      throw new ProblemError('too-large', `Send at most ${BATCH_WEIGHT} edits at once; these are ${weight}.`);
    return store.edit(params.id, body.since, body.requests);
  });
  handle(app, 'olderEdits', ({ params, query }) => store.deeper(params.id, query.stack, query.below));

  handle(app, 'listVersions', ({ params }) => store.versions(params.id));
  handle(app, 'saveVersion', ({ params, body }) => store.saveVersion(params.id, body.name));
  handle(app, 'copyVersion', ({ params }) => store.copyVersion(params.id, params.version));
  handle(app, 'deleteVersion', ({ params }) => store.deleteVersion(params.id, params.version));
  handle(app, 'mediaUses', ({ params }) => store.usesOf(params.id));

  handle(app, 'piecePoster', async ({ params, request, reply }) => {
    const { piece, revision } = await store.head(params.id);
    const name = `${piece.id}-${revision}.jpg`;
    const file = path.join(folder.posters(), name);
    const kept = await readFile(file).catch(() => null);
    const bytes =
      kept ??
      // Whoever leaves, the poster is made: the next one who asks has it.
      (await stills.get(`poster ${name}`, async (signal) => {
        const { width, height, rate } = piece.format;
        const time = toGridBelow(lastShown(piece, piece.poster ?? pieceLength(piece) * POSTER_AT), rate);
        const shown = Math.round((width * POSTER_SIDE) / Math.max(width, height));
        const made = await (await drawStill(media, folder, piece, time, shown, 'proxy', signal)).toJpeg(82);
        await whole(file, (to) => writeFile(to, made));
        await removeOlder(folder.posters(), piece.id, revision);
        return made;
      }));
    const tag = `"${piece.id}-${revision}"`;
    void reply.header('cache-control', 'private, no-cache').header('etag', tag);
    return request.headers['if-none-match'] === tag ? reply.code(304).send() : reply.type('image/jpeg').send(bytes);
  });

  handle(app, 'pieceFrame', async ({ params, query, reply }) => {
    const { piece, revision } = await store.head(params.id);
    const time = toGridBelow(lastShown(piece, query.at), piece.format.rate);
    const bytes = await stills.get(
      JSON.stringify([piece.id, revision, time, query.width, query.from]),
      async (signal) => (await drawStill(media, folder, piece, time, query.width, query.from, signal)).toPng(),
      leaving(reply),
    );
    return reply.type('image/png').header('cache-control', 'no-store').send(bytes);
  });
}

/** Removes the posters of earlier states of a piece. */
async function removeOlder(posters: string, piece: string, revision: number): Promise<void> {
  for (const name of await readdir(posters)) {
    const [, of, number] = /^(.*)-(\d+)\.jpg$/.exec(name) ?? [];
    if (of === piece && Number(number) < revision) await rm(path.join(posters, name), { force: true });
  }
}
