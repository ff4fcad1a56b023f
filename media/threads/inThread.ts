import { runInThread, type ThreadOptions } from './pool.ts';
import type { TaskName, Tasks } from './tasks.ts';

/**
 * Runs a task in another thread, so that nothing that answers people waits for it.
 * @throws Refusal as the task threw it, or `cancelled` when the signal came
 */
export async function inThread<Name extends TaskName>(
  name: Name,
  input: Parameters<Tasks[Name]>[0],
  options?: ThreadOptions,
): Promise<Awaited<ReturnType<Tasks[Name]>>> {
  return (await runInThread(name, input, options)) as Awaited<ReturnType<Tasks[Name]>>;
}
