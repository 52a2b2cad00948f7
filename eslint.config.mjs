import { defineConfig, globalIgnores } from 'eslint/config';
import next from 'eslint-config-next';
import nextTypeScript from 'eslint-config-next/typescript';

/** What each floor may not import. Imports run downward only: core ← store ← services ← edge, worker, app. */
const FLOORS = {
  core: ['store', 'services', 'edge', 'worker', 'app', 'ui', 'standins', 'demo'],
  store: ['services', 'edge', 'worker', 'app', 'ui', 'standins', 'demo'],
  services: ['edge', 'worker', 'app', 'ui', 'standins', 'demo'],
  edge: ['worker', 'app', 'ui', 'standins', 'demo'],
  worker: ['edge', 'app', 'ui', 'standins', 'demo'],
  app: ['edge', 'worker', 'standins'],
  ui: ['store', 'services', 'edge', 'worker', 'app', 'standins', 'demo'],
  tag: ['core', 'store', 'services', 'edge', 'worker', 'app', 'ui', 'standins', 'demo'],
  standins: ['core', 'store', 'services', 'edge', 'worker', 'app', 'ui', 'demo'],
  demo: ['app', 'ui', 'standins'],
};
/** Packages and modules that reach into the world; the core and the screens' components do without them. */
const WORLD = [
  'better-sqlite3',
  'next',
  'react',
  'pino',
  'iron-session',
  'fs',
  'http',
  'crypto',
  'path',
  'child_process',
];

const forbidden = (floor, floors) => ({
  files: [`src/${floor}/**/*.{ts,tsx}`],
  ignores: ['**/*.test.ts'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          {
            group: floors.flatMap((other) => [`@/${other}`, `@/${other}/*`, `**/../${other}/**`]),
            message: `${floor} must not import this floor: imports run downward only (docs/architecture.md).`,
          },
          ...(floor === 'core'
            ? [
                {
                  group: [...WORLD, ...WORLD.map((name) => `${name}/*`), 'node:*'],
                  message: 'The core knows nothing of the world.',
                },
              ]
            : []),
        ],
      },
    ],
    ...(floor === 'core' && {
      'no-restricted-globals': ['error', 'process', 'fetch', 'setTimeout', 'window', 'document'],
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: 'The core has no clock: take the time as an argument.' },
      ],
    }),
  },
});

export default defineConfig([
  globalIgnores(['.next/**', 'dist/**', 'data/**', 'next-env.d.ts', 'test-results/**']),
  ...next,
  ...nextTypeScript,
  {
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-non-null-assertion': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'no-console': 'off',
    },
  },
  ...Object.entries(FLOORS).map(([floor, floors]) => forbidden(floor, floors)),
]);
