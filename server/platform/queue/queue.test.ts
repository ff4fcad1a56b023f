import { randomBytes } from 'node:crypto';
import pg from 'pg';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { JobClaims } from './jobClaims.ts';
import { migrate } from '../database/migrate.ts';
import { createLog } from '../log.ts';
import { until } from '../../test/client.ts';
import { connect } from '../database/connect.ts';
import { nobodyIsAt } from './openRows.ts';
import { JobQueue } from './queue.ts';

// The queue and its claims on a real PostgreSQL: what is done once, what is done again, and when it is given up.

const log = createLog('test').child({}, { level: 'silent' });
let databaseUrl: string;
let client: pg.Client;
beforeAll(async () => {
  const admin = new pg.Client({ connectionString: process.env.TEST_DATABASE_URL });
  await admin.connect();
  const name = `test_${randomBytes(6).toString('hex')}`;
  await admin.query(`create database ${name}`);
  await admin.end();
  const url = new URL(process.env.TEST_DATABASE_URL!);
  url.pathname = `/${name}`;
  databaseUrl = url.href;
  await migrate(databaseUrl, log);
  client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
});
afterAll(() => client.end());

const clipId = (n: number): string => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;

async function withQueue(run: (queue: JobQueue) => Promise<void>): Promise<void> {
  const queue = new JobQueue(databaseUrl, log);
  await queue.start();
  try {
    await run(queue);
  } finally {
    await queue.stop();
  }
}

test('every job is done once, several side by side', async () => {
  const done: string[] = [];
  let [running, most] = [0, 0];
  await withQueue(async (queue) => {
    await queue.sendMany(
      'inspect',
      Array.from({ length: 12 }, (_, n) => ({ clipId: clipId(n) })),
    );
    queue.duty(
      'inspect',
      3,
      async (job) => {
        most = Math.max(most, ++running);
        await new Promise((resolve) => setTimeout(resolve, 30));
        running--;
        done.push(job.clipId);
      },
      () => Promise.reject(new Error('Nothing was to be given up.')),
    );
    await queue.startWork();
    await until(() => Promise.resolve(done.length === 12));
  });
  expect([...new Set(done)]).toHaveLength(12);
  expect(most).toBeGreaterThan(1);
  expect((await client.query('select * from job_claims')).rows).toEqual([]);
}, 60_000);

test('jobs of one sending are taken up in their order', async () => {
  const begun: string[] = [];
  const sent = Array.from({ length: 30 }, (_, n) => clipId(900 - n));
  await withQueue(async (queue) => {
    await queue.sendMany(
      'inspect',
      sent.map((id) => ({ clipId: id })),
    );
    queue.duty(
      'inspect',
      1,
      (job) => {
        begun.push(job.clipId);
        return Promise.resolve();
      },
      () => Promise.reject(new Error('Nothing was to be given up.')),
    );
    await queue.startWork();
    await until(() => Promise.resolve(begun.length === sent.length));
  });
  expect(begun).toEqual(sent);
}, 60_000);

test('what breaks is tried again and then given up; a cancelled job is neither', async () => {
  const tries: string[] = [];
  const givenUp: string[] = [];
  await withQueue(async (queue) => {
    await queue.sendMany('inspect', [{ clipId: clipId(100) }, { clipId: clipId(101) }]);
    queue.duty(
      'inspect',
      1,
      (job) => {
        tries.push(job.clipId);
        if (job.clipId === clipId(101)) throw new Refusal('cancelled', 'Cancelled.');
        throw new Error('It breaks every time.');
      },
      (job) => {
        givenUp.push(job.clipId);
        return Promise.resolve();
      },
    );
    await queue.startWork();
    await until(() => Promise.resolve(givenUp.length > 0));
  });
  expect(tries.filter((id) => id === clipId(100))).toHaveLength(3);
  expect(tries.filter((id) => id === clipId(101))).toHaveLength(1);
  expect(givenUp).toEqual([clipId(100)]);
}, 60_000);

