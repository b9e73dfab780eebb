import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';
import oneWayImports from './eslint/one-way-imports.js';

export default ts.config(
  {
    ignores: [
      '**/node_modules/',
      '**/build/',
      '**/dist/',
      '**/.svelte-kit/',
      'samples/',
      'reference/',
      'core/kernels/',
      '**/*.generated.ts',
    ],
  },
  js.configs.recommended,
  ...ts.configs.strict,
  ...svelte.configs.recommended,
  prettier,
  ...svelte.configs.prettier,
  {
    plugins: { ulvex: { rules: { 'one-way-imports': oneWayImports } } },
    rules: {
      'ulvex/one-way-imports': 'error',
      '@typescript-eslint/no-non-null-assertion': 'off', // typed arrays and checked indices need it
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true },
      ],
      eqeqeq: ['error', 'always', { null: 'ignore' }],
      'no-console': 'error',
      'max-lines-per-function': ['error', { max: 65 }],
      'max-len': ['error', { code: 150, ignorePattern: '\\[[-\\d., e[\\]]{60,}' }], // but tables of numbers
    },
  },
  { files: ['**/*.svelte', '**/*.svelte.ts'], languageOptions: { parserOptions: { parser: ts.parser } } },
  {
    files: ['app/src/**'],
    languageOptions: { globals: globals.browser },
    rules: {
      'svelte/no-navigation-without-resolve': 'off', // the app is served from the root
    },
  },
  { files: ['**/*.test.ts'], rules: { 'max-lines-per-function': 'off' } }, // a suite is one function
  {
    // AssemblyScript compiles these, too: types of its numbers cannot be imported.
    files: ['core/src/physics/**'],
    rules: { '@typescript-eslint/triple-slash-reference': 'off' },
  },
  {
    files: [
      '**/*.test.ts',
      'e2e/**',
      'verify/**',
      'cli/**',
      'scripts/**',
      'eslint/**',
      'app/serve.mjs',
      'bench/**',
      'trials/**',
    ],
    languageOptions: { globals: { ...globals.node, ...globals.mocha } },
    rules: { 'no-console': 'off', '@typescript-eslint/no-unused-expressions': 'off' },
  },
);
