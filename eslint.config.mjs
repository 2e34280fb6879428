// Lint with types, and the architecture: which package, area and rule may use which (docs/architecture.md).
import angular from 'angular-eslint';
import tseslint from 'typescript-eslint';
import controls from './scripts/lint-controls.mjs';

const deny = (...groups) => ({
  'no-restricted-imports': ['error', { patterns: groups.map(([group, message]) => ({ group, message })) }],
});

export default tseslint.config(
  { ignores: ['**/dist/**', '**/node_modules/**', '**/.angular/**', 'data/**', '**/*.mjs', '**/*.cjs'] },
  {
    files: ['packages/*/src/**/*.ts', 'e2e/src/**/*.ts', 'bench/src/**/*.ts'],
    extends: [...tseslint.configs.strictTypeChecked],
    languageOptions: {
      parserOptions: {
        project: [
          'packages/{core,contracts,gateways,standins,server}/tsconfig.json',
          'e2e/tsconfig.json',
          'bench/tsconfig.json',
          'packages/web/tsconfig.json',
        ],
        tsconfigRootDir: import.meta.dirname,
      },
    },
    rules: {
      '@typescript-eslint/restrict-template-expressions': [
        'error',
        { allowNumber: true, allowBoolean: true, allowNullish: true },
      ],
      '@typescript-eslint/no-confusing-void-expression': 'off',
      '@typescript-eslint/no-unnecessary-condition': 'off',
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-extraneous-class': 'off',
      '@typescript-eslint/no-misused-spread': 'off',
      // Nothing of ours is an enum; to look for them took a quarter of the time.
      '@typescript-eslint/no-unsafe-enum-assignment': 'off',
      '@typescript-eslint/no-unsafe-enum-comparison': 'off',
      '@typescript-eslint/no-unsafe-class-instance-assignment': 'off',
      '@typescript-eslint/require-await': 'off',
      '@typescript-eslint/no-unnecessary-type-parameters': 'off',
      '@typescript-eslint/no-unused-expressions': ['error', { allowTernary: true }],
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'no-console': 'off',
      eqeqeq: 'error',
      'no-var': 'error',
      'prefer-const': 'error',
    },
  },
  {
    files: ['packages/core/src/**/*.ts'],
    ignores: ['**/*.spec.ts'],
    rules: deny(
      [['@long-gate/*'], 'Core imports nothing of ours.'],
      [['node:*'], 'Core has no I/O: the caller hands in what it needs.'],
    ),
  },
  {
    files: ['packages/contracts/src/**/*.ts'],
    rules: deny([
      ['@long-gate/server', '@long-gate/gateways', '@long-gate/standins', '@long-gate/web'],
      'Contracts stand on core alone.',
    ]),
  },
  { files: ['packages/gateways/src/**/*.ts'], rules: deny([['@long-gate/*'], 'Gateways stand alone.']) },
  {
    files: ['packages/standins/src/**/*.ts'],
    rules: deny([
      ['@long-gate/server', '@long-gate/contracts', '@long-gate/web'],
      'The stand-ins know only gateways and core.',
    ]),
  },
  {
    files: ['packages/server/src/**/*.ts'],
    rules: deny(
      [['@long-gate/standins', '@long-gate/web'], 'The server knows an address for each gateway, never the stand-ins.'],
      [['**/areas/*/!(index.js)'], 'An area is used through its index alone.'],
    ),
  },
  {
    files: ['packages/server/src/areas/*/*.ts'],
    rules: deny(
      [['@long-gate/standins', '@long-gate/web'], 'The server knows an address for each gateway, never the stand-ins.'],
      [['../*/!(index.js)', '!../../**'], 'An area is used through its index alone.'],
    ),
  },
  {
    files: ['packages/web/src/**/*.ts'],
    rules: deny([
      ['@long-gate/server', '@long-gate/gateways', '@long-gate/standins'],
      'The web application stands on contracts and core.',
    ]),
  },
  {
    files: ['packages/web/src/app/areas/**/*.ts'],
    rules: deny(
      [
        ['@long-gate/server', '@long-gate/gateways', '@long-gate/standins'],
        'The web application stands on contracts and core.',
      ],
      [['../../areas/**'], 'Areas of the web application do not use each other; what two need lives in parts.'],
    ),
  },
  {
    files: ['packages/web/src/app/{areas,frame,parts,welcome}/**/*.ts'],
    ignores: ['**/*.store.ts', '**/*.spec.ts'],
    rules: {
      '@typescript-eslint/no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: ['**/api/api'],
              allowTypeImports: true,
              importNamePattern: '^Api$',
              message: 'Only stores call the API: a page shows its store and calls what it offers.',
            },
          ],
        },
      ],
    },
  },
  {
    files: ['packages/web/src/**/*.ts'],
    extends: [...angular.configs.tsRecommended],
    processor: angular.processInlineTemplates,
    rules: {
      // Under the bundler's module resolution it calls assertions unnecessary that are not.
      '@typescript-eslint/no-unnecessary-type-assertion': 'off',
      '@angular-eslint/component-selector': ['error', { type: 'element', prefix: 'lg', style: 'kebab-case' }],
      '@angular-eslint/directive-selector': ['error', { type: 'attribute', prefix: 'lg', style: 'camelCase' }],
      '@angular-eslint/prefer-on-push-component-change-detection': 'error',
    },
  },
  {
    files: ['packages/web/src/**/*.html'],
    // The page that checks evidence packs is one file without Angular, opened from a disk.
    ignores: ['packages/web/src/checker/*.html'],
    extends: [...angular.configs.templateRecommended, ...angular.configs.templateAccessibility],
    plugins: { ours: controls },
    rules: {
      'ours/material-controls': 'error',
      '@angular-eslint/template/interactive-supports-focus': 'off',
      '@angular-eslint/template/click-events-have-key-events': 'off',
    },
  },
  {
    files: ['**/*.spec.ts', 'e2e/src/**/*.ts'],
    rules: {
      '@typescript-eslint/no-unsafe-assignment': 'off',
      '@typescript-eslint/no-unsafe-member-access': 'off',
      '@typescript-eslint/no-unsafe-call': 'off',
      '@typescript-eslint/no-unsafe-argument': 'off',
      '@typescript-eslint/no-unsafe-return': 'off',
      '@typescript-eslint/no-implied-eval': 'off',
      '@typescript-eslint/no-unsafe-type-assertion': 'off',
      '@typescript-eslint/no-empty-function': 'off',
      '@typescript-eslint/no-base-to-string': 'off',
      '@typescript-eslint/no-floating-promises': 'off',
    },
  },
);
