import type { Page } from '@playwright/test';
import { wrongs } from './axe';
import { expect, goTo, home, openShelf, OURS, press, selectClip, test } from './studio';

const fromMore = (name: string) => async (page: Page) => {
  await press(page.getByTestId('more'));
  await press(page.getByTestId(`do-${name}`));
};

/** Every panel of the editor, by what is done to open it; what is a sheet is closed again by Esc. */
const PANELS: Record<string, (page: Page) => Promise<void>> = {
  editor: async () => undefined,
  shelf: openShelf,
  more: (page) => press(page.getByTestId('more')),
  history: (page) => press(page.getByTestId('history')),
  send: (page) => press(page.getByTestId('send')),
  search: fromMore('search'),
  keys: fromMore('keys'),
  gestures: fromMore('gestures'),
  seam: async (page) => {
    await goTo(page, '6.21');
    await press(page.getByTestId('seam'));
    await expect(page.getByTestId('seam-before')).toBeVisible();
  },
  clip: (page) => selectClip(page, 1),
  under: fromMore('under'),
  loudness: async (page) => {
    await fromMore('loudness')(page);
    await expect(page.getByTestId('loudness-reading')).toBeVisible();
  },
  cover: async (page) => {
    await fromMore('cover')(page);
    await press(page.getByTestId('cover-new'));
    await expect(page.getByTestId('magnified')).toBeVisible();
  },
  framing: async (page) => {
    await fromMore('framing')(page);
    await press(page.getByTestId('more-figures'));
  },
  transition: async (page) => {
    await fromMore('transition')(page);
    await press(page.getByTestId('transition-wipe'));
    await expect(page.getByTestId('transition-soft')).toBeVisible();
  },
  looks: async (page) => {
    await fromMore('looks')(page);
    await expect(page.getByTestId('tone-contrast')).toBeVisible();
  },
  speed: fromMore('speed'),
  stickers: fromMore('sticker'),
  captions: fromMore('captions'),
  title: async (page) => {
    await goTo(page, '9.00');
    await fromMore('title')(page);
    await expect(page.getByTestId('title-words')).toBeVisible();
  },
  mixing: async (page) => {
    await fromMore('mix')(page);
    await expect(page.locator('[data-testid^="fader-"]').first()).toBeVisible();
  },
  full: fromMore('full-screen'),
};

/** What stands beside the timeline. */
const DOCKED = '[data-testid$="-panel"]';

/** What changes the screen itself and opens nothing. */
const BARE = ['editor', 'clip', 'mixing'];

/** The ground of each look. */
const GROUND = { dark: 'rgb(23, 25, 26)', light: 'rgb(226, 225, 221)' };

/** What is laid out otherwise on a wide screen; the rest is the same there, and looked at on the phone alone. */
const OTHERWISE = ['editor', 'send', 'seam', 'clip', 'looks', 'mixing', 'full'];

// Colours are the same on every screen: they are looked at on the phone, in both looks, and nothing of them on the wide screen.
test('nothing on any screen or panel is out of reach of a reader or too faint, in the dark look and in the light one', async ({ page }) => {
  const phone = test.info().project.name === 'phone';
  /** Has the page take another look, and waits until it has. */
  const lookOf = async (colorScheme: keyof typeof GROUND) => {
    await page.emulateMedia({ colorScheme });
    await expect(page.locator('body')).toHaveCSS('background-color', GROUND[colorScheme]);
  };
  await page.emulateMedia({ colorScheme: 'dark', reducedMotion: 'reduce' });
  await page.addInitScript(() => (Element.prototype.requestFullscreen = () => Promise.reject(new Error('not here'))));
  const found: Record<string, string[]> = {};
  const docked = page.locator(DOCKED);
  const look = async (name: string) => {
    // What stands open over a screen is looked at by itself: the screen was, before.
    const over = (await docked.count()) > 0 ? DOCKED : (await page.getByRole('dialog').count()) > 0 ? '[role="dialog"]' : undefined;
    const wrong = await wrongs(page, phone ? 'all' : 'structure', over);
    if (phone) {
      await lookOf('light');
      wrong.push(...(await wrongs(page, 'contrast', over)).map((one) => `light: ${one}`));
      await lookOf('dark');
    }
    if (wrong.length > 0) found[name] = wrong;
  };
  const away = async () => {
    if ((await docked.count()) > 0) {
      await page.keyboard.press('Escape');
      await expect(docked).toHaveCount(0);
    }
    if ((await page.getByRole('dialog').count()) === 0) return;
    await page.keyboard.press('Escape');
    await expect(page.getByRole('dialog')).toHaveCount(0);
  };
  await page.goto(home());
  await expect(page.getByTestId('piece-demo-first-flight')).toBeVisible();
  await look('pieces');
  for (const id of ['new', 'storage']) {
    await press(page.getByTestId(id));
    await expect(page.getByRole('dialog')).toBeVisible();
    await look(id);
    await away();
  }
  // A copy: what is tried here is not to be met by whoever else has the piece open.
  const copied = await page.request.post(`${home()}/api/pieces/demo-first-flight/copy`, { headers: OURS, data: {} });
  await page.goto(`${home()}/piece/${((await copied.json()) as { id: string }).id}`);
  await expect(page.getByTestId('picture')).toBeVisible();
  await expect(page.getByTestId('stand-in')).toHaveCount(0);
  for (const [name, open] of Object.entries(PANELS)) {
    if (!phone && !OTHERWISE.includes(name)) continue;
    await open(page);
    // A sheet is a dialog from when it stands: a moment before, it is not yet what is to be looked at.
    if (!BARE.includes(name)) await expect(docked.or(page.getByRole('dialog'))).toBeVisible();
    await look(name);
    await away();
  }
  expect(found).toEqual({});
});
