// npm start: from a bare machine to a running application; Ctrl-C stops all that it started.
import { join, resolve } from 'node:path';
import { ensureBuilt } from './setup/build.mjs';
import { ensureDebianPackages } from './setup/debianPackages.mjs';
import { ensureNpmPackages } from './setup/npmPackages.mjs';
import { EmbeddedPostgres } from './setup/postgres.mjs';
import { serverReady, startProgram } from './setup/processes.mjs';
import { ensureNode, ensurePortFree, ensureRoom } from './setup/readiness.mjs';
import { runScript } from './setup/setupProblem.mjs';

const home = resolve(process.env.POCKET_TWIN_HOME ?? '.pocket-twin');
// Built: TypeScript's own loader would take as much memory as the work.
const WORKER = process.env.POCKET_TWIN_DEV ? 'server/worker.ts' : 'server/worker.built.mjs';
const port = Number(process.env.PORT ?? 4820);

await runScript(async () => {
  ensureNode();
  ensureRoom(home);
  await ensurePortFree(port);
  ensureDebianPackages(process.env.DATABASE_URL ? ['ffmpeg'] : ['postgresql', 'ffmpeg']);
  ensureNpmPackages();
  ensureBuilt();

  const started = [];
  const stopAll = async () => {
    for (const part of started.splice(0).reverse()) await part.stop();
  };
  const stopRequested = new Promise((stop) => {
    process.on('SIGINT', stop);
    process.on('SIGTERM', stop);
  });
  try {
    let databaseUrl = process.env.DATABASE_URL;
    if (!databaseUrl) {
      const postgres = new EmbeddedPostgres(home);
      databaseUrl = await postgres.start();
      started.push(postgres);
    }
    const environment = { DATABASE_URL: databaseUrl, PORT: String(port), POCKET_TWIN_HOME: home };
    const serverLog = join(home, 'server.log');
    const server = startProgram('server/main.ts', environment, serverLog);
    started.push(server);
    const listeningPort = await Promise.race([serverReady(server, serverLog), stopRequested]);
    if (typeof listeningPort !== 'number') return;
    const worker = startProgram(WORKER, environment, join(home, 'worker.log'));
    started.push(worker);
    console.log(`Pocket Twin is ready: http://localhost:${listeningPort}`);
    await Promise.race([stopRequested, serverLost(server, started, serverLog), restartWorker(worker, started, environment)]);
  } finally {
    await stopAll();
  }
});

/** The server ended, and not because it was told to. */
async function serverLost(server, started, logFile) {
  await server.ended;
  if (!started.includes(server)) return;
  console.error(`The server stopped by itself; ${logFile} says why. Start it again: npm start`);
}

/** A worker that dies is replaced: its job goes back to the queue. */
async function restartWorker(worker, started, environment) {
  for (let current = worker; ;) {
    await current.ended;
    if (!started.includes(current)) return new Promise(() => undefined);
    const next = startProgram(WORKER, environment, join(home, 'worker.log'));
    started.splice(started.indexOf(current), 1, next);
    current = next;
  }
}
