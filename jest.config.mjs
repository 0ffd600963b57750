// Three suites: the core alone, the server against a real database and a real stand-in, and the
// whole
// application in a browser. `scripts/test.mjs` starts what the last two need.
const esm = [
  'd3',
  'd3-[a-z-]+',
  'internmap',
  'delaunator',
  'robust-predicates',
  'cborg',
  '@tanstack/[a-z-]+',
];
const base = {
  transform: {
    '^.+\\.m?[jt]sx?$': [
      '<rootDir>/scripts/lib/jest-transform.cjs',
      {
        jsc: {
          target: 'es2022',
          parser: { syntax: 'typescript', tsx: true },
          transform: { react: { runtime: 'automatic' } },
        },
        module: { type: 'commonjs' },
      },
    ],
  },
  transformIgnorePatterns: [`/node_modules/(?!(${esm.join('|')})/)`],
  moduleNameMapper: {
    '^@/(.*)$': '<rootDir>/src/$1',
    '^cborg$': '<rootDir>/node_modules/cborg/cborg.js',
  },
  testEnvironment: 'node',
  setupFiles: ['<rootDir>/tests/support/jsdom-globals.mjs'],
  modulePathIgnorePatterns: ['<rootDir>/data/', '<rootDir>/build/', '<rootDir>/.next/'],
};
const config = {
  // No test is about time: this only ends one that hangs, also where the machine is slow.
  testTimeout: 600_000,
  projects: [
    {
      ...base,
      displayName: 'core',
      setupFilesAfterEnv: ['<rootDir>/scripts/lib/patience.cjs'],
      testMatch: [
        '<rootDir>/src/{core,benchlink,cli,dav,messages,standin,ui}/**/*.test.{ts,tsx}',
        '<rootDir>/demo/**/*.test.ts',
      ],
    },
    {
      ...base,
      displayName: 'server',
      testMatch: ['<rootDir>/{src,tests}/server/**/*.test.{ts,tsx}'],
    },
    { ...base, displayName: 'browser', testMatch: ['<rootDir>/tests/browser/**/*.test.ts'] },
  ],
};

export default config;
