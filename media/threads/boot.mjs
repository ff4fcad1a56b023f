// A worker thread starts here.
import { launch } from '../launch.mjs';

const { runTask } = await launch(
  new URL('./runTask.built.mjs', import.meta.url),
  new URL('./runTask.ts', import.meta.url),
);

/** The work of the thread pool. */
export default runTask;
