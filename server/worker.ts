import { availableParallelism } from 'node:os';
import { readConfig } from './config.ts';
import { connect } from './db/connect.ts';
import { giveUpInspecting, inspectClip } from './jobs/inspectClip.ts';
import { JobQueue } from './jobs/queue.ts';
import { giveUpWriting, writeRepair } from './jobs/writeRepair.ts';
import { createLog } from './log.ts';
import { Folders } from './storage/folders.ts';
import { onStop } from './onStop.ts';

// A worker: takes jobs from the queue, a core each. Any number may run, on any machine that
// reaches the database and the shared folder.
const log = createLog('worker');
const config = readConfig();
const sequelize = await connect(config.databaseUrl, log);
const folders = new Folders(config.home);
const queue = new JobQueue(config.databaseUrl, log);
await folders.create();
await queue.start();
await queue.work('inspect', availableParallelism(), (job) => inspectClip(sequelize, folders, job), (job) => giveUpInspecting(sequelize, job));
await queue.work('write', 1, (job) => writeRepair(sequelize, folders, job), (job) => giveUpWriting(sequelize, job));
log.info('The worker is ready.');
onStop(async () => {
  await queue.stop();
  await sequelize.close();
});
