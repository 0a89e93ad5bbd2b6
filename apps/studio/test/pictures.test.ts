import type { PictureRef } from '@flimzy/core/frame';
import type { MediaFacts } from '@flimzy/core/piece';
import { Pictures } from '../src/preview/pictures';

/** Pictures of photos, with a browser that decodes nothing: `open` counts the bytes of the bitmaps that are open, as they come and go. */
function gallery(originals: boolean, decoded: { width: number; height: number }) {
  const state = { open: 0, decoded: 0 };
  const bytes = 4 * decoded.width * decoded.height;
  Object.assign(globalThis, {
    fetch: () => Promise.resolve({ ok: true, blob: () => Promise.resolve(null) }),
    createImageBitmap: () => {
      state.open += bytes;
      state.decoded += 1;
      return Promise.resolve({ ...decoded, close: () => (state.open -= bytes) });
    },
  });
  const pictures = new Pictures((what, media) => `${what}/${media}`, originals);
  const look = async (media: string, facts: { width: number; height: number }) => {
    const photo = { kind: 'photo', ...facts } as MediaFacts;
    const got = await pictures.get({ clip: media, media } as PictureRef, photo, false);
    got?.done();
    await new Promise((resolve) => setTimeout(resolve, 0));
    return state.open;
  };
  return { state, look };
}

const LARGE = { width: 4000, height: 3000 };
const PHOTOS = Array.from({ length: 60 }, (_, n) => `photo-${n}`);

describe('photos in the preview', () => {
  it('take no more memory than they may, however many a piece has, and the ones just shown stay', async () => {
    const { state, look } = gallery(false, { width: 1920, height: 1440 });
    const open: number[] = [];
    for (const media of PHOTOS) open.push(await look(media, LARGE));
    expect(Math.max(...open)).toBeLessThanOrEqual(128e6);
    const before = state.decoded;
    for (const media of PHOTOS.slice(-8)) await look(media, LARGE);
    expect(state.decoded).toBe(before);
  });

  it('that are small are kept by their number, and some stay whatever their size', async () => {
    const small = gallery(false, { width: 400, height: 300 });
    for (const media of PHOTOS.slice(0, 24)) await small.look(media, { width: 400, height: 300 });
    for (const media of PHOTOS.slice(0, 24)) await small.look(media, { width: 400, height: 300 });
    expect(small.state.decoded).toBe(24);
    const huge = gallery(true, { width: 12_000, height: 9000 });
    for (let round = 0; round < 3; round += 1)
      for (const media of PHOTOS.slice(0, 4)) await huge.look(media, { width: 12_000, height: 9000 });
    expect(huge.state.decoded).toBe(4);
  });
});
