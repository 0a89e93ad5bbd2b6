import { writeFile } from 'node:fs/promises';
import { PLATFORM_FORMATS } from '@flimzy/core/deliver';
import { expect, openPiece, pieceOf, press, test } from './studio';

/** Exports and their way to a platform, on a machine that has a second one to do meanwhile. */
const service = () => process.env.FLIMZY_PLATFORMS ?? '';

test('an export is posted: signed in by a token, refused for its shape with the reason, made for that platform and posted again, once', async ({
  page,
  context,
  request,
}, info) => {
  await openPiece(page, 'Post', [{ media: 'demo-hilltop', from: 60, frames: 95 }], { width: 360, height: 640 });
  await press(page.getByTestId('send'));
  await page.getByTestId('about-title').fill('Up she goes');
  await page.getByTestId('about-description').fill('A kite, and wind.');
  await page.getByTestId('about-tags').fill('#kite, wind #kite');
  await page.getByTestId('about-tags').blur();
  await expect(page.getByTestId('about-tags')).toHaveValue('#kite #wind');
  expect((await pieceOf(page)).about).toEqual({ title: 'Up she goes', description: 'A kite, and wind.', tags: ['kite', 'wind'] });
  // It stands far below what is said of the piece, and is seen without looking for it.
  await expect(page.getByTestId('about-tags')).toBeInViewport();
  await press(page.getByTestId('export'));
  await expect(page.getByTestId(/^delivery-(waiting|rendering|done)$/)).toBeInViewport();
  await expect(page.getByTestId('delivery-done')).toHaveCount(1);

  // A token is got on the platform's own page, typed wrongly, then pasted.
  await press(page.getByTestId('post-export'));
  await press(page.getByTestId('open-sign-in-corkwall'));
  const opening = context.waitForEvent('page');
  await press(page.getByTestId('get-token-corkwall'));
  const theirs = await opening;
  await theirs.locator('#name').fill('Ada');
  await theirs.getByRole('button').click();
  const token = (await theirs.locator('#token').textContent()) ?? '';
  await theirs.close();
  await page.getByTestId('token-corkwall').fill('corkwall-nobody');
  await press(page.getByTestId('sign-in-corkwall'));
  await expect(page.getByText('does not know that token')).toBeVisible();
  await page.getByTestId('token-corkwall').fill(token);
  await press(page.getByTestId('sign-in-corkwall'));
  await expect(page.getByTestId('platform-corkwall')).toContainText('Signed in as Ada');
  expect(await page.content()).not.toContain(token);

  await press(page.getByTestId('post-corkwall'));
  await expect(page.getByTestId('posted-refused')).toContainText('The picture is 360 by 640; here it is 4:5 or 1:1.');
  await expect(page.getByTestId('posted-refused')).toContainText('The picture is 360 pixels wide; at least 600 are wanted.');

  const square = { ...PLATFORM_FORMATS.find(({ id }) => id === 'square-post')!, id: 'own-post-square', name: 'Small square' };
  const file = info.outputPath('square.json');
  await writeFile(file, JSON.stringify({ ...square, sizes: [{ width: 600, height: 600 }] }));
  const choosing = page.waitForEvent('filechooser');
  await press(page.getByTestId('import-format'));
  await (await choosing).setFiles(file);
  await press(page.getByTestId('format-own-post-square'));
  await press(page.getByTestId('export'));
  await expect(page.getByTestId('delivery-done')).toHaveCount(2);
  // The line breaks after the last byte: what is there is found to be there.
  await request.post(`${service()}/trouble`, { data: { place: 'arrived', how: 'lost' } });
  const newest = page.getByTestId('delivery-done').first();
  await press(newest.getByTestId('post-export'));
  await expect(newest.getByTestId('platform-corkwall')).toContainText('what this export is made for');
  await press(newest.getByTestId('post-corkwall'));
  const live = newest.getByTestId('posted-live');
  await expect(live).toContainText('Live on Corkwall · Up she goes');
  await expect(newest.getByTestId('platform-corkwall')).toContainText('It is there.');
  expect((await (await request.get(`${service()}/corkwall/`)).text()).match(/Up she goes/g)).toHaveLength(1);
  const seeing = context.waitForEvent('page');
  await press(live.getByTestId('see-post'));
  const seen = await seeing;
  await expect(seen.getByRole('heading')).toHaveText('Up she goes');
  await expect(seen.getByText('#kite #wind')).toBeVisible();
  await expect
    .poll(() => seen.locator('video').evaluate((video: HTMLVideoElement) => [video.videoWidth, video.videoHeight]))
    .toEqual([600, 600]);
  await seen.close();

  // The picture of the piece is the playhead's, until it is as it was.
  await press(page.getByTestId('set-poster'));
  await expect.poll(async () => (await pieceOf(page)).poster).toBe(0);
  await press(page.getByTestId('plain-poster'));
  await expect.poll(async () => (await pieceOf(page)).poster).toBeUndefined();
  await press(page.getByTestId('sign-out-corkwall').first());
  await expect(newest.getByTestId('platform-corkwall')).not.toContainText('Signed in');
});
