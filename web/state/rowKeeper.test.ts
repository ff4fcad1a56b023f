import type { LineupRow } from '@pocket-twin/core/schema/lineup.ts';
import { NewsWhileAsking } from './newsWhileAsking.ts';
import { RowKeeper } from './rowKeeper.ts';

const row = (id: string): LineupRow => ({ id }) as LineupRow;
// Timers of one length come in the order in which they were set, however busy the machine is: what one round sets is done in the next.
const ROUNDS = 8;
const soon = async (): Promise<void> => {
  for (let round = 0; round < ROUNDS; round++)
    await new Promise((resolve) => {
      setTimeout(resolve, 0);
    });
};

function keeping(answer: (projectId: string, ids: string[]) => Promise<LineupRow[]>) {
  const asked: [string, string[]][] = [];
  const rows = new Map<string, LineupRow | null>();
  const takes: string[][] = [];
  const fresh = new Map<string, number>();
  const version = { now: 1 };
  const keeper = new RowKeeper(
    (projectId, ids) => {
      asked.push([projectId, ids]);
      return answer(projectId, ids);
    },
    {
      isFresh: (id) => fresh.get(id) === version.now,
      version: () => version.now,
      take: (came, gone, asked) => {
        for (const id of [...came.map((one) => one.id), ...gone]) fresh.set(id, asked);
        takes.push(came.map(({ id }) => id));
        for (const one of came) rows.set(one.id, one);
        for (const id of gone) rows.set(id, null);
      },
    },
  );
  return { keeper, asked, rows, takes, version };
}

test('what is wanted in one moment is one request a project and one taking; nothing is asked twice', async () => {
  const { keeper, asked, rows, takes } = keeping((_projectId, ids) =>
    Promise.resolve(
      ids
        .filter((id) => id !== 'gone')
        .map(row)
        .reverse(),
    ),
  );
  keeper.want('p', ['a', 'b']);
  keeper.want('q', ['x']);
  keeper.want('p', ['b', 'gone']);
  await soon();
  expect(asked).toEqual([
    ['p', ['a', 'b', 'gone']],
    ['q', ['x']],
  ]);
  expect(takes).toEqual([['b', 'a'], ['x']]);
  expect([...rows]).toEqual([
    ['b', row('b')],
    ['a', row('a')],
    ['gone', null],
    ['x', row('x')],
  ]);
  keeper.want('p', ['a', 'c']);
  // On its way already.
  await Promise.resolve();
  keeper.want('p', ['c']);
  await soon();
  expect(asked[2]).toEqual(['p', ['c']]);
  expect(asked).toHaveLength(3);
});

test('a thousand rows come in requests of a size the server takes, and what failed can be wanted again', async () => {
  let fails = true;
  const { keeper, asked, rows } = keeping((_projectId, ids) =>
    fails && ids.includes('450') ? Promise.reject(new Error('lost')) : Promise.resolve(ids.map(row)),
  );
  const all = Array.from({ length: 1000 }, (_, i) => String(i));
  keeper.want('p', all);
  await soon();
  expect(asked.map(([, ids]) => ids.length)).toEqual([200, 200, 200, 200, 200]);
  expect(rows.size).toBe(800);
  fails = false;
  keeper.want('p', all);
  await soon();
  expect(asked[5][1]).toEqual(all.slice(400, 600));
  expect(rows.size).toBe(1000);
});

test('rows that all change while some are on their way are asked for once more', async () => {
  const { keeper, asked, version } = keeping((_projectId, ids) => {
    if (asked.length === 1) version.now++;
    return Promise.resolve(ids.map(row));
  });
  keeper.want('p', ['a', 'b']);
  await soon();
  expect(asked).toEqual([
    ['p', ['a', 'b']],
    ['p', ['a', 'b']],
  ]);
  await soon();
  expect(asked).toHaveLength(2);
});

test('what is told of a clip while it is asked for is believed rather than the answer', async () => {
  const news = new NewsWhileAsking();
  news.came([row('early')]);
  const first = news.ask();
  news.came([row('a')]);
  const second = news.ask();
  news.went('b');
  news.came([{ ...row('a'), name: 'later' }]);
  expect([...first.answered()]).toEqual([
    ['a', { id: 'a', name: 'later' }],
    ['b', null],
  ]);
  news.came([row('c')]);
  expect([...second.answered()].map(([id]) => id)).toEqual(['b', 'a', 'c']);
  expect(first.answered().has('c')).toBe(false);
});
