import { mkdirSync, statfsSync } from 'node:fs';
import { createServer } from 'node:net';
import { codeOf, SetupProblem } from './setupProblem.mjs';

const LEAST_FREE_BYTES = 300 * 1024 ** 2;

export function ensureNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19)) {
    throw new SetupProblem(`Node.js 20.19 or newer is needed; this is ${process.versions.node}.`);
  }
}

export function ensureRoom(folder) {
  try {
    mkdirSync(folder, { recursive: true });
  } catch (error) {
    throw new SetupProblem(
      `The folder ${folder} can’t be made (${codeOf(error)}). Choose another with POCKET_TWIN_HOME.`,
    );
  }
  const { bavail, bsize } = statfsSync(folder);
  if (bavail * bsize < LEAST_FREE_BYTES) {
    throw new SetupProblem(
      `The disk that holds ${folder} is full. Free at least 300 MB, or choose another folder with POCKET_TWIN_HOME.`,
    );
  }
}

/** The port must be free before anything is started. */
export async function ensurePortFree(port) {
  const free = await new Promise((resolve) => {
    const server = createServer();
    server.once('error', () => resolve(false));
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)));
  });
  if (free) return;
  const ours = await fetch(`http://127.0.0.1:${port}/api/health`).then(
    (answer) => answer.ok,
    () => false,
  );
  throw new SetupProblem(
    ours
      ? `Pocket Twin is already running: http://localhost:${port}`
      : `Port ${port} is used by another program. Choose another: PORT=${port + 1} npm start`,
  );
}
