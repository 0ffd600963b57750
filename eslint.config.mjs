import next from 'eslint-config-next/core-web-vitals';
import typescript from 'eslint-config-next/typescript';

/** What a reader can hold in mind at once; blank lines and comments are free. */
const SIZE = {
  complexity: ['error', 15],
  'max-lines': ['error', { max: 350, skipBlankLines: false, skipComments: false }],
  'max-lines-per-function': ['error', { max: 60, skipBlankLines: true, skipComments: true }],
};

/** Rules of React, which compile all they read, look only where there is any of it. */
const forPages = ({ files: _, ...each }) => ({
  ...each,
  files: ['src/{app,ui}/**/*.{ts,tsx}', '**/*.tsx'],
});

const config = [
  { ignores: ['.next/', 'build/', 'data/', 'drizzle/', 'next-env.d.ts', 'src/messages/pseudo/'] },
  ...next.map(forPages),
  ...typescript,
  {
    rules: {
      eqeqeq: 'error',
      'no-unused-expressions': 'off',
      '@typescript-eslint/no-unused-expressions': 'off',
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      ...SIZE,
    },
  },
  {
    // A test is a story told once, and a table is as long as what it lists.
    files: ['**/*.test.ts', '**/*.test.tsx', 'tests/**', '**/tables.ts', '**/*-schema.ts'],
    rules: { complexity: 'off', 'max-lines': 'off', 'max-lines-per-function': 'off' },
  },
];

export default config;
