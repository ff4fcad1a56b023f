// A worker thread starts here: TypeScript is switched on, then the task runs.
import { register } from 'tsx/esm/api';

register();
await import('./runTask.ts');
