import { readConfig } from './config.ts';
import { connect } from './db/connect.ts';
import { inBackground } from './inBackground.ts';
import { giveDuties } from './jobs/duties.ts';
import { queueOpenRows } from './jobs/openRows.ts';
import { JobQueue } from './jobs/queue.ts';
import { createLog } from './log.ts';
import { onStop } from './onStop.ts';
import { Folders } from './storage/folders.ts';
import { sweepHome } from './storage/sweepHome.ts';

// A worker: takes jobs from the queue, a core each. Any number may run, on any machine that
// reaches the database and the shared folder.
const OPEN_ROWS_EVERY_MS = 30_000;
const SWEEP_HOME_EVERY_MS = 24 * 3_600_000;

process.umask(0o077);
const log = createLog('worker');
const config = await readConfig();
const sequelize = await connect(config.databaseUrl, log);
const folders = new Folders(config.home);
const queue = new JobQueue(config.databaseUrl, log);
await folders.create();
await queue.start();
giveDuties({ sequelize, folders, queue, log });
await queue.startWork();
log.info('The worker is ready.');

const regularly = (what: string, everyMs: number, act: () => Promise<unknown>): void => {
  inBackground(log, what, act());
  setInterval(() => inBackground(log, what, act()), everyMs).unref();
};
regularly('Looking for open clips without a job', OPEN_ROWS_EVERY_MS, () => queueOpenRows(sequelize, queue));
regularly('Sweeping the home', SWEEP_HOME_EVERY_MS, () => sweepHome(folders, log));

onStop(async () => {
  await queue.stop();
  await sequelize.close();
});
