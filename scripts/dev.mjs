// npm run dev: the application with reloading. The page comes from Vite (port 4821); server and worker start again when a file changes.
import { spawn } from 'node:child_process';
import { resolve } from 'node:path';
import { ensureBuilt } from './setup/build.mjs';
import { ensureDebianPackages } from './setup/debianPackages.mjs';
import { ensureNpmPackages } from './setup/npmPackages.mjs';
import { EmbeddedPostgres } from './setup/postgres.mjs';
import { ensureNode } from './setup/readiness.mjs';
import { runScript } from './setup/setupProblem.mjs';

const home = resolve(process.env.POCKET_TWIN_HOME ?? '.pocket-twin');
const port = process.env.PORT ?? '4820';

await runScript(async () => {
  ensureNode();
  ensureDebianPackages(process.env.DATABASE_URL ? ['ffmpeg'] : ['postgresql', 'ffmpeg']);
  ensureNpmPackages();
  ensureBuilt({ web: false });
  const postgres = process.env.DATABASE_URL ? null : new EmbeddedPostgres(home);
  const environment = {
    ...process.env,
    DATABASE_URL: process.env.DATABASE_URL || (await postgres?.start()),
    POCKET_TWIN_HOME: home,
    PORT: port,
    POCKET_TWIN_SERVER: `http://localhost:${port}`,
    POCKET_TWIN_DEV: '1',
    POCKET_TWIN_DEV_ORIGIN: 'http://localhost:4821',
    POCKET_TWIN_TOKEN: process.env.POCKET_TWIN_TOKEN ?? 'off',
  };
  const run = (...args) => spawn(process.execPath, args, { env: environment, stdio: 'inherit' });
  const children = [
    run('node_modules/tsx/dist/cli.mjs', 'watch', 'server/main.ts'),
    run('node_modules/tsx/dist/cli.mjs', 'watch', 'server/worker.ts'),
    run('node_modules/vite/bin/vite.js', 'web'),
  ];
  await new Promise((stop) => {
    process.on('SIGINT', stop);
    process.on('SIGTERM', stop);
  });
  for (const child of children) child.kill('SIGTERM');
  postgres?.stop();
});
