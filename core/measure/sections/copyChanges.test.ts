import fc from 'fast-check';
import type { BlockSpan } from '../../time/spans.ts';
import { findCopyChanges, type Nulls } from './copyChanges.ts';

const BLOCK_SECONDS = 0.1;
type Kind = 'one' | 'disguised' | 'apart';
const NULLS: Record<Kind, Nulls> = {
  one: { plainNullDb: -60, lowPlainNullDb: -60, matchedNullDb: -60, gainDb: 0 },
  disguised: { plainNullDb: -1, lowPlainNullDb: -1, matchedNullDb: -45, gainDb: -6 },
  apart: { plainNullDb: -2, lowPlainNullDb: -2, matchedNullDb: -4, gainDb: 0 },
};

/** A clip of parts that end at some seconds, and how often it is looked at. What holds two of them matches badly. */
function clip(parts: { kind: Kind; endSeconds: number }[]) {
  const seen = { looks: 0 };
  const kindsIn = (from: number, to: number): Kind[] =>
    parts
      .filter(
        ({ endSeconds }, p) =>
          endSeconds > from * BLOCK_SECONDS && (p === 0 ? 0 : parts[p - 1].endSeconds) < to * BLOCK_SECONDS,
      )
      .map(({ kind }) => kind);
  const look = async ({ startBlock, endBlock }: BlockSpan): Promise<Nulls> => {
    seen.looks++;
    const kinds = kindsIn(startBlock, endBlock);
    return kinds.length === 1 ? NULLS[kinds[0]] : NULLS.apart;
  };
  const blocks = Math.round(parts.at(-1)!.endSeconds / BLOCK_SECONDS);
  const changes = async (): Promise<[number, number][]> =>
    (await findCopyChanges(NULLS.apart, { startBlock: 0, endBlock: blocks }, BLOCK_SECONDS, look)).map(
      ({ earliest, latest }) => [earliest * BLOCK_SECONDS, latest * BLOCK_SECONDS],
    );
  return { seen, changes };
}

test('a change between copies and different sides is narrowed in, either way round, in looks that grow with the logarithm of the length', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom<[Kind, Kind]>(
        ['one', 'apart'],
        ['apart', 'one'],
        ['disguised', 'apart'],
        ['apart', 'disguised'],
        ['one', 'disguised'],
      ),
      fc.double({ min: 10, max: 3000, noNaN: true }),
      fc.double({ min: 0.25, max: 0.75, noNaN: true }),
      async ([first, second], seconds, share) => {
        const at = seconds * share;
        const { changes, seen } = clip([
          { kind: first, endSeconds: at },
          { kind: second, endSeconds: seconds },
        ]);
        const found = await changes();
        expect(found).toHaveLength(1);
        const [earliest, latest] = found[0];
        expect(earliest).toBeLessThanOrEqual(at + 0.2);
        expect(latest).toBeGreaterThanOrEqual(at - 0.2);
        expect(latest - earliest).toBeLessThan(5.5);
        expect(seen.looks).toBeLessThan(15 + 2 * Math.log2(seconds));
      },
    ),
    { numRuns: 200, seed: 3 },
  );
});

test('different sides between two copies are two changes', async () => {
  const found = await clip([
    { kind: 'disguised', endSeconds: 20 },
    { kind: 'apart', endSeconds: 41 },
    { kind: 'disguised', endSeconds: 60 },
  ]).changes();
  expect(found).toHaveLength(2);
  [20, 41].forEach((at, i) => expect(found[i][0] <= at && at <= found[i][1]).toBe(true));
});

test('what stays the same, or differs by no more than looks scatter, has no change', async () => {
  expect(await clip([{ kind: 'apart', endSeconds: 60 }]).changes()).toEqual([]);
  const wavering = async ({ startBlock }: BlockSpan): Promise<Nulls> => ({
    plainNullDb: -2,
    lowPlainNullDb: -2,
    matchedNullDb: startBlock % 200 === 0 ? -22 : -17,
    gainDb: 0,
  });
  expect(await findCopyChanges(NULLS.apart, { startBlock: 0, endBlock: 600 }, BLOCK_SECONDS, wavering)).toEqual([]);
  expect(
    await findCopyChanges(NULLS.one, { startBlock: 0, endBlock: 600 }, BLOCK_SECONDS, async () => NULLS.one),
  ).toEqual([]);
});

test('two people who take turns on their own microphones change nothing, though each turn is a copy', async () => {
  const turns = Array.from({ length: 25 }, (_, i): { kind: Kind; endSeconds: number } => ({
    kind: i % 2 ? 'disguised' : 'one',
    endSeconds: 8 + 3.1 * i,
  }));
  expect(await clip(turns).changes()).toEqual([]);
});

test('what differs for a moment between two parts of a copy is no part: the whole is told, and with it what is heard there', async () => {
  for (const kind of ['one', 'disguised'] as const) {
    const { changes } = clip([
      { kind, endSeconds: 4.3 },
      { kind: 'apart', endSeconds: 5 },
      { kind, endSeconds: 12 },
    ]);
    expect(await changes()).toEqual([]);
  }
});

test('a part that is surely no copy is not looked at, and a copy beside it is found all the same', async () => {
  const range = { startBlock: 0, endBlock: 400 };
  const looked: BlockSpan[] = [];
  const find = (isOpen: (part: BlockSpan) => boolean) =>
    findCopyChanges(
      NULLS.apart,
      range,
      BLOCK_SECONDS,
      async (part) => {
        looked.push(part);
        return part.startBlock >= 240 ? NULLS.disguised : NULLS.apart;
      },
      isOpen,
    );
  expect(await find(() => false)).toEqual([]);
  expect(looked).toEqual([]);
  const [change, ...more] = await find(({ endBlock }) => endBlock > 240);
  expect(more).toEqual([]);
  expect(change.earliest).toBeLessThanOrEqual(242);
  expect(change.latest).toBeGreaterThanOrEqual(238);
  expect(looked.some(({ startBlock, endBlock }) => startBlock === 0 && endBlock === 80)).toBe(false);
});
