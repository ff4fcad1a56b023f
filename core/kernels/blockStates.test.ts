import fc from 'fast-check';
import { areExactBlocks, blockStates, type StateThresholds } from './blockStates.ts';

const THRESHOLDS: StateThresholds = {
  nothingPower: 1e-12,
  exact: 1e-9,
  standsOut: 10,
  noiseShare: 0.15,
  copyNull: 1e-3,
  copyReach: 8,
  sameNull: 1e-4,
  sameReach: 4,
  alone: 100,
};
const [LEFT_ONLY, RIGHT_ONLY, SAME, SCALED, INVERTED, DIFFERENT] = [1, 2, 4, 8, 16, 32];

interface Block {
  left: number;
  right: number;
  product: number;
  noises: [[number, number], [number, number]];
  alone: number;
}

const series = (values: number[]): Float64Array => Float64Array.from(values);
const statesOf = (blocks: Block[]): number[] => [
  ...blockStates(
    {
      left: series(blocks.map(({ left }) => left)),
      right: series(blocks.map(({ right }) => right)),
      product: series(blocks.map(({ product }) => product)),
    },
    [0, 1].map((side) => ({
      before: series(blocks.map(({ noises }) => noises[side][0])),
      after: series(blocks.map(({ noises }) => noises[side][1])),
    })) as [{ before: Float64Array; after: Float64Array }, { before: Float64Array; after: Float64Array }],
    Uint8Array.from(blocks, ({ alone }) => alone),
    THRESHOLDS,
  ),
];
const quiet: Block['noises'] = [
  [1e-8, 1e-8],
  [1e-8, 1e-8],
];
const block = (left: number, right: number, product: number, rest: Partial<Block> = {}): Block => ({
  ...{ left, right, product, noises: quiet, alone: 0 },
  ...rest,
});

/** The plain version, for the noise of before or of after. */
function plainly({ left: l, right: r, product }: Block, leftNoise: number, rightNoise: number): number {
  const { standsOut, noiseShare, copyNull, copyReach, sameNull, sameReach, alone } = THRESHOLDS;
  const left = Math.max(l - leftNoise, 0);
  const right = Math.max(r - rightNoise, 0);
  const unsure = noiseShare * (leftNoise + rightNoise);
  const reach = (unsure + 1e-12 * (l + r)) / (l + r);
  const difference = Math.max(l + r - 2 * product - leftNoise - rightNoise, 0) + unsure;
  const isSame = difference / Math.max(l + r + 2 * product, 1e-30) <= Math.max(sameNull, sameReach * reach);
  const isOnBoth = left > 0 && right > 0;
  const likeness = Math.min(1, (product * product) / (left * right));
  const areCopies = isOnBoth && 1 - likeness + 1e-12 <= Math.max(copyNull, copyReach * reach);
  const isFaint = [
    left < Math.max(0.3 * standsOut * leftNoise, 1e-12),
    right < Math.max(0.3 * standsOut * rightNoise, 1e-12),
  ];
  const leftAlone = left + 1e-30 >= alone * (right + 1e-30) || (isFaint[1] && !isFaint[0]);
  const rightAlone = right + 1e-30 >= alone * (left + 1e-30) || (isFaint[0] && !isFaint[1]);
  return [
    [leftAlone, LEFT_ONLY] as const,
    [rightAlone, RIGHT_ONLY] as const,
    [isSame, SAME] as const,
    [areCopies && product > 0, SCALED] as const,
    [areCopies && product < 0, INVERTED] as const,
    [!leftAlone && !rightAlone, DIFFERENT] as const,
  ].reduce((bits, [holds, bit]) => (holds ? bits | bit : bits), 0);
}

test('for any sums and noises a block allows what the plain version allows', () => {
  const level = fc.oneof(
    fc.constant(0),
    fc.integer({ min: -110, max: 0 }).map((db) => 10 ** (db / 10)),
  );
  const noise = fc.integer({ min: -100, max: -50 }).map((db) => 10 ** (db / 10));
  const likeness = fc.constantFrom(-1, -0.9999, -0.6, 0, 0.3, 0.9, 0.999, 0.99999, 1);
  const any = fc
    .tuple(level, level, likeness, fc.tuple(noise, noise), fc.tuple(noise, noise), fc.constantFrom(0, 0, 0, 1, 2))
    .map(([left, right, share, one, other, alone]) =>
      block(left, right, share * Math.sqrt(left * right), { noises: [one, other], alone }),
    );
  const standsOut = ({ left, right }: Block, l: number, r: number): boolean => left > 10 * l || right > 10 * r;
  fc.assert(
    fc.property(fc.array(any, { maxLength: 20 }), (blocks) => {
      const plain = blocks.map((one) => {
        const { left, right, product, noises, alone } = one;
        if (left + right <= 1e-12) return 0;
        if (areExactBlocks({ left: series([left]), right: series([right]), product: series([product]) }, THRESHOLDS))
          return plainly(one, 0, 0);
        if (alone) return alone;
        const told = [0, 1].map((at) =>
          standsOut(one, noises[0][at], noises[1][at]) ? plainly(one, noises[0][at], noises[1][at]) : 0,
        );
        return told[0] === 0 || told[1] === 0 ? 0 : told[0] | told[1];
      });
      expect(statesOf(blocks)).toEqual(plain);
    }),
  );
});

test('silence tells nothing, what hardly stands out of either noise nothing, one side beside noise that it is alone', () => {
  const rising: Block['noises'] = [
    [1e-8, 1e-3],
    [1e-8, 1e-3],
  ];
  expect(
    statesOf([
      block(0, 0, 0),
      block(5e-8, 5e-8, 0),
      block(1e-3, 1e-3, 0, { noises: rising }),
      block(1e-3, 1.1e-8, 0),
      block(1e-3, 1e-3, 0),
      block(1e-3, 0, 0, { alone: LEFT_ONLY }),
    ]),
  ).toEqual([0, 0, 0, LEFT_ONLY, DIFFERENT, LEFT_ONLY]);
});

test('copies are the same, scaled or inverted, and exact to the last bits or not', () => {
  const [left, right] = [1e-3, 2.5e-4];
  const product = Math.sqrt(left * right);
  expect(statesOf([block(left, left, left), block(left, right, product), block(left, right, -product)])).toEqual([
    SAME | SCALED | DIFFERENT,
    SCALED | DIFFERENT,
    INVERTED | DIFFERENT,
  ]);
  const exact = (product: number): boolean =>
    areExactBlocks({ left: series([0, left]), right: series([0, right]), product: series([0, product]) }, THRESHOLDS);
  expect([exact(product), exact(-product), exact(0.99999 * product)]).toEqual([true, true, false]);
});
