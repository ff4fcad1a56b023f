import { Sequelize } from 'sequelize';
import type { Logger } from '../log.ts';
import { initClip } from './clip.ts';
import { initProject } from './project.ts';
import { initRepairStep } from './repairStep.ts';
import { initWriting } from './writing.ts';

/** Opens the database and binds the models to it. One database a process. */
export async function connect(databaseUrl: string, log: Logger): Promise<Sequelize> {
  const sequelize = new Sequelize(databaseUrl, {
    dialect: 'postgres',
    logging: (sql) => log.trace(sql),
    pool: { max: 8 },
  });
  await sequelize.authenticate();
  initProject(sequelize);
  initClip(sequelize);
  initRepairStep(sequelize);
  initWriting(sequelize);
  return sequelize;
}