test('jobs of a worker that is gone, and jobs that nobody ever claimed, are done after all, and no try is counted', async () => {
  const done: string[] = [];
  await withQueue(async (queue) => {
    await queue.sendMany('inspect', [{ clipId: clipId(200) }, { clipId: clipId(201) }, { clipId: clipId(202) }]);
    const { rows } = await client.query<{ id: string; clip: string }>(
      `
      update queue.job set state = 'active', started_on = now() - interval '1 minute', retry_count = 2 where data->>'clipId' = any($1) returning id, data->>'clipId' as clip`,
      [[clipId(200), clipId(201), clipId(202)]],
    );
    // One was claimed by a worker that holds no lock any more.
    await client.query('insert into job_claims (id, queue, "workerKey") values ($1, $2, 78)', [
      rows.find(({ clip }) => clip === clipId(200))!.id,
      'inspect',
    ]);
    queue.duty(
      'inspect',
      2,
      (job) => {
        done.push(job.clipId);
        return Promise.resolve();
      },
      () => Promise.reject(new Error('Nothing was to be given up.')),
    );
    await queue.startWork();
    await until(() => Promise.resolve(done.length === 3));
    await until(
      async () =>
        (
          await client.query("select 1 from queue.job where state = 'completed' and data->>'clipId' = any($1)", [
            [clipId(200), clipId(201), clipId(202)],
          ])
        ).rowCount === 3,
    );
  });
  expect(done.sort()).toEqual([clipId(200), clipId(201), clipId(202)]);
  expect(
    (
      await client.query<{ tries: number }>(
        "select max(retry_count) as tries from queue.job where data->>'clipId' = any($1)",
        [[clipId(200), clipId(201), clipId(202)]],
      )
    ).rows[0].tries,
  ).toBe(2);
}, 60_000);

test('a job that has ended one worker after another is given up', async () => {
  const givenUp: unknown[] = [];
  await withQueue(async (queue) => {
    await queue.sendMany('inspect', [{ clipId: clipId(300) }]);
    const {
      rows: [{ id }],
    } = await client.query<{ id: string }>(
      `
      update queue.job set state = 'active', started_on = now(), data = data || '{"losses": 19}' where data->>'clipId' = $1 returning id`,
      [clipId(300)],
    );
    await client.query('insert into job_claims (id, queue, "workerKey") values ($1, $2, 79)', [id, 'inspect']);
    queue.duty(
      'inspect',
      1,
      () => Promise.reject(new Error('It was to be given up.')),
      (job, error) => {
        givenUp.push(job.clipId, error);
        return Promise.resolve();
      },
    );
    await queue.startWork();
    await until(() => Promise.resolve(givenUp.length > 0));
  });
  expect(givenUp).toEqual([clipId(300), null]);
}, 60_000);

test('a worker that is told to stop puts back what it is at, as if it had not been begun', async () => {
  await withQueue(async (queue) => {
    await queue.sendMany('inspect', [{ clipId: clipId(400) }]);
    let begun = false;
    queue.duty(
      'inspect',
      1,
      () => {
        begun = true;
        return new Promise(() => undefined);
      },
      () => Promise.resolve(),
    );
    await queue.startWork();
    await until(() => Promise.resolve(begun));
  });
  const {
    rows: [job],
  } = await client.query(
    "select state, retry_count, started_on, data->'losses' as losses from queue.job where data->>'clipId' = $1",
    [clipId(400)],
  );
  expect(job).toEqual({ state: 'retry', retry_count: 0, started_on: null, losses: 0 });
}, 60_000);

test('what many ask for soon is done once', async () => {
  let [times, askingSeconds] = [0, 0];
  await withQueue(async (queue) => {
    const start = Date.now();
    for (let n = 0; n < 20; n++) await queue.sendSoon('setups', { projectId: clipId(1) }, clipId(1));
    askingSeconds = (Date.now() - start) / 1000;
    queue.duty(
      'setups',
      1,
      () => {
        times++;
        return Promise.resolve();
      },
      () => Promise.resolve(),
    );
    await queue.startWork();
    await until(() => Promise.resolve(times > 0));
    await new Promise((resolve) => setTimeout(resolve, 3000));
  });
  // One at once and one for those that came after it, and one more for each two seconds, begun by the clock, that the asking ran into.
  expect(times).toBeLessThanOrEqual(2 + Math.ceil(askingSeconds / 2));
}, 60_000);

