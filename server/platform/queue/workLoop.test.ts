import { WorkLoop } from './workLoop.ts';

// A loop that would wait forever is woken by news, whenever it comes.

const FOREVER_MS = 2 ** 30;

function made(perform: (job: number) => Promise<void>): {
  loop: WorkLoop<number>;
  jobs: number[];
  looked: () => Promise<void>;
} {
  const jobs: number[] = [];
  let heard: () => void = () => undefined;
  const loop = new WorkLoop<number>(
    () => {
      heard();
      return Promise.resolve(jobs.shift());
    },
    perform,
    (error) => {
      throw error;
    },
    FOREVER_MS,
    FOREVER_MS,
  );
  return {
    ...{ loop, jobs },
    looked: () =>
      new Promise((resolve) => {
        heard = resolve;
      }),
  };
}

test('news ends a pause, again and again', async () => {
  const done: number[] = [];
  const { loop, jobs, looked } = made((job) => Promise.resolve(void done.push(job)));
  let look = looked();
  const running = loop.run();
  await look;
  for (const job of [1, 2, 3]) {
    jobs.push(job);
    look = looked();
    // As a database tells: whenever it likes.
    await Promise.resolve();
    loop.look();
    await look;
    while (!done.includes(job)) await Promise.resolve();
  }
  loop.stop();
  await running;
  expect(done).toEqual([1, 2, 3]);
});

test('news that comes while a job is done, or between the last look and the pause, is not lost', async () => {
  const done: number[] = [];
  const { loop, jobs } = made((job) => {
    done.push(job);
    if (job < 5) {
      // Comes while this one is done.
      setImmediate(() => {
        jobs.push(job + 1);
        loop.look();
      });
    } else loop.stop();
    return Promise.resolve();
  });
  jobs.push(1);
  await loop.run();
  expect(done).toEqual([1, 2, 3, 4, 5]);
});

test('a stopped loop does not pause', async () => {
  const { loop, looked } = made(() => Promise.resolve());
  const look = looked();
  const running = loop.run();
  await look;
  loop.stop();
  await running;
});
