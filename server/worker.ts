import { availableParallelism } from 'node:os';
import { readConfig } from './config.ts';
import { connect } from './db/connect.ts';
import { formProjectSetups } from './db/projectSetups.ts';
import { giveUpInspecting, inspectClip } from './jobs/inspectClip.ts';
import { JobQueue } from './jobs/queue.ts';
import { giveUpWriting, writeRepair } from './jobs/writeRepair.ts';
import { createLog } from './log.ts';
import { Folders } from './storage/folders.ts';
import { onStop } from './onStop.ts';
import { forgetRemoved } from './db/removal.ts';

// A worker: takes jobs from the queue, a core each. Any number may run, on any machine that
// reaches the database and the shared folder.
const FORGET_EVERY_MS = 3_600_000;

const log = createLog('worker');
const config = readConfig();
const sequelize = await connect(config.databaseUrl, log);
const folders = new Folders(config.home);
const queue = new JobQueue(config.databaseUrl, log);
await folders.create();
await queue.start();
await queue.work('inspect', availableParallelism(), (job) => inspectClip(sequelize, folders, queue, job), (job) => giveUpInspecting(sequelize, job));
await queue.work('write', 1, (job) => writeRepair(sequelize, folders, job), (job) => giveUpWriting(sequelize, job));
await queue.work('setups', 1, (job) => formProjectSetups(sequelize, job), () => Promise.resolve());
log.info('The worker is ready.');
const forget = (): void => void forgetRemoved(folders).catch((error: unknown) => log.warn(error, 'Removed clips could not be forgotten'));
forget();
setInterval(forget, FORGET_EVERY_MS).unref();
onStop(async () => {
  await queue.stop();
  await sequelize.close();
});
