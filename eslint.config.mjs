import js from '@eslint/js';
import globals from 'globals';
import hooks from 'eslint-plugin-react-hooks';
import ts from 'typescript-eslint';

/** The direction of dependencies: core ← contract ← { cli, server, web }, core ← pictures ← { cli, server }. Each folder names what it must not import. */
const forbid = (files, names, message) => ({
  files,
  rules: {
    'no-restricted-imports': ['error', { patterns: [{ group: names, message }] }],
  },
});

export default ts.config(
  { ignores: ['**/dist/**', '**/dist-types/**', '.data/**', '**/test-results/**', '**/playwright-report/**'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-explicit-any': 'error',
    },
  },
  {
    // With types: a promise nobody waits for, a value nobody knows, an assertion that says nothing.
    files: [
      'packages/*/src/**/*.ts',
      'packages/*/test/**/*.ts',
      'apps/*/src/**/*.{ts,tsx}',
      'apps/*/test/**/*.ts',
      'e2e/**/*.ts',
    ],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }],
      '@typescript-eslint/await-thenable': 'error',
      '@typescript-eslint/no-unnecessary-type-assertion': 'error',
      '@typescript-eslint/no-unsafe-argument': 'error',
      '@typescript-eslint/no-unsafe-assignment': 'error',
      '@typescript-eslint/no-unsafe-call': 'error',
      '@typescript-eslint/no-unsafe-member-access': 'error',
      '@typescript-eslint/no-unsafe-return': 'error',
    },
  },
  {
    // What a test matches against, and what an answer's body holds, is any by its nature.
    files: ['packages/*/test/**/*.ts', 'apps/*/test/**/*.ts', 'e2e/**/*.ts'],
    rules: {
      '@typescript-eslint/no-unsafe-argument': 'off',
      '@typescript-eslint/no-unsafe-assignment': 'off',
      '@typescript-eslint/no-unsafe-call': 'off',
      '@typescript-eslint/no-unsafe-member-access': 'off',
      '@typescript-eslint/no-unsafe-return': 'off',
    },
  },
  {
    files: ['**/*.mjs', '**/*.js', 'e2e/**', 'packages/cli/**', 'packages/pictures/**', 'apps/server/**'],
    languageOptions: { globals: globals.node },
  },
  forbid(
    ['packages/core/src/**'],
    ['node:*', 'react*', 'three', 'three/*', '@ypsigraph/*', '**/contract/**', '**/cli/**', '**/apps/**'],
    'The core is pure: no platform, no interface, nothing above it.',
  ),
  {
    files: ['packages/core/src/**'],
    rules: {
      'no-restricted-globals': ['error', 'Date', 'process', 'window', 'document', 'fetch', 'performance'],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'Randomness needs a seed: take a generator as an argument.' },
      ],
    },
  },
  forbid(
    ['packages/contract/src/**'],
    [
      'node:*',
      'react*',
      'three',
      '@ypsigraph/cli*',
      '@ypsigraph/server*',
      '@ypsigraph/web*',
      '**/cli/**',
      '**/apps/**',
    ],
    'The contract imports the core and zod, nothing above it.',
  ),
  forbid(
    ['packages/pictures/src/**'],
    [
      'react*',
      'three',
      '@ypsigraph/contract*',
      '@ypsigraph/cli*',
      '@ypsigraph/server*',
      '@ypsigraph/web*',
      '**/apps/**',
    ],
    'Reading clips knows the core, and nothing of who asks for it.',
  ),
  forbid(
    ['packages/cli/src/**'],
    ['@ypsigraph/server*', '@ypsigraph/web*', '**/apps/**'],
    'The command line stands beside server and web, not on them.',
  ),
  forbid(
    ['apps/server/src/**'],
    ['@ypsigraph/cli*', '@ypsigraph/web*', '**/apps/web/**', '**/packages/**'],
    'The server imports core and contract by their package names.',
  ),
  forbid(
    ['apps/web/src/**'],
    ['node:*', '@ypsigraph/pictures*', '@ypsigraph/cli*', '@ypsigraph/server*', '**/apps/server/**', '**/packages/**'],
    'The web application imports core and contract by their package names.',
  ),
  { ...hooks.configs.flat['recommended-latest'], files: ['apps/web/**/*.tsx', 'apps/web/**/*.ts'] },
  // It warns of libraries the React compiler can't handle; the compiler is not used.
  { files: ['apps/web/**'], rules: { 'react-hooks/incompatible-library': 'off' } },
);
