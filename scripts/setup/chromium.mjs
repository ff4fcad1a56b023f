import { existsSync } from 'node:fs';

// The one without a window of its own takes a fifth less (two suites: 82 s, and 102 with the other); where only the other is there, it does.
const CHROMIUMS = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'];

/** The browser that tests of the interface look through; undefined where none is installed. @returns {string | undefined} */
export function chromiumPath() {
  return CHROMIUMS.find((path) => existsSync(path));
}
