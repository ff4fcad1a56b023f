import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Sequelize } from 'sequelize';
import { Arrivals } from './clips/arrivals.ts';
import type { Config } from './platform/config.ts';
import { ChangeListener } from './platform/changes.ts';
import { connect } from './platform/database/connect.ts';
import { migrate } from './platform/database/migrate.ts';
import { createApp } from './http/app.ts';
import { EventStream } from './http/events.ts';
import { inBackground } from './platform/inBackground.ts';
import { JobQueue } from './platform/queue/queue.ts';
import type { Logger } from './platform/log.ts';
import { LinkedSources } from './clips/linkedSources.ts';
import { Folders } from './platform/home/folders.ts';
import { ROWS } from './subjects.ts';
import { HandoffFolders } from './handoffs/handoffFolders.ts';
import { MediaFolders } from './mediaFolders/mediaFolders.ts';

// What a crash has left between an upload's last byte and its clip is looked for this often.
const FINISH_UPLOADS_EVERY_MS = 60_000;

export interface RunningServer {
  port: number;
  sequelize: Sequelize;
  folders: Folders;
  mediaFolders: MediaFolders;
  largestBytes: number;
  queue: JobQueue;
  log: Logger;
  stop(): Promise<void>;
}

/** Opens database and queue, brings the tables up to date, and answers on loopback. */
export async function startServer(config: Config, log: Logger): Promise<RunningServer> {
  const sequelize = await connect(config.databaseUrl, ROWS, log);
  await migrate(config.databaseUrl, log);
  const folders = new Folders(config.home);
  await folders.create();
  const mediaFolders = new MediaFolders(config.mediaFolders);
  const handoffFolders = new HandoffFolders(config.handoffFolders);
  await handoffFolders.create(config.home);
  const queue = new JobQueue(config.databaseUrl, log);
  await queue.start();
  const arrivals = new Arrivals({ sequelize, folders, queue, log });
  const finishUploads = (): void => inBackground(log, 'Finishing uploads that were all here', arrivals.finishAll());
  finishUploads();
  const finisher = setInterval(finishUploads, FINISH_UPLOADS_EVERY_MS);
  const events = new EventStream(sequelize, log);
  const listener = new ChangeListener(
    config.databaseUrl,
    {
      heard: (notice) => events.pass(notice),
      lost: () => events.databaseIs('away'),
      regained: () => events.databaseIs('back'),
    },
    log,
  );
  await listener.start();
  const context = {
    config,
    largestBytes: config.largestBytes,
    log,
    sequelize,
    folders,
    mediaFolders,
    handoffFolders,
    linkedSources: new LinkedSources({ sequelize, queue }),
    queue,
    arrivals,
  };
  const server = createServer(createApp(context, events));
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(config.port, '127.0.0.1', resolve);
  });
  return {
    port: (server.address() as AddressInfo).port,
    sequelize,
    folders,
    mediaFolders,
    largestBytes: config.largestBytes,
    queue,
    log,
    stop: async () => {
      clearInterval(finisher);
      events.close();
      server.close();
      server.closeAllConnections();
      await listener.stop();
      await queue.stop();
      await sequelize.close();
    },
  };
}
