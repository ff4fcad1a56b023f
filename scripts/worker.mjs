// npm run worker: one more worker. DATABASE_URL and POCKET_TWIN_HOME say which database and which
// shared folder; without DATABASE_URL it joins the database that npm start runs on this machine.
import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { ensureBuilt } from './setup/build.mjs';
import { ensureDebianPackages } from './setup/debianPackages.mjs';
import { ensureNpmPackages } from './setup/npmPackages.mjs';
import { EmbeddedPostgres } from './setup/postgres.mjs';
import { ensureNode } from './setup/readiness.mjs';
import { runScript, SetupProblem } from './setup/setupProblem.mjs';

const home = resolve(process.env.POCKET_TWIN_HOME ?? '.pocket-twin');

// What is delivered to others gets the modes that it would get here; what is ours is for us alone.
process.env.POCKET_TWIN_UMASK ??= process.umask(0o077).toString(8);
process.umask(0o077);

await runScript(async () => {
  ensureNode();
  ensureDebianPackages(['ffmpeg']);
  ensureNpmPackages();
  ensureBuilt({ web: false });
  const databaseUrl = process.env.DATABASE_URL ?? localDatabase();
  const worker = spawn(process.execPath, ['server/worker.built.mjs'], {
    env: { ...process.env, DATABASE_URL: databaseUrl, POCKET_TWIN_HOME: home },
    stdio: 'inherit',
  });
  process.on('SIGINT', () => undefined);
  worker.on('exit', (code) => {
    process.exitCode = code ?? 1;
  });
});

function localDatabase() {
  const missing = new SetupProblem(
    'No database is running here. Start one with npm start, or name one with DATABASE_URL.',
  );
  if (!existsSync(home)) throw missing;
  ensureDebianPackages(['postgresql']);
  const postgres = new EmbeddedPostgres(home);
  const port = postgres.runningPort();
  if (port === null) throw missing;
  postgres.password = postgres.readPassword();
  return postgres.addressOf(port, 'pocket_twin');
}
