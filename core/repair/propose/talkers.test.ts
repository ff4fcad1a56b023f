import type { Talk } from '../../measure/stream/talkMeter.ts';
import { learnTalkers } from './talkers.ts';
import { proposeTurns } from './turns.ts';

// Who is near which microphone, and when each speaks, from levels that are made: the truth is what they were made of.

const BLOCK_SECONDS = 0.02;
const RATE = 50;
const FLOOR_DB = -65;

interface Said {
  talker: number;
  /** The level of each step at the own microphone, in dB. */
  levelsDb: number[];
  from: number;
}

/** What was said as each microphone hears it: others so much softer, a floor under it all. */
function talkOf(microphones: number, blocks: number, bleedDb: number, said: Said[]): Talk {
  const powers = Array.from({ length: microphones }, (_, c) =>
    new Float64Array(blocks).map((_, t) => {
      const heard = said.reduce((sum, { talker, from, levelsDb }) => {
        const db = levelsDb[t - from];
        return db === undefined ? sum : sum + 10 ** ((db + (talker === c ? 0 : bleedDb)) / 10);
      }, 0);
      return heard + 10 ** ((FLOOR_DB + ((7 * t + 3 * c) % 5) / 5) / 10);
    }),
  );
  return { powers, blockSeconds: BLOCK_SECONDS };
}

const words = (steps: number, db = -15): number[] => Array.from({ length: steps }, (_, i) => db + 3 * Math.sin(i / 2));

function proposed(talk: Talk) {
  const frames = talk.powers[0].length;
  const channels = talk.powers.map((_, c) => c + 1);
  return proposeTurns(talk, channels, RATE, frames).turns.list;
}

test.each([0.5, 0.1, 0.04])('a talker with %d of the words is known as well as the others', (share) => {
  const steps = 2000;
  const seldom = Math.round(share * steps);
  const said = [
    ...[0, 1, 2, 3].map((talker) => ({ talker, from: talker * 500, levelsDb: words((steps - seldom) / 4) })),
    { talker: 4, from: 2100, levelsDb: words(seldom) },
  ];
  const { bleedDb } = learnTalkers(talkOf(5, 3200, -14, said));
  for (let talker = 0; talker < 5; talker++)
    for (let microphone = 0; microphone < 5; microphone++)
      expect(bleedDb[talker][microphone]).toBeCloseTo(talker === microphone ? 0 : -14, 0);
});

test('where one speaks nine tenths of the time, the other is still told from the bleed', () => {
  const said = [
    { talker: 0, from: 20, levelsDb: words(900) },
    { talker: 1, from: 960, levelsDb: words(100, -20) },
  ];
  const { bleedDb } = learnTalkers(talkOf(2, 1200, -9, said));
  expect(bleedDb[0][1]).toBeCloseTo(-9, 0);
  expect(bleedDb[1][0]).toBeCloseTo(-9, 0);
});

const FIRST: Said = { talker: 0, from: 20, levelsDb: words(150) };
const ANSWER = 200;

test('a soft sound held at the end of a word is open, the decay of a room is not', () => {
  const end = (levelsDb: number[]): number => {
    const talk = talkOf(2, 400, -18, [FIRST, { talker: 1, from: ANSWER, levelsDb: [...words(80), ...levelsDb] }]);
    return proposed(talk).find(({ channel }) => channel === 2)!.endFrame;
  };
  const held = Array.from({ length: 15 }, () => -41);
  const decay = Array.from({ length: 25 }, (_, i) => -18 - 2 * i);
  expect(Math.abs(end(held) - (ANSWER + 80 + 15))).toBeLessThanOrEqual(3);
  expect(end(decay)).toBeLessThan(ANSWER + 80 + 12);
});

test('a soft word before the first loud one belongs to the turn', () => {
  const soft = [-46, -44, -44, -45, -46];
  const talk = talkOf(2, 400, -12, [
    FIRST,
    { talker: 1, from: ANSWER, levelsDb: soft },
    { talker: 1, from: ANSWER + 40, levelsDb: words(100) },
  ]);
  const turn = proposed(talk).filter(({ channel }) => channel === 2);
  expect(turn).toHaveLength(1);
  expect(Math.abs(turn[0].startFrame - ANSWER)).toBeLessThanOrEqual(3);
});

test('a short answer with soft ends is a turn', () => {
  const levelsDb = [-37, -35, -33, -34, -30, -22, -18, -14, -13, -13, -15, -18, -25, -30, -43, -42, -41, -41, -42, -46];
  const talk = talkOf(2, 400, -9, [FIRST, { talker: 1, from: ANSWER, levelsDb }]);
  const turn = proposed(talk).filter(({ channel }) => channel === 2);
  expect(turn).toHaveLength(1);
  expect(Math.abs(turn[0].startFrame - ANSWER)).toBeLessThanOrEqual(3);
});