test('the jobs of a worker whose connection is gone are told to one asker only, those of a living one to nobody', async () => {
  const [living, first, second] = [0, 1, 2].map(() => new JobClaims(databaseUrl, log));
  for (const one of [living, first, second]) await one.start();
  try {
    await living.claim({ jobId: clipId(1), queue: 'inspect' });
    // A worker that held no lock any more when it was asked: killed, or its cable pulled.
    await client.query('insert into job_claims (id, queue, "workerKey") values ($1, $2, 77), ($3, $2, 77)', [
      clipId(2),
      'inspect',
      clipId(3),
    ]);
    const found = await Promise.all([first.takeLost(), second.takeLost()]);
    expect(
      found
        .flat()
        .map(({ jobId }) => jobId)
        .sort(),
    ).toEqual([clipId(2), clipId(3)]);
    expect(await first.takeLost()).toEqual([]);

    // The living one's connection breaks: before it is back, its job is anybody's.
    const {
      rows: [{ pid }],
    } = await client.query<{ pid: number }>(
      `
      select pid from pg_locks where locktype = 'advisory' and classid = 4820 and objid = (select "workerKey" from job_claims where id = $1)`,
      [clipId(1)],
    );
    await client.query('select pg_terminate_backend($1)', [pid]);
    await until(async () => (await first.takeLost()).some(({ jobId }) => jobId === clipId(1)));
  } finally {
    for (const one of [living, first, second]) await one.stop();
  }
}, 60_000);

test('a job that is left with a transaction is nobody’s once that is done, and another can be given at once', async () => {
  const sequelize = await connect(databaseUrl, [], log);
  let seen = 0;
  await withQueue(async (queue) => {
    const isOpen = async (): Promise<boolean> => {
      const [[{ free }]] = (await sequelize.query(`select ${nobodyIsAt('inspect', 'clipId', ':id')} as free`, {
        replacements: { id: clipId(700) },
      })) as [{ free: boolean }[], unknown];
      return !free;
    };
    const found: boolean[] = [];
    queue.duty(
      'inspect',
      1,
      async (job, leave) => {
        // What the tests before this one left in the queue.
        if (job.clipId !== clipId(700)) return;
        await sequelize.transaction(async (transaction) => {
          await leave(transaction);
          found.push(await isOpen());
        });
        found.push(await isOpen());
        expect((await client.query('select * from job_claims')).rows).toEqual([]);
        seen++;
      },
      () => Promise.reject(new Error('Nothing was to be given up.')),
    );
    await queue.startWork();
    await queue.send('inspect', { clipId: clipId(700) });
    await until(() => Promise.resolve(seen === 1));
    expect(found).toEqual([true, false]);
    await queue.send('inspect', { clipId: clipId(700) });
    await until(() => Promise.resolve(seen === 2));
  });
  await sequelize.close();
});

test('a job whose transaction fails after it was left is tried again, and no claim of it stays', async () => {
  const sequelize = await connect(databaseUrl, [], log);
  let tries = 0;
  await withQueue(async (queue) => {
    await queue.send('inspect', { clipId: clipId(800) });
    queue.duty(
      'inspect',
      1,
      async (job, leave) => {
        if (job.clipId !== clipId(800)) return;
        await sequelize.transaction(async (transaction) => {
          await leave(transaction);
          if (++tries === 1) throw new Error('It breaks once.');
        });
      },
      () => Promise.reject(new Error('Nothing was to be given up.')),
    );
    await queue.startWork();
    await until(async () => {
      const { rows } = await client.query<{ state: string }>("select state from queue.job where data->>'clipId' = $1", [
        clipId(800),
      ]);
      return rows.length === 1 && rows[0].state === 'completed';
    });
  });
  expect(tries).toBe(2);
  expect((await client.query('select * from job_claims')).rows).toEqual([]);
  await sequelize.close();
}, 60_000);
