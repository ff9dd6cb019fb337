import angular from 'angular-eslint';
import tseslint from 'typescript-eslint';

/** Packages that a part must not use; who may know whom of our own is in .dependency-cruiser.cjs. */
const without = (files, group, message) => ({
  files,
  ignores: ['**/*.spec.ts', '**/testing/**', 'cli/**'],
  rules: { 'no-restricted-imports': ['error', { patterns: [{ group, message }] }] },
});

/** Attributes of templates that hold no words to be read. */
const NO_WORDS =
  'accept align appearance aria-controls aria-labelledby aria-live cdkDropListOrientation content d direction inputId labelledBy matButton matColumnDef matTooltipPosition mode none preserveAspectRatio rel subscriptSizing text-anchor transform unit x xUnit y'.split(
    ' ',
  );

export default tseslint.config(
  { ignores: ['**/node_modules/**', '**/dist/**', '.data/**', '**/.angular/**', 'test-results/**'] },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.ts'],
    languageOptions: {
      parserOptions: {
        project: ['tsconfig.json', 'web/tsconfig.json', 'web/tsconfig.spec.json', 'web/tsconfig.component.json'],
        tsconfigRootDir: import.meta.dirname,
      },
    },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }],
      '@typescript-eslint/await-thenable': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/explicit-module-boundary-types': 'error',
      eqeqeq: ['error', 'always'],
      'no-console': ['error', { allow: ['error'] }],
      curly: ['error', 'multi-line'],
    },
  },
  {
    files: ['**/*.spec.ts', '**/*.testing.ts', 'e2e/**', 'bench/**', 'server/test/**', '**/testing/**'],
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
  {
    files: ['web/src/app/**/*.html'],
    ignores: ['**/*.spec.ts/**', 'web/src/app/shell/parts-page.html'],
    // Words that people read are marked for translation; these attributes hold none.
    rules: {
      '@angular-eslint/template/i18n': ['error', { checkId: false, boundTextAllowedPattern: '^[^a-zA-Z]*s?[^a-zA-Z]*$', ignoreAttributes: NO_WORDS }],
    },
  },
  without(
    ['core/**'],
    ['node:*', 'fs', 'path', 'express', 'mysql2', 'mysql2/*', 'three', 'three/*', '@angular/*', 'rxjs', 'd3-*'],
    'core runs anywhere: no Node, no interface',
  ),
  without(['contract/**'], ['node:*', '@angular/*', 'express', 'mysql2'], 'contract stands between server and page'),
  without(['server/src/**'], ['@angular/*', 'three'], 'the server does not know the page'),
  without(['web/src/**'], ['node:*', 'express', 'mysql2'], 'the page does not know the server'),
);
