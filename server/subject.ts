import type { Router } from 'express';
import type { Sequelize } from 'sequelize';
import type { HttpContext } from './http/context.ts';
import type { ActionContext, Step } from './platform/action.ts';
import type { Folders } from './platform/home/folders.ts';
import type { Logger } from './platform/log.ts';

/** What jobs work with. */
interface WorkContext extends ActionContext {
  folders: Folders;
  log: Logger;
}

/** A part of what the product knows, with all that the server does about it. What it does not need it leaves out. */
export interface Subject {
  /** Binds its tables. */
  rows?: ((sequelize: Sequelize) => void)[];
  /** Answers its endpoints of the contract. */
  routes?: (context: HttpContext) => Router;
  /** Gives the queue its duties. */
  work?: (context: WorkContext) => void;
  /** Gives a job to whatever of it waits for one and has none. @returns how many got one */
  queueOpen?: (step: Step) => Promise<number>;
}
