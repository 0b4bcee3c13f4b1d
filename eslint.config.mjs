import js from '@eslint/js';
import { createTypeScriptImportResolver } from 'eslint-import-resolver-typescript';
import importX from 'eslint-plugin-import-x';
import reactHooks from 'eslint-plugin-react-hooks';
import regexp from 'eslint-plugin-regexp';
import tseslint from 'typescript-eslint';

/** The order of core's modules is the law: a module imports only from those before it, through their index. */
const CORE_ORDER = [
  'units',
  'numeric',
  'limits',
  'duty',
  'measure',
  'wear',
  'inspect',
  'torque',
  'kits',
  'plan',
  'simulate',
];

const coreBans = [
  {
    selector: "MemberExpression[object.name='Math'][property.name='random']",
    message: 'Randomness is an argument (numeric/random).',
  },
  { selector: "MemberExpression[object.name='Date'][property.name='now']", message: 'Dates are arguments.' },
  { selector: "NewExpression[callee.name='Date'][arguments.length=0]", message: 'Dates are arguments.' },
];

/** Flat config replaces a rule and never merges it: one block for each module. */
const coreModules = CORE_ORDER.map((module, index) => ({
  files: [`core/src/${module}/**/*.ts`],
  ignores: ['**/*.test.ts'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          {
            group: CORE_ORDER.slice(index + 1).map((later) => `../${later}/**`),
            message: `${module} may import only from: ${CORE_ORDER.slice(0, index).join(', ') || 'nothing'}.`,
          },
          {
            group: CORE_ORDER.slice(0, index).flatMap((earlier) => [`../${earlier}/*`, `!../${earlier}/index.ts`]),
            message: 'Import another module through its index.',
          },
          {
            group: ['@mile-mark/*', 'node:*', 'react', 'express', 'zod'],
            message: 'core is computation, nothing else.',
          },
        ].filter(({ group }) => group.length > 0),
      },
    ],
    'no-restricted-syntax': ['error', ...coreBans],
  },
}));

const zone = (target, from, message) => ({ target: `./${target}`, from: from.map((path) => `./${path}`), message });

/** One room a capability, on every floor: the order is the law of the server's, each imports only from those before. */
const FEATURES = [
  'people',
  'register',
  'gauges',
  'forecasts',
  'inspections',
  'telematics',
  'specifications',
  'jobs',
  'parts',
  'plan',
  'imports',
  'archive',
];

/** A room is entered through its index. */
const rooms = (floor, names) =>
  names.flatMap((name) => [
    {
      target: `./${floor}/!(${name})/**/!(*.test).{ts,tsx}`,
      from: `./${floor}/${name}/**/!(index).{ts,tsx}`,
      message: `Import ${name} through its index.`,
    },
  ]);

/** A room of the server imports only from the rooms before it. */
const featureOrder = FEATURES.map((name, index) => ({
  files: [`server/src/features/${name}/**/*.ts`],
  ignores: ['**/*.test.ts'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: FEATURES.slice(index + 1).flatMap((later) =>
          ['..', '../..'].map((up) => ({
            group: [`${up}/${later}/**`],
            message: `${name} may import only from: ${FEATURES.slice(0, index).join(', ') || 'no other feature'}.`,
          })),
        ),
      },
    ],
  },
}));

