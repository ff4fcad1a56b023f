import { fileURLToPath } from 'node:url';

/** Native ES modules: the same files run here, in Node through tsx, and in the browser through Vite. */
export default {
  testEnvironment: 'node',
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  transform: {
    '^.+\\.tsx?$': [
      fileURLToPath(new URL('jestTransform.mjs', import.meta.url)),
      {
        jsc: {
          parser: { syntax: 'typescript', tsx: true },
          target: 'es2022',
          transform: { react: { runtime: 'automatic' } },
        },
        module: { type: 'es6' },
      },
    ],
  },
  testMatch: ['**/*.test.ts', '**/*.test.tsx'],
  testPathIgnorePatterns: ['/node_modules/', '<rootDir>/e2e/', '/\\.pocket-twin/'],
  modulePathIgnorePatterns: ['/\\.pocket-twin/'],
  testSequencer: fileURLToPath(new URL('slowestFirst.mjs', import.meta.url)),
  testTimeout: 60000,
  // Half of the work is done by FFmpeg and PostgreSQL, one suite waiting for it while another goes on.
  maxWorkers: '100%',
};
