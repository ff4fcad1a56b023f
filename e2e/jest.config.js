import unit from '../jest.config.js';

/** The real interface in headless Chromium, one file after another. */
export default {
  ...unit,
  rootDir: '.',
  testMatch: ['**/*.e2e.ts'],
  testPathIgnorePatterns: ['/node_modules/'],
  testTimeout: 180000,
};