export default tseslint.config(
  { ignores: ['**/dist/**', '**/dist-*/**', '**/node_modules/**', '.local/**', 'test-results/**'] },
  js.configs.recommended,
  {
    files: ['**/*.mjs'],
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        fetch: 'readonly',
        URL: 'readonly',
        setTimeout: 'readonly',
        setInterval: 'readonly',
        clearInterval: 'readonly',
        performance: 'readonly',
        Buffer: 'readonly',
        AbortSignal: 'readonly',
        window: 'readonly',
        document: 'readonly',
        requestAnimationFrame: 'readonly',
        PerformanceObserver: 'readonly',
      },
    },
  },
  {
    // No expression takes time that grows faster than the text it is tried on.
    files: ['{core,contract,server,standins,web}/src/**/*.{ts,tsx}'],
    ignores: ['**/*.test.ts', '**/testing/corpus/**'],
    plugins: { regexp },
    rules: {
      'regexp/no-super-linear-backtracking': 'error',
      'regexp/no-super-linear-move': ['error', { report: 'certain' }],
    },
  },
  {
    files: ['**/*.{ts,tsx}'],
    extends: [...tseslint.configs.recommendedTypeChecked, importX.flatConfigs.typescript],
    plugins: { 'import-x': importX },
    languageOptions: {
      parserOptions: {
        projectService: { allowDefaultProject: ['web/vite.config.ts'] },
        tsconfigRootDir: import.meta.dirname,
      },
    },
    settings: {
      'import-x/resolver-next': [
        createTypeScriptImportResolver({
          noWarnOnMultipleProjects: true,
          project: ['core', 'contract', 'server', 'web', 'standins', 'e2e'].map((name) => `${name}/tsconfig.json`),
          conditionNames: ['source', 'import', 'default'],
        }),
      ],
      'import-x/extensions': ['.ts', '.tsx'],
      'import-x/parsers': { '@typescript-eslint/parser': ['.ts', '.tsx'] },
    },
    rules: {
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/require-await': 'off',
      '@typescript-eslint/no-non-null-assertion': 'error',
      'import-x/no-cycle': 'error',
      'import-x/no-restricted-paths': [
        'error',
        {
          zones: [
            zone('core', ['contract', 'server', 'web', 'standins'], 'core imports nothing of the others.'),
            zone('contract', ['server', 'web', 'standins'], 'contract imports only core.'),
            zone('server', ['web', 'e2e'], 'server imports contract and core.'),
            ...['platform', 'features'].map((part) =>
              zone(`server/src/${part}`, ['standins'], 'only the demo plays with stand-ins.'),
            ),
            zone(
              'server/src/platform/**/!(*.test).ts',
              ['server/src/features', 'server/src/demo', 'server/src/events.ts', 'server/src/schema.ts'],
              'the platform knows no trade.',
            ),
            zone('server/src/features', ['server/src/demo'], 'features know no demo.'),
            ...rooms('server/src/features', FEATURES),
            zone('web', ['server', 'standins', 'e2e'], 'web imports contract and core.'),
            zone('standins', ['server', 'web', 'contract'], 'stand-ins import only core.'),
            zone(
              'server/src/services',
              ['server/src/routes', 'server/src/interchange', 'server/src/jobs', 'server/src/http'],
              'services don’t know who calls them.',
            ),
            zone('server/src/interchange', ['server/src/routes'], 'interchange → services.'),
            zone('server/src/jobs', ['server/src/routes', 'server/src/interchange'], 'jobs → services.'),
            zone(
              'server/src/db',
              [
                'server/src/routes',
                'server/src/services',
                'server/src/jobs',
                'server/src/interchange',
                'server/src/http',
                'server/src/auth',
              ],
              'db knows nobody above it.',
            ),
            ...['routes', 'services', 'interchange', 'jobs'].map((above) =>
              zone('server/src/auth', [`server/src/${above}`], 'auth is below the services.'),
            ),
            ...rooms('web/src/screens', FEATURES),
            ...rooms('contract/src', [...FEATURES, 'words']),
            zone(
              'web/src/ui',
              ['web/src/app', 'web/src/screens', 'web/src/api', 'web/src/stores', 'web/src/drawings'],
              'ui knows no domain.',
            ),
            zone(
              'web/src/drawings',
              ['web/src/app', 'web/src/screens', 'web/src/api', 'web/src/stores'],
              'drawings are below the screens.',
            ),
            zone(
              'web/src/label',
              ['web/src/app', 'web/src/screens', 'web/src/api', 'web/src/stores'],
              'label is below the screens.',
            ),
            zone(
              'web/src/api',
              ['web/src/app', 'web/src/screens', 'web/src/stores', 'web/src/ui', 'web/src/drawings'],
              'api is below the screens.',
            ),
            zone('web/src/screens', ['web/src/app'], 'app → screens.'),
            zone(
              'web/src/workers',
              ['web/src/app', 'web/src/screens', 'web/src/api', 'web/src/stores', 'web/src/ui', 'web/src/drawings'],
              'workers import only core.',
            ),
          ],
        },
      ],
    },
  },
  ...coreModules,
  ...featureOrder.filter(({ rules }) => rules['no-restricted-imports'][1].patterns.length > 0),
  { files: ['{contract,core,server,standins,scripts,e2e}/**/*.{ts,mjs}'], rules: { 'max-lines': ['error', 350] } },
  {
    files: ['web/src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': reactHooks },
    rules: {
      'react-hooks/rules-of-hooks': 'error',
      'react-hooks/exhaustive-deps': 'error',
      'max-lines': ['error', 250],
      'max-lines-per-function': ['error', 100],
    },
  },
  {
    files: ['web/src/{app,screens,api,stores,drawings}/**/*.{ts,tsx}'],
    rules: {
      'no-restricted-imports': [
        'error',
        { patterns: [{ group: ['radix-ui', '@radix-ui/*'], message: 'Only ui imports Radix.' }] },
      ],
    },
  },
  {
    files: ['web/src/ui/**/*.{ts,tsx}'],
    rules: {
      'no-restricted-imports': ['error', { patterns: [{ group: ['@mile-mark/*'], message: 'ui knows no domain.' }] }],
    },
  },
  {
    files: ['**/*.test.ts', 'e2e/**/*.ts', 'server/src/testing/**/*.ts'],
    rules: {
      'max-lines': ['error', 350],
      'max-lines-per-function': 'off',
      '@typescript-eslint/no-unsafe-assignment': 'off',
      '@typescript-eslint/no-unsafe-member-access': 'off',
      '@typescript-eslint/no-unsafe-argument': 'off',
      '@typescript-eslint/no-unsafe-call': 'off',
      '@typescript-eslint/no-unsafe-return': 'off',
    },
  },
);
