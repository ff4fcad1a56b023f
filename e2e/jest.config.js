import unit from '../jest.config.js';

/** The real interface in headless Chromium, three suites at a time, as each waits for its application of its own. */
export default {
  ...unit,
  rootDir: '.',
  testMatch: ['**/*.e2e.ts'],
  testPathIgnorePatterns: ['/node_modules/'],
  testTimeout: 180000,
};
