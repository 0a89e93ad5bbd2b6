import js from '@eslint/js';
import expo from 'eslint-config-expo/flat.js';
import prettier from 'eslint-config-prettier';
import tseslint from 'typescript-eslint';

/** The same one that the Expo configuration brings: two of one name are refused. */
const importing = expo.find((config) => config.plugins?.import).plugins.import;

// What needs the types, cycles of imports, and what React and its compiler ask of components are oxlint's (.oxlintrc.json), which takes a
// small part of the time.
const notOxlints = (rules = {}) => Object.fromEntries(Object.entries(rules).filter(([name]) => !name.startsWith('react-hooks/')));

/** Imports go only downward: a room may not import what stands above it. */
const mayNot = (files, patterns, globals = [], paths = []) => ({
  files,
  rules: {
    'no-restricted-imports': ['error', { paths, patterns: patterns.map(([group, message]) => ({ group, message })) }],
    'no-restricted-globals': ['error', ...globals],
  },
});
const ROOMS = [
  'timeline',
  'preview',
  'seam',
  'shelf',
  'send',
  'pieces',
  'storage',
  'narration',
  'framing',
  'titles',
  'captions',
  'looks',
  'editing',
];
const PLATFORM = [
  [['react', 'react-*', 'react-native*', 'expo*'], 'no React here'],
  [['node:*', 'fs', 'path', 'child_process'], 'no Node here'],
];
const DOM = ['window', 'document', 'navigator', 'localStorage', 'process', 'Buffer', 'fetch'];

export default tseslint.config(
  {
    ignores: [
      '**/node_modules/**',
      '**/dist/**',
      '**/.expo/**',
      '.cache/**',
      'apps/server/drizzle/**',
      'test-results/**',
      'data/**',
      'data-platforms/**',
      'packages/kernels/assembly/**',
    ],
  },
  js.configs.recommended,
  { files: ['**/*.{ts,tsx}'], extends: [...tseslint.configs.strict, ...tseslint.configs.stylistic] },
  ...expo.map((config) => ({ ...config, files: ['apps/studio/**/*.{ts,tsx}'], rules: notOxlints(config.rules) })),
  {
    files: ['**/*.{ts,tsx}'],
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-confusing-void-expression': 'off',
      '@typescript-eslint/consistent-type-definitions': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-invalid-void-type': 'off',
      '@typescript-eslint/prefer-for-of': 'off',
      '@typescript-eslint/no-redeclare': 'off', // a schema and the type made from it share a name
      'no-undef': 'off',
      'import/no-unresolved': 'off',
      'import/namespace': 'off',
      'import/first': 'off',
    },
  },
  {
    files: ['**/*.{mjs,cjs,js}'],
    languageOptions: {
      globals: {
        console: 'readonly',
        process: 'readonly',
        require: 'readonly',
        module: 'readonly',
        __dirname: 'readonly',
        clearTimeout: 'readonly',
        setTimeout: 'readonly',
        AudioWorkletProcessor: 'readonly',
        currentFrame: 'readonly',
        registerProcessor: 'readonly',
        Atomics: 'readonly',
        URL: 'readonly',
      },
    },
  },
  mayNot(
    ['packages/core/**/*.ts'],
    [
      ...PLATFORM,
      [['@flimzy/stage*', '@flimzy/contract*', '@flimzy/server*', '@flimzy/studio*', '@flimzy/demo*'], 'core imports nothing of ours'],
    ],
    DOM,
  ),
  {
    files: ['packages/core/**/*.ts', 'apps/studio/src/**/*.{ts,tsx}'],
    ignores: ['packages/core/piece/pace.ts', 'packages/core/test/**', 'packages/core/edits/difference.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        ...['[object.name=/^(clip|inner|outer|moved|whole|still|sound|before|after)$/]', "[object.property.name='clip']"].map((which) => ({
          selector: `MemberExpression${which}[property.name='from']`,
          message: 'the time of the material is computed in core/piece/pace.ts alone',
        })),
      ],
    },
  },
  mayNot(
    ['packages/stage/**/*.ts'],
    [...PLATFORM, [['@flimzy/contract*', '@flimzy/server*', '@flimzy/studio*', '@flimzy/demo*'], 'stage imports only core']],
    DOM,
  ),
  mayNot(
    ['packages/contract/**/*.ts'],
    [...PLATFORM, [['@flimzy/stage*', '@flimzy/server*', '@flimzy/studio*', '@flimzy/demo*'], 'the contract imports only core']],
    DOM,
  ),
  mayNot(['apps/server/**/*.ts'], [[['@flimzy/studio*', '**/apps/studio/**'], 'the server never imports the app']]),
  mayNot(
    ['apps/studio/**/*.{ts,tsx}'],
    [[['@flimzy/server*', '**/apps/server/**', '@flimzy/demo*'], 'the app never imports the server']],
    [],
    ['date-fns', 'lucide-react-native'].map((name) => ({ name, message: 'import the one module, not the barrel' })),
  ),
  {
    files: ['**/test/**/*.{ts,tsx}', 'e2e/**/*.ts'],
    rules: { 'no-restricted-imports': 'off', 'no-restricted-globals': 'off', '@typescript-eslint/no-non-null-assertion': 'off' },
  },
  // The rooms of the app: what everything stands on imports nothing of what stands on it.
  ...[
    ['look', ['api', 'material', 'open', ...ROOMS]],
    ['api', ['material', 'open', ...ROOMS]],
    ['material', ['open', ...ROOMS]],
    ['open', ROOMS],
    ['timeline', ROOMS.filter((room) => room !== 'timeline')],
    ['preview', ROOMS.filter((room) => room !== 'preview')],
    ['narration', ROOMS.filter((room) => room !== 'narration')],
    ['framing', ROOMS.filter((room) => room !== 'framing')],
  ].map(([room, above]) => ({
    files: [`apps/studio/src/${room}/**/*.{ts,tsx}`],
    plugins: { import: importing },
    rules: {
      'import/no-restricted-paths': [
        'error',
        {
          zones: above.map((one) => ({ target: `./apps/studio/src/${room}`, from: `./apps/studio/src/${one}` })),
          basePath: import.meta.dirname,
        },
      ],
    },
  })),
  prettier,
);
