import type { LineupRow } from '@pocket-twin/core/schema/lineup.ts';
import { RowLoader } from './rowLoader.ts';

const row = (id: string): LineupRow => ({ id }) as LineupRow;

test('rows asked for together come in one request a project, each to whoever asked; one that is gone is null', async () => {
  const asked: [string, string[]][] = [];
  const loader = new RowLoader((projectId, ids) => {
    asked.push([projectId, ids]);
    return Promise.resolve(ids.filter((id) => id !== 'gone').map(row).reverse());
  });
  const answers = await Promise.all([loader.load('p', 'a'), loader.load('q', 'x'), loader.load('p', 'b'), loader.load('p', 'a'), loader.load('p', 'gone')]);
  expect(answers).toEqual([row('a'), row('x'), row('b'), row('a'), null]);
  expect(asked).toEqual([['p', ['a', 'b', 'gone']], ['q', ['x']]]);
  await loader.load('p', 'c');
  expect(asked[2]).toEqual(['p', ['c']]);
});

test('a thousand rows come in requests of a size the server takes, and one that fails takes only its own with it', async () => {
  const sizes: number[] = [];
  const loader = new RowLoader((_projectId, ids) => {
    sizes.push(ids.length);
    return ids.includes('450') ? Promise.reject(new Error('lost')) : Promise.resolve(ids.map(row));
  });
  const results = await Promise.allSettled(Array.from({ length: 1000 }, (_, i) => loader.load('p', String(i))));
  expect(sizes).toEqual([200, 200, 200, 200, 200]);
  expect(results.filter(({ status }) => status === 'rejected')).toHaveLength(200);
  expect(results[0]).toEqual({ status: 'fulfilled', value: row('0') });
  expect(results[450].status).toBe('rejected');
});
