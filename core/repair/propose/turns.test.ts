import { TalkMeter } from '../../measure/stream/talkMeter.ts';
import { INTERLEAVED, interleave } from '../../pcm/interleave.ts';
import { Chance } from '../../synth/chance.ts';
import { gain, RATE, type Mono } from '../../synth/mono.ts';
import { hiss } from '../../synth/noise.ts';
import { talkOf, type MadeTurn, type TalkOptions } from '../../synth/talk.ts';
import { proposeTurns } from './turns.ts';

// Who speaks when, against talk whose turns are known.

const TALK: TalkOptions = {
  ...{ talkers: 2, seconds: 20, bleedDb: 12, decaySeconds: 0.3, noiseDbfs: -66, overlaps: 0.15, yeses: 0.2 },
};

function proposed(microphones: Mono[]) {
  const meter = new TalkMeter(RATE, microphones.length, INTERLEAVED);
  meter.push(interleave(microphones, microphones[0].length));
  const channels = microphones.map((_, i) => i + 1);
  return proposeTurns(meter.finish(), channels, RATE, microphones[0].length);
}

interface Score {
  boundaries: number;
  near: number;
  /** Stretches of over 0.2 s in which a talker speaks and the own microphone is not open. */
  muted: number;
}

function score(made: MadeTurn[], { turns }: ReturnType<typeof proposed>): Score {
  const mine = turns.list.map(({ channel, startFrame, endFrame }) => ({
    ...{ talker: channel - 1, startSeconds: startFrame / RATE, endSeconds: endFrame / RATE },
  }));
  const result = { boundaries: 0, near: 0, muted: 0 };
  for (const turn of made) {
    const own = mine.filter(({ talker }) => talker === turn.talker);
    for (const edge of ['startSeconds', 'endSeconds'] as const) {
      result.boundaries++;
      if (own.some((other) => Math.abs(other[edge] - turn[edge]) <= 0.15)) result.near++;
    }
    let open = turn.startSeconds;
    for (const other of own.filter((one) => one.endSeconds > turn.startSeconds && one.startSeconds < turn.endSeconds)) {
      if (other.startSeconds - open > 0.2) result.muted++;
      open = Math.max(open, other.endSeconds);
    }
    if (turn.endSeconds - open > 0.2) result.muted++;
  }
  return result;
}

const MATERIAL: [what: string, options: Partial<TalkOptions>][] = [
  ['two people', {}],
  ['two people near each other', { bleedDb: 8 }],
  ['a live room', { decaySeconds: 0.6 }],
  ['noisy preamplifiers', { noiseDbfs: -52 }],
  ['three people', { talkers: 3 }],
  ['eight people', { talkers: 8, overlaps: 0, seconds: 14 }],
  ['isolated microphones', { bleedDb: 50 }],
];

test('95 of 100 boundaries lie within 0.15 s, on two to eight microphones, and nobody is muted while speaking', () => {
  const scores = MATERIAL.map(([what, options], i) => {
    const { microphones, turns } = talkOf(new Chance(100 + i), { ...TALK, ...options });
    return { what, ...score(turns, proposed(microphones)) };
  });
  const sum = (key: keyof Score): number => scores.reduce((total, one) => total + one[key], 0);
  expect(sum('boundaries')).toBeGreaterThan(60);
  expect({ share: sum('near') / sum('boundaries') >= 0.95, scores }).toMatchObject({ share: true });
  expect({ muted: sum('muted'), scores }).toMatchObject({ muted: 0 });
}, 60_000);

test('a microphone’s own gain makes no difference', () => {
  const { microphones, turns } = talkOf(new Chance(7), TALK);
  const found = score(turns, proposed([microphones[0], gain(microphones[1], -18)]));
  expect(found.near / found.boundaries).toBeGreaterThan(0.93);
});

test('a yes of a quarter of a second flips nothing', () => {
  const { microphones, turns } = talkOf(new Chance(8), { ...TALK, overlaps: 0, yeses: 1 });
  const { turns: found } = proposed(microphones);
  expect(found.list).toHaveLength(turns.length);
  expect(found.list.every(({ startFrame, endFrame }) => endFrame - startFrame > 0.4 * RATE)).toBe(true);
});

test('it is said how much quieter the room is, and what is not sure', () => {
  const { microphones } = talkOf(new Chance(9), TALK);
  const { quieterDb, warnings } = proposed(microphones);
  // Two alike floors: one at full and one 12 dB down against both at full.
  expect(quieterDb).toBeCloseTo(10 * Math.log10(2 / (1 + 10 ** -1.2)), 0);
  expect(warnings).toEqual([]);
  const near = talkOf(new Chance(10), { ...TALK, bleedDb: 2 });
  expect(proposed(near.microphones).warnings[0]).toMatch('hear each other nearly as loud');
  const alone = proposed([microphones[0], hiss(microphones[0].length, -66, 3)]);
  expect(alone.warnings).toContain('Nobody was heard to speak into channel 2.');
});
