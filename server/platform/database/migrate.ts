import { Sequelize, type QueryInterface } from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';
import type { Logger } from '../log.ts';
import * as projectsAndClips from './migrations/001-projects-and-clips.ts';
import * as setupsAndLinks from './migrations/002-setups-and-links.ts';
import * as historyAndRemoval from './migrations/003-history-and-removal.ts';
import * as recipes from './migrations/004-recipes.ts';
import * as joinedClips from './migrations/005-joined-clips.ts';
import * as keyChanges from './migrations/006-key-changes.ts';
import * as setupRecipes from './migrations/007-setup-recipes.ts';
import * as handoffs from './migrations/008-handoffs.ts';

const MIGRATIONS: [name: string, migration: { up: (queries: QueryInterface) => Promise<void> }][] = [
  ['001-projects-and-clips', projectsAndClips],
  ['002-setups-and-links', setupsAndLinks],
  ['003-history-and-removal', historyAndRemoval],
  ['004-recipes', recipes],
  ['005-joined-clips', joinedClips],
  ['006-key-changes', keyChanges],
  ['007-setup-recipes', setupRecipes],
  ['008-handoffs', handoffs],
];

// Of all who start at once one brings the tables up to date.
const LOCK = [4820, 2] as const;

/**
 * Brings the database up to today's tables, all of it or nothing: whatever ends it between, the next start finds the tables as they were. It has one
 * connection of its own, on which everything is one transaction.
 */
export async function migrate(databaseUrl: string, log: Logger): Promise<void> {
  const sequelize = new Sequelize(databaseUrl, {
    dialect: 'postgres',
    logging: (sql) => log.trace(sql),
    pool: { max: 1, min: 1, idle: 3_600_000, evict: 3_600_000 },
  });
  const umzug = new Umzug({
    migrations: MIGRATIONS.map(([name, { up }]) => ({ name, up: () => up(sequelize.getQueryInterface()) })),
    storage: new SequelizeStorage({ sequelize }),
    logger: {
      info: (event) => log.info(event),
      warn: (event) => log.warn(event),
      error: (event) => log.error(event),
      debug: (event) => log.debug(event),
    },
  });
  try {
    await sequelize.query('begin');
    await sequelize.query(`select pg_advisory_xact_lock(${LOCK.join(', ')})`);
    await umzug.up();
    await sequelize.query('commit');
  } finally {
    // An open transaction ends with its connection.
    await sequelize.close();
  }
}
