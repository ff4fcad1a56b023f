// npm start: from a bare machine to a running application; Ctrl-C stops all that it started. What ends by itself is started again.
import { writeFileSync, rmSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { ensureBuilt } from './setup/build.mjs';
import { ensureDebianPackages } from './setup/debianPackages.mjs';
import { HomeLock } from './setup/homeLock.mjs';
import { Kept } from './setup/kept.mjs';
import { ensureNpmPackages } from './setup/npmPackages.mjs';
import { EmbeddedPostgres } from './setup/postgres.mjs';
import { serverReady, startProgram } from './setup/processes.mjs';
import { ensureNode, ensurePortFree, ensureRoom } from './setup/readiness.mjs';
import { runScript } from './setup/setupProblem.mjs';

const home = resolve(process.env.POCKET_TWIN_HOME ?? '.pocket-twin');
// Built: TypeScript's own loader would take as much memory as the work.
const SERVER = process.env.POCKET_TWIN_DEV ? 'server/main.ts' : 'server/main.built.mjs';
const WORKER = process.env.POCKET_TWIN_DEV ? 'server/worker.ts' : 'server/worker.built.mjs';
const ADDRESS = join(home, 'start-address');
const port = Number(process.env.PORT ?? 4820);

// Nobody else on this machine reads what is kept here.
// What is delivered to others gets the modes that it would get here; what is ours is for us alone.
process.env.POCKET_TWIN_UMASK ??= process.umask(0o077).toString(8);
process.umask(0o077);

await runScript(async () => {
  ensureNode();
  ensureRoom(home);
  const lock = new HomeLock(home, ADDRESS);
  await lock.take();
  // Left by one that was killed.
  rmSync(ADDRESS, { force: true });
  await ensurePortFree(port);
  ensureDebianPackages(process.env.DATABASE_URL ? ['ffmpeg'] : ['postgresql', 'ffmpeg']);
  ensureNpmPackages();
  ensureBuilt();

  const kept = [];
  const begin = async (name, start, logFile) => {
    const one = new Kept(name, start, logFile);
    kept.push(one);
    await one.begin();
  };
  const stopRequested = new Promise((stop) => {
    process.on('SIGINT', stop);
    process.on('SIGTERM', stop);
  });
  try {
    const databaseUrl = process.env.DATABASE_URL || (await beginDatabase(begin));
    const environment = { DATABASE_URL: databaseUrl, PORT: String(port), POCKET_TWIN_HOME: home };
    const serverLog = join(home, 'server.log');
    /** @type {string | null} */
    let address = null;
    const answering = begin(
      'server',
      async () => {
        const server = startProgram(SERVER, environment, serverLog);
        // Told to end while it starts, it ends.
        const ready = await Promise.race([serverReady(server, serverLog), stopRequested.then(() => null)]).catch(
          async (error) => {
            await server.stop();
            throw error;
          },
        );
        if (ready) {
          environment.PORT = String(ready.port);
          address = `http://localhost:${ready.port}/${ready.token ? `?token=${ready.token}` : ''}`;
        }
        return server;
      },
      serverLog,
    );
    await answering;
    if (address === null) return;
    await begin(
      'worker',
      async () => startProgram(WORKER, environment, join(home, 'worker.log')),
      join(home, 'worker.log'),
    );
    writeFileSync(ADDRESS, address, { mode: 0o600 });
    console.log(`Pocket Twin is ready: ${address}`);
    await stopRequested;
  } finally {
    for (const one of kept.reverse()) await one.stop();
    rmSync(ADDRESS, { force: true });
    lock.release();
  }
});

async function beginDatabase(begin) {
  const postgres = new EmbeddedPostgres(home);
  let url;
  await begin(
    'database',
    async () => {
      url = await postgres.start();
      return { ended: postgres.ended(), stop: async () => postgres.stop() };
    },
    postgres.log,
  );
  return url;
}
