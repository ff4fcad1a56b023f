import unit from '../jest.config.js';

/** The real interface in headless Chromium, three suites at a time: each has an application of its own, and waits for its own. */
export default {
  ...unit,
  rootDir: '.',
  testMatch: ['**/*.e2e.ts'],
  testPathIgnorePatterns: ['/node_modules/'],
  testTimeout: 180000,
};
