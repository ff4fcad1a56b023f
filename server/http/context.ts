import type { BringInContext } from '../bringIn.ts';
import type { Config } from '../config.ts';
import type { Logger } from '../log.ts';

/** What the routes work with. */
export interface HttpContext extends BringInContext {
  config: Config;
  log: Logger;
}
