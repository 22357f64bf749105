// One transform for all rooms; browser tests and database tests are separate projects so that each
// can be run alone: `npx jest --selectProjects core`.
const swc = [
  '@swc/jest',
  {
    module: { type: 'commonjs' },
    jsc: {
      target: 'es2022',
      parser: { syntax: 'typescript', tsx: true },
      transform: { react: { runtime: 'automatic', importSource: '#visible' } },
    },
  },
];
const esmOnly = [
  're2js',
  'd3-[a-z]+',
  'internmap',
  '@tanstack/[a-z-]+',
  'lodash-es',
  'csv-parse',
  'csv-stringify',
  'big.js',
  'yaml',
  'lossless-json',
  'fast-check',
  'pure-rand',
  'p-limit',
  'yocto-queue',
].join('|');
const shared = {
  // What a test file runs in looks names of the language up slowly, each time; these it is given, which halves the time
  // of whatever reckons. Not among them: what a module may declare anew, and what fake timers put in place.
  sandboxInjectedGlobals: [
    'Array ArrayBuffer BigInt Boolean DataView Error Float64Array Int32Array JSON Map Math Number Object Promise',
    'RangeError Reflect RegExp Set String TypeError Uint8Array Uint16Array Uint32Array WeakMap',
  ].flatMap((names) => names.split(' ')),
  transform: { '^.+\\.(ts|tsx|mjs|js)$': swc },
  transformIgnorePatterns: [`/node_modules/(?!(${esmOnly})/)`],
  moduleNameMapper: { '^(\\.{1,2}/.*)\\.js$': '$1' },
  modulePathIgnorePatterns: ['<rootDir>/dist', '<rootDir>/.under-lamp'],
};
export default {
  projects: [
    {
      ...shared,
      displayName: 'core',
      testMatch: [
        '<rootDir>/core/**/*.test.ts',
        '<rootDir>/demo/**/*.test.ts',
        '<rootDir>/cli/**/*.test.ts',
        '<rootDir>/stand-ins/**/*.test.ts',
      ],
      setupFilesAfterEnv: ['<rootDir>/tests/patience.ts'],
    },
    {
      ...shared,
      displayName: 'server',
      testMatch: ['<rootDir>/server/**/*.test.ts', '<rootDir>/scripts/**/*.test.ts'],
      setupFilesAfterEnv: ['<rootDir>/tests/patience.ts'],
    },
    {
      ...shared,
      displayName: 'web',
      testEnvironment: 'jsdom',
      testMatch: ['<rootDir>/web/**/*.test.{ts,tsx}'],
      setupFiles: ['<rootDir>/web/tests/jsdom-setup.ts'],
      setupFilesAfterEnv: ['<rootDir>/tests/patience.ts'],
    },
    {
      ...shared,
      displayName: 'browser',
      testMatch: ['<rootDir>/e2e/**/*.test.ts'],
      setupFilesAfterEnv: ['<rootDir>/tests/browser-patience.ts'],
    },
  ],
};
