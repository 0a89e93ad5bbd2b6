import { defineConfig } from '@playwright/test';
import { CHROMIUM_ARGS } from './chromium';

export default defineConfig({
  testDir: '.',
  outputDir: '../test-results/e2e',
  workers: 2,
  retries: 0,
  // No test speaks of time: these are for one that hangs, on a machine half of whose time may be taken. No test has its own.
  timeout: 1_200_000,
  expect: { timeout: 300_000 },
  reporter: [['list'], ['json']],
  globalSetup: './server.ts',
  use: {
    launchOptions: { executablePath: '/usr/bin/chromium', args: CHROMIUM_ARGS },
    screenshot: 'only-on-failure',
    reducedMotion: 'reduce',
  },
  projects: [
    {
      name: 'phone',
      testMatch: /.*\.(phone|both)\.spec\.ts/,
      // As many pixels as points: drawing twice as many each way is what tests that are about it do (`SHARP`).
      use: { viewport: { width: 390, height: 844 }, hasTouch: true },
    },
    { name: 'wide', testMatch: /.*\.(wide|both)\.spec\.ts/, grepInvert: /@once/, use: { viewport: { width: 1280, height: 800 } } },
  ],
});
