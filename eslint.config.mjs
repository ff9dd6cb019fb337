import angular from 'angular-eslint';
import tseslint from 'typescript-eslint';

/** The arrows of the house: who must not import whom. */
const forbid = (files, groups) => ({
  files,
  ignores: ['**/*.spec.ts', '**/testing/**'],
  rules: { 'no-restricted-imports': ['error', { patterns: groups.map(([group, message]) => ({ group, message })) }] },
});
const OURS = [['@unirota/*', '**/contract/**', '**/server/**', '**/web/**'], 'core imports nothing of ours outside core'];
const PLATFORM = [
  ['node:*', 'fs', 'path', 'express', 'mysql2', 'mysql2/*', 'three', 'three/*', '@angular/*', 'rxjs', 'd3-*'],
  'core runs anywhere: no Node, no interface',
];
const UPSTREAM = [
  ['**/mechanism/**', '**/forces/**', '**/run/**', '**/checks/**', '**/sizing/**', '**/sketch/**', '**/formats/**'],
  'elements, joints, couplings and teeth do not know the mechanism',
];

export default tseslint.config(
  { ignores: ['**/node_modules/**', '**/dist/**', '.data/**', '**/.angular/**', 'test-results/**'] },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.ts'],
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/explicit-module-boundary-types': 'error',
      eqeqeq: ['error', 'always'],
      'no-console': ['error', { allow: ['error'] }],
      curly: ['error', 'multi-line'],
    },
  },
  {
    files: ['**/*.spec.ts', 'e2e/**', 'bench/**', 'server/test/**', '**/testing/**'],
    rules: { '@typescript-eslint/no-explicit-any': 'off', '@typescript-eslint/explicit-module-boundary-types': 'off', 'no-console': 'off' },
  },
  {
    files: ['web/src/**/*.ts'],
    extends: [...angular.configs.tsRecommended],
    processor: angular.processInlineTemplates,
    rules: {
      '@angular-eslint/component-selector': ['error', { type: 'element', prefix: 'uni', style: 'kebab-case' }],
      '@angular-eslint/prefer-on-push-component-change-detection': 'error',
    },
  },
  { files: ['web/src/**/*.html'], extends: [...angular.configs.templateRecommended, ...angular.configs.templateAccessibility] },
  // The schema is made from the kinds; types and fields below it know nothing of them.
  forbid(
    ['core/exact/**', 'core/numeric/**'],
    [
      OURS,
      PLATFORM,
      UPSTREAM,
      [['../design/**', '../elements/**', '../couplings/**', '../joints/**', '../teeth/**'], 'arithmetic knows nothing of designs'],
    ],
  ),
  forbid(
    [
      'core/elements/**',
      'core/joints/**',
      'core/couplings/**',
      'core/teeth/**',
      'core/cams/**',
      'core/formats/**',
      'core/design/**',
      'core/units/**',
    ],
    [OURS, PLATFORM, UPSTREAM],
  ),
  forbid(
    ['core/mechanism/**'],
    [
      OURS,
      PLATFORM,
      [['**/forces/**', '**/run/**', '**/checks/**', '**/sizing/**', '**/formats/**'], 'mechanism does not know forces, nor what is built on it'],
    ],
  ),
  forbid(
    ['core/forces/**'],
    [OURS, PLATFORM, [['**/run/**', '**/checks/**', '**/sizing/**', '**/formats/**'], 'forces do not know what is built on them']],
  ),
  forbid(['core/run/**', 'core/checks/**', 'core/sizing/**', 'core/sketch/**'], [OURS, PLATFORM, [['**/formats/**'], 'formats is known by nobody']]),
  forbid(['contract/**'], [[['@unirota/server', '**/server/**', '**/web/**', '@angular/*', 'express'], 'contract stands between server and page']]),
  forbid(['server/src/**'], [[['**/web/**', '@angular/*', 'three'], 'the server does not know the page']]),
  forbid(['web/src/**'], [[['**/server/**', 'node:*', 'express', 'mysql2'], 'the page does not know the server']]),
  // Keeping and people are services and dialogs of their own: shell and start open them, they know neither.
  ...['keeping', 'session'].map((area) =>
    forbid(
      [`web/src/app/${area}/**`],
      [
        [['**/server/**', 'node:*'], 'the page does not know the server'],
        [
          ['../workbench/**', '../start/**', '../train-map/**', '../layout/**', '../sheet/**', '../deck/**', '../stages/**'],
          'keeping and people know no feature',
        ],
      ],
    ),
  ),
  ...['train-map', 'layout', 'sheet', 'deck', 'stages', 'start'].map((area) =>
    forbid(
      [`web/src/app/${area}/**`],
      [
        [['**/server/**', 'node:*'], 'the page does not know the server'],
        [
          ['train-map', 'layout', 'sheet', 'deck', 'stages', 'start'].filter((a) => a !== area).map((a) => `../${a}/**`),
          'feature areas do not import each other',
        ],
      ],
    ),
  ),
);
