import type { QueryInterface, Sequelize } from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';
import type { Logger } from '../log.ts';
import * as projectsAndClips from './migrations/001-projects-and-clips.ts';
import * as setupsAndLinks from './migrations/002-setups-and-links.ts';

const MIGRATIONS: [name: string, migration: { up: (queries: QueryInterface) => Promise<void> }][] = [
  ['001-projects-and-clips', projectsAndClips],
  ['002-setups-and-links', setupsAndLinks],
];

/** Brings the database up to today's tables. @returns whether anything was changed: then clips may have to be measured again */
export async function migrate(sequelize: Sequelize, log: Logger): Promise<boolean> {
  const umzug = new Umzug({
    migrations: MIGRATIONS.map(([name, { up }]) => ({ name, up: () => up(sequelize.getQueryInterface()) })),
    storage: new SequelizeStorage({ sequelize }),
    logger: {
      info: (event) => log.info(event), warn: (event) => log.warn(event),
      error: (event) => log.error(event), debug: (event) => log.debug(event),
    },
  });
  return (await umzug.up()).length > 0;
}
