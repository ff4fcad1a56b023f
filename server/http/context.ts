import type { Sequelize } from 'sequelize';
import type { Arrivals } from '../arrivals.ts';
import type { Config } from '../config.ts';
import type { JobQueue } from '../jobs/queue.ts';
import type { LinkedSources } from '../linkedSources.ts';
import type { Logger } from '../log.ts';
import type { Folders } from '../storage/folders.ts';
import type { MediaFolders } from '../storage/mediaFolders.ts';

/** What the routes work with. */
export interface HttpContext {
  config: Config;
  sequelize: Sequelize;
  folders: Folders;
  mediaFolders: MediaFolders;
  queue: JobQueue;
  largestBytes: number;
  arrivals: Arrivals;
  linkedSources: LinkedSources;
  log: Logger;
}
