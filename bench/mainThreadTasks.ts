import type { Page } from 'playwright-core';

interface TraceEvent {
  name: string;
  pid: number;
  tid: number;
  /** Microseconds: on the clock, and of the processor. */
  dur?: number;
  tdur?: number;
  args?: { name?: string };
}

export interface MainThreadTasks {
  /** The longest task by what it computes, and by the clock: that one grows with what else the machine does. Milliseconds. */
  longestOwnMs: number;
  longestMs: number;
  /** How many took over 50 ms by the clock. */
  over50: number;
}

/** Follows the tasks of a page's main thread until the returned function is called, by the browser's own trace. */
export async function followTasks(page: Page): Promise<() => Promise<MainThreadTasks>> {
  const session = await page.context().newCDPSession(page);
  const events: TraceEvent[] = [];
  session.on('Tracing.dataCollected', ({ value }) => void events.push(...(value as unknown as TraceEvent[])));
  await session.send('Tracing.start', {
    transferMode: 'ReportEvents',
    traceConfig: { includedCategories: ['toplevel'] },
  });
  return async () => {
    const complete = new Promise((resolve) => session.once('Tracing.tracingComplete', resolve));
    await session.send('Tracing.end');
    await complete;
    await session.detach();
    return tasksOf(events);
  };
}

function tasksOf(events: TraceEvent[]): MainThreadTasks {
  const tasks = events.filter(({ name }) => name.endsWith('RunTask'));
  const threads = events
    .filter(({ name, args }) => name === 'thread_name' && args?.name === 'CrRendererMain')
    .map(({ pid, tid }) => tasks.filter((task) => task.pid === pid && task.tid === tid));
  // The page that is looked at is the busiest.
  const own = threads.reduce((busiest, thread) => (thread.length > busiest.length ? thread : busiest), []);
  const longest = (of: (task: TraceEvent) => number | undefined): number =>
    own.reduce((most, task) => Math.max(most, of(task) ?? 0), 0) / 1000;
  return {
    longestOwnMs: longest(({ tdur }) => tdur),
    longestMs: longest(({ dur }) => dur),
    over50: own.filter(({ dur = 0 }) => dur > 50_000).length,
  };
}
