import { createHash } from 'node:crypto';
import { readFileSync, realpathSync } from 'node:fs';
import { createServer } from 'node:net';
import { SetupProblem } from './setupProblem.mjs';

/**
 * One start a home. The lock is a socket of Linux's abstract kind, to which nobody speaks: it is gone the moment its process is, whatever ended that.
 */
export class HomeLock {
  /**
   * @param home an existing folder
   * @param addressFile where the one who has the home keeps the address it answers at; only who may read the home is told
   */
  constructor(home, addressFile) {
    this.home = home;
    this.addressFile = addressFile;
    this.name = `\0pocket-twin-${createHash('sha256').update(realpathSync(home)).digest('hex').slice(0, 32)}`;
    this.server = createServer((stranger) => stranger.destroy());
  }

  /** @throws SetupProblem where another start has this home */
  async take() {
    const taken = await new Promise((resolve, reject) => {
      this.server.once('error', (/** @type {NodeJS.ErrnoException} */ error) =>
        error.code === 'EADDRINUSE' ? resolve(true) : reject(error),
      );
      this.server.listen(this.name, () => resolve(false));
    });
    // Alone it keeps nothing running.
    if (!taken) this.server.unref();
    else throw new SetupProblem(sentence(this.home, this.addressFile));
  }

  release() {
    this.server.close();
  }
}

function sentence(home, addressFile) {
  try {
    return `Pocket Twin is already running: ${readFileSync(addressFile, 'utf8')}`;
  } catch {
    return `Pocket Twin is already being started in ${home}. Wait for it, or choose another folder with POCKET_TWIN_HOME.`;
  }
}
