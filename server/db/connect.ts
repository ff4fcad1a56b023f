import { Sequelize } from 'sequelize';
import type { Logger } from '../log.ts';
import { initBatch } from './batch.ts';
import { initClip } from './clip.ts';
import { initClipPair } from './clipPair.ts';
import { initProject } from './project.ts';
import { initRepairStep } from './repairStep.ts';
import { initSetup } from './setup.ts';
import { initWriting } from './writing.ts';

const MODELS = [initProject, initSetup, initClip, initClipPair, initBatch, initRepairStep, initWriting];

/** Opens the database and binds the models to it. One database a process. */
export async function connect(databaseUrl: string, log: Logger): Promise<Sequelize> {
  const sequelize = new Sequelize(databaseUrl, {
    dialect: 'postgres',
    logging: (sql) => log.trace(sql),
    pool: { max: 8 },
  });
  await sequelize.authenticate();
  for (const init of MODELS) init(sequelize);
  return sequelize;
}
