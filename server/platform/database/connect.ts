import { Sequelize } from 'sequelize';
import type { Logger } from '../log.ts';

/** Opens the database and binds the rows to it. One database a process. */
export async function connect(
  databaseUrl: string,
  bindRows: ((sequelize: Sequelize) => void)[],
  log: Logger,
): Promise<Sequelize> {
  const sequelize = new Sequelize(databaseUrl, {
    dialect: 'postgres',
    logging: (sql) => log.trace(sql),
    pool: { max: 8 },
  });
  await sequelize.authenticate();
  for (const bind of bindRows) bind(sequelize);
  return sequelize;
}
