/** How Debian's Chromium is started wherever it is driven: no sandbox, no GPU, no calls home. */
export const CHROMIUM_ARGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  // The last list given counts, so Playwright's own is said again. The popup of the address bar, which nobody sees, is a page of its
  // own that makes every page a fifth dearer; a renderer kept in reserve is started for every page, and never used.
  `--disable-features=${[
    'WebUIOmniboxPopup',
    'WebUIOmniboxAimPopup',
    'AvoidUnnecessaryBeforeUnloadCheckSync',
    'DestroyProfileOnBrowserClose',
    'HttpsUpgrades',
    'LensOverlay',
    'MediaRouter',
    'OptimizationHints',
    'PaintHolding',
    'SpareRendererForSitePerProcess',
    'ThirdPartyStoragePartitioning',
  ].join(',')}`,
];
