import type { Sequelize } from 'sequelize';
import type { Arrivals } from '../clips/arrivals.ts';
import type { Config } from '../platform/config.ts';
import type { JobQueue } from '../platform/queue/queue.ts';
import type { LinkedSources } from '../clips/linkedSources.ts';
import type { Logger } from '../platform/log.ts';
import type { Folders } from '../platform/home/folders.ts';
import type { HandoffFolders } from '../handoffs/handoffFolders.ts';
import type { MediaFolders } from '../mediaFolders/mediaFolders.ts';

/** What the routes work with. */
export interface HttpContext {
  config: Config;
  sequelize: Sequelize;
  folders: Folders;
  mediaFolders: MediaFolders;
  handoffFolders: HandoffFolders;
  queue: JobQueue;
  largestBytes: number;
  arrivals: Arrivals;
  linkedSources: LinkedSources;
  log: Logger;
}
