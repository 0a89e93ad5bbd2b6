import { clip, expect, home, press, test } from './studio';

test('plays with sound: the clock moves at the speed of time and the picture with it', async ({ page }) => {
  await page.goto(`${home()}/piece/demo-first-flight`);
  await expect(clip(page, 0)).toBeAttached();
  await press(page.getByTestId('play'));
  const frames = async () => {
    const [m = 0, s = 0, f = 0] = (await page.getByTestId('clock').inputValue()).split(/[:.]/).map(Number);
    return m * 1800 + s * 30 + f;
  };
  await expect.poll(frames).toBeGreaterThan(5);
  const [first, began] = [await frames(), Date.now()];
  await page.waitForTimeout(3000);
  const speed = (((await frames()) - first) / 30 / (Date.now() - began)) * 1000;
  expect(speed).toBeGreaterThan(0.85);
  expect(speed).toBeLessThan(1.15);
  await press(page.getByTestId('play'));
  const stopped = await frames();
  await page.waitForTimeout(400);
  expect(await frames()).toBe(stopped);
});
