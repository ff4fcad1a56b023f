import { constants, setPriority } from 'node:os';
import { readConfig } from './platform/config.ts';
import { connect } from './platform/database/connect.ts';
import { inBackground } from './platform/inBackground.ts';
import { queueOpenRows } from './openRows.ts';
import { ROWS, SUBJECTS } from './subjects.ts';
import { JobQueue } from './platform/queue/queue.ts';
import { createLog } from './platform/log.ts';
import { onStop } from './platform/onStop.ts';
import { Folders } from './platform/home/folders.ts';
import { sweepHome } from './platform/home/sweepHome.ts';

// A worker: takes jobs from the queue, a core each. Any number may run, on any machine that
// reaches the database and the shared folder.
const OPEN_ROWS_EVERY_MS = 30_000;
const SWEEP_HOME_EVERY_MS = 24 * 3_600_000;

// Measuring goes on for hours and takes every core: the page, the server and whatever else a person works with come first. Threads and FFmpeg inherit it.
setPriority(constants.priority.PRIORITY_BELOW_NORMAL);
process.umask(0o077);
const log = createLog('worker');
const config = await readConfig();
const sequelize = await connect(config.databaseUrl, ROWS, log);
const folders = new Folders(config.home);
const queue = new JobQueue(config.databaseUrl, log);
await folders.create();
await queue.start();
const context = { sequelize, folders, queue, log };
for (const { work } of Object.values(SUBJECTS)) work?.(context);
await queue.startWork();
log.info('The worker is ready.');

const regularly = (what: string, everyMs: number, act: () => Promise<unknown>): void => {
  inBackground(log, what, act());
  setInterval(() => inBackground(log, what, act()), everyMs).unref();
};
regularly('Looking for open clips without a job', OPEN_ROWS_EVERY_MS, () => queueOpenRows(context));
regularly('Sweeping the home', SWEEP_HOME_EVERY_MS, () => sweepHome(folders, log));

onStop(async () => {
  await queue.stop();
  await sequelize.close();
});
