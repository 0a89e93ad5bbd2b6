const path = require('node:path');

/** What needs no screen runs under swc; what is drawn, under jest-expo. */
const swc = ['@swc/jest', { jsc: { parser: { syntax: 'typescript', tsx: true }, target: 'es2022' }, module: { type: 'commonjs' } }];
const node = (name, folder, extra = {}) => ({
  displayName: name,
  rootDir: __dirname,
  testEnvironment: 'node',
  // Found by name in a test's sandbox it is slow, and sound is made of it.
  sandboxInjectedGlobals: ['Math'],
  testMatch: [`<rootDir>/${folder}/**/*.test.ts`],
  transform: { '^.+\\.(t|j|mj)sx?$': swc },
  transformIgnorePatterns: ['/node_modules/(?!@flimzy)'],
  modulePathIgnorePatterns: ['<rootDir>/.*/dist/', '<rootDir>/.cache/'],
  ...extra,
});

module.exports = {
  projects: [
    node('core', 'packages/core/test'),
    node('contract', 'packages/contract/test'),
    node('stage', 'packages/stage/test'),
    node('kernels', 'packages/kernels/test'),
    node('demo', 'demo/test'),
    node('server', 'apps/server/test'),
    node('studio', 'apps/studio/test', {
      setupFiles: ['<rootDir>/apps/studio/test/open/storage.ts'],
      // Without a screen: what of the look comes along is what the web has of it.
      moduleNameMapper: { '^react-native$': 'react-native-web' },
      moduleFileExtensions: ['web.ts', 'web.tsx', 'web.js', 'ts', 'tsx', 'js', 'mjs', 'cjs', 'json'],
      transformIgnorePatterns: ['/node_modules/(?!@flimzy|p-queue|p-timeout|eventemitter3|lucide)'],
    }),
    {
      displayName: 'app',
      preset: 'jest-expo',
      rootDir: path.join(__dirname, 'apps/studio'),
      testMatch: ['<rootDir>/test/components/**/*.test.tsx'],
      transformIgnorePatterns: [
        '/node_modules/(?!((jest-)?react-native|@react-native(-community)?|expo|@expo|nativewind|react-native-css-interop))',
      ],
    },
  ],
  testSequencer: path.join(__dirname, 'jest.sequencer.cjs'),
  // No test speaks of time: this is for one that hangs.
  testTimeout: 900000,
  // Two for each core and one more: tests of the server wait for it to start and to stop as much as they compute.
  maxWorkers: require('node:os').availableParallelism() * 2 + 1,
};
