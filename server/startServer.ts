import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Sequelize } from 'sequelize';
import type { Config } from './config.ts';
import { ChangeListener } from './db/changes.ts';
import { ClipRow } from './db/clip.ts';
import { connect } from './db/connect.ts';
import { migrate } from './db/migrate.ts';
import { createApp } from './http/app.ts';
import { EventStream } from './http/events.ts';
import { JobQueue } from './jobs/queue.ts';
import type { Logger } from './log.ts';
import { LinkedSources } from './linkedSources.ts';
import { Folders } from './storage/folders.ts';
import { MediaFolders } from './storage/mediaFolders.ts';

export interface RunningServer {
  port: number;
  sequelize: Sequelize;
  folders: Folders;
  mediaFolders: MediaFolders;
  largestBytes: number;
  queue: JobQueue;
  stop(): Promise<void>;
}

/** Opens database and queue, brings the tables up to date, and answers on loopback. */
export async function startServer(config: Config, log: Logger): Promise<RunningServer> {
  const sequelize = await connect(config.databaseUrl, log);
  const changed = await migrate(sequelize, log);
  const folders = new Folders(config.home);
  await folders.create();
  const mediaFolders = new MediaFolders(config.mediaFolders);
  const queue = new JobQueue(config.databaseUrl, log);
  await queue.start();
  if (changed) await queue.sendMany('inspect', (await ClipRow.findAll({ where: { state: 'waiting' }, attributes: ['id'] })).map(({ id }) => ({ clipId: id })));
  const events = new EventStream(sequelize);
  const listener = new ChangeListener(config.databaseUrl, (notice) => void events.pass(notice), log);
  await listener.start();
  const server = createServer(createApp({ config, largestBytes: config.largestBytes, log, sequelize, folders, mediaFolders, linkedSources: new LinkedSources(sequelize), queue }, events));
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
    stop: async () => {
      events.close();
      server.close();
      server.closeAllConnections();
      await listener.stop();
      await queue.stop();
      await sequelize.close();
    },
  };
}
