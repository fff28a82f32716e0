import next from 'eslint-config-next';
import tseslint from 'typescript-eslint';

// What needs types is asked by oxlint (.oxlintrc.json), many times quicker.

/** What React's rules look at: they read whole functions, of which the rest of the house has thousands. */
const reactFiles = ['src/{app,ui}/**/*.{ts,tsx}', 'src/**/*.tsx'];

const validation = ['class-validator', 'class-transformer', 'reflect-metadata'];

export default tseslint.config(
  { ignores: ['.next/**', 'dist/**', '.data/**', 'next-env.d.ts', 'node_modules/**'] },
  ...next.map((config) => ('rules' in config ? { ...config, files: reactFiles } : config)),
  ...tseslint.configs.recommended,
  {
    files: ['**/*.ts', '**/*.tsx'],
    rules: {
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'max-lines-per-function': ['error', { max: 120, skipBlankLines: true, skipComments: true }],
      // The decorators need reflect-metadata loaded first: one module of ours does it.
      'no-restricted-imports': [
        'error',
        {
          paths: [
            ...validation.map((name) => ({ name, message: 'Import from @/services/kit/validation.' })),
            {
              ...{ name: 'next/link', importNames: ['default'] },
              message: 'Link from @/ui/kit/link fetches nothing ahead.',
            },
          ],
        },
      ],
    },
  },
  {
    files: ['src/services/kit/validation.ts', 'src/ui/kit/link.tsx'],
    rules: { 'no-restricted-imports': 'off' },
  },
  {
    files: ['src/**/*.tsx'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector: 'JSXElement[openingElement.name.name="title"][children.length>1]',
          message: 'A title has one child, a template literal: React draws none of several on the server.',
        },
      ],
    },
  },
  {
    // Raw text reaches neither JSON nor SQL, and nothing is cut through a character: see core/shared/clean-text.ts.
    files: ['src/{core,db,services,gateways,worker,app}/**/*.ts'],
    ignores: [
      '**/*.test.ts',
      '**/testing/**',
      'src/db/kit/json.ts',
      'src/core/shared/clean-text.ts',
      'src/demo/**',
    ],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector:
            'CallExpression[callee.property.name=/^(slice|substring|substr)$/][arguments.0.value=0][arguments.1.value>=30]',
          message: 'Cut text with cutText: a slice can leave half a character.',
        },
      ],
    },
  },
  {
    files: ['src/{db,services}/**/*.ts'],
    ignores: ['**/*.test.ts', '**/testing/**', 'src/db/kit/json.ts'],
    rules: {
      'no-restricted-properties': [
        'error',
        {
          object: 'JSON',
          property: 'stringify',
          message: 'Use toJson from @/db/kit/json: PostgreSQL refuses some of JSON.',
        },
        {
          object: 'JSON',
          property: 'parse',
          message: 'Use parseJson from @/core/shared/json: it has a limit of depth.',
        },
      ],
    },
  },
  {
    // Core is pure: no clock, no randomness.
    files: ['src/core/**/*.ts'],
    ignores: ['src/core/**/*.test.ts'],
    rules: {
      'no-restricted-globals': ['error', 'process', 'setTimeout', 'setInterval', 'fetch'],
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: 'Core takes the instant as an argument.' },
        { object: 'Math', property: 'random', message: 'Core takes random values as arguments.' },
      ],
    },
  },
  // Markup is long without being deep.
  {
    files: ['**/*.tsx'],
    rules: { 'max-lines-per-function': ['error', { max: 180, skipBlankLines: true, skipComments: true }] },
  },
  {
    files: ['**/*.test.ts', '**/*.e2e.ts', 'bench/**/*.ts'],
    rules: { 'max-lines-per-function': 'off' },
  },
);
