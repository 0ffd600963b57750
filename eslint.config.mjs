import next from 'eslint-config-next/core-web-vitals';
import typescript from 'eslint-config-next/typescript';

const config = [
  { ignores: ['.next/', 'build/', 'data/', 'drizzle/', 'next-env.d.ts'] },
  ...next,
  ...typescript,
  {
    rules: {
      eqeqeq: 'error',
      'no-unused-expressions': 'off',
      '@typescript-eslint/no-unused-expressions': 'off',
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      'max-lines': ['error', { max: 350, skipBlankLines: true, skipComments: true }],
    },
  },
];

export default config;
