import js from '@eslint/js';
import reactHooks from 'eslint-plugin-react-hooks';
import { defineConfig } from 'eslint/config';
import tseslint from 'typescript-eslint';

export default defineConfig(
  // kernels/ is AssemblyScript, which its own compiler checks.
  {
    ignores: [
      'dist/',
      'kernels/',
      'data/',
      'node_modules/',
      'server/db/migrations/',
      'test-results/',
      'playwright-report/',
    ],
  },
  js.configs.recommended,
  {
    files: ['**/*.ts', '**/*.tsx'],
    // Rules that need types are in .oxlintrc.json: they are checked together with the types themselves, in one pass. Nothing here
    // may need types: reading them a second time takes longer than all the rest.
    extends: [tseslint.configs.strict],
    rules: {
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'no-restricted-syntax': [
        'error',
        { selector: 'ExportAllDeclaration', message: 'Name what you export.' },
        { selector: 'ExportDefaultDeclaration', message: 'Export by name.' },
      ],
    },
  },
  {
    files: ['core/**/*.ts', 'contract/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': [
        'error',
        'Date',
        'performance',
        'crypto',
        'process',
        'fetch',
        'setTimeout',
        'setInterval',
        'console',
      ],
      'no-restricted-properties': ['error', { object: 'Math', property: 'random', message: 'Chance is handed in.' }],
    },
  },
  {
    files: ['web/**/*.ts', 'web/**/*.tsx'],
    extends: [reactHooks.configs.flat['recommended-latest']],
    // Warns of the virtual list's functions, which are never handed on here.
    rules: { 'react-hooks/incompatible-library': 'off' },
  },
  {
    files: ['server/work/worker.ts', '*.config.ts'],
    // These are called through their default export by the pool and by the tools they configure.
    rules: { 'no-restricted-syntax': 'off' },
  },
  {
    files: ['**/*.mjs', '**/*.cjs', '*.js'],
    languageOptions: {
      globals: {
        process: 'readonly',
        module: 'writable',
        __dirname: 'readonly',
        console: 'readonly',
        URL: 'readonly',
        fetch: 'readonly',
        setTimeout: 'readonly',
        setInterval: 'readonly',
        clearInterval: 'readonly',
        performance: 'readonly',
        Buffer: 'readonly',
      },
    },
  },
);
