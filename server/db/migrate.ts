import type { Sequelize } from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';
import type { Logger } from '../log.ts';
import * as projectsAndClips from './migrations/001-projects-and-clips.ts';

/** Brings the database up to today's tables; does nothing where it is. */
export async function migrate(sequelize: Sequelize, log: Logger): Promise<void> {
  const umzug = new Umzug({
    migrations: [{ name: '001-projects-and-clips', up: () => projectsAndClips.up(sequelize.getQueryInterface()) }],
    storage: new SequelizeStorage({ sequelize }),
    logger: {
      info: (event) => log.info(event), warn: (event) => log.warn(event),
      error: (event) => log.error(event), debug: (event) => log.debug(event),
    },
  });
  await umzug.up();
}
