import type { ForecastEvent } from '@pocket-twin/core/schema/handoff.ts';
import { lanesOf } from './filmLanes.ts';

const event = (track: string | null, from: number | null, to: number | null, ...labels: string[]): ForecastEvent => ({
  ...{ name: 'x', clipId: null, track, recordStartSeconds: from, recordEndSeconds: to, state: 'relaid' },
  ...{ streams: [2], lost: [] },
  files: labels.map((label) => ({ path: `${label}.wav`, label, hasPicture: false, streams: [[[1]]] })),
});

test('further files lie on lanes of their own under their track, and only where there are some', () => {
  const { lanes, startSeconds, endSeconds } = lanesOf([
    event('A', 10, 20, 'left', 'right'),
    event('A', 20, 25, ''),
    event('B', 12, 30),
    event('B', null, null),
  ]);
  expect([startSeconds, endSeconds]).toEqual([10, 30]);
  expect(lanes.map(({ name, isNew, events }) => [name, isNew, events.length])).toEqual([
    ['A', false, 2],
    ['right', true, 1],
    ['B', false, 1],
  ]);
  expect(lanesOf([event('A', null, null)]).lanes).toEqual([]);
});
