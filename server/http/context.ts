import type { BringInContext } from '../bringIn.ts';
import type { LinkedSources } from '../linkedSources.ts';
import type { Config } from '../config.ts';
import type { Logger } from '../log.ts';

/** What the routes work with. */
export interface HttpContext extends BringInContext {
  config: Config;
  linkedSources: LinkedSources;
  log: Logger;
}
