import { Chance } from '../synth/chance.ts';
import { instrument } from '../synth/instruments.ts';
import { mix, RATE, type Mono } from '../synth/mono.ts';
import { chatter, hiss } from '../synth/noise.ts';
import type { ChannelMeasurement } from '../measure/measurement.ts';
import type { LeaningArrival, PairMatch } from '../measure/pair/pairMatch.ts';
import type { Disguise } from '../schema/inspection.ts';
import { inspect } from '../test/inspecting.ts';
import { settled, type Decided } from './settled.ts';

// A voice on the left, music that goes on and on on the right: nothing is shared, and one of them may pause.

const SECONDS = 14;
const VOICE = chatter(0.1, SECONDS, 1);
const MUSIC = instrument(new Chance(3), SECONDS * RATE);
const GAP = { from: 6 * RATE, to: 8.5 * RATE };

const withGap = (sound: Mono): Mono => sound.map((x, i) => (i >= GAP.from && i < GAP.to ? 0 : x));
const sides = (music: Mono, floorDbfs: number): Mono[] => [
  mix(VOICE, hiss(VOICE.length, -75, 4)),
  floorDbfs === -Infinity ? music : mix(music, hiss(music.length, floorDbfs, 5)),
];

test('music that pauses for the first time is no microphone that has gone: two microphones all the way through', async () => {
  for (const music of [MUSIC, withGap(MUSIC)]) {
    const found = await inspect(sides(music, -78));
    expect([found.verdict, found.sections.length]).toEqual(['two-mics', 1]);
    expect(found.suggestion.action).toBe('split');
  }
});

test('what falls to digital silence has gone, and what comes with less noise than in its pauses before', async () => {
  const silent = await inspect(sides(withGap(MUSIC), -Infinity));
  expect(silent.sections.map(({ verdict, side }) => [verdict, side])).toEqual([
    ['two-mics', null],
    ['one-sided', 'left'],
    ['two-mics', null],
  ]);
  // It pauses at 2 s with its own hiss, and is gone from 6 s on.
  const paused = MUSIC.map((x, i) => (i >= 2 * RATE && i < 2.8 * RATE ? 0 : x));
  const noises = hiss(MUSIC.length, -60, 6).map((x, i) => (i >= GAP.from && i < GAP.to ? x / 30 : x));
  const unplugged = await inspect([sides(MUSIC, -78)[0], mix(withGap(paused), noises)]);
  expect(unplugged.sections.map(({ verdict }) => verdict)).toContain('one-sided');
});

interface Heard {
  delaySamples: number;
  gainDb: number;
  leaning?: { left: LeaningArrival; right: LeaningArrival };
}

const leaningBy = (levelDifferenceDb: number, delaySamples = 0, stretches = 4): LeaningArrival => ({
  ...{ levelDifferenceDb, delaySamples, stretches },
  ...{ prominence: 20, height: 0.8, dyingAway: null },
});
const NOWHERE = { left: leaningBy(0, 0, 0), right: leaningBy(0, 0, 0) };

const part = (
  verdict: Decided['verdict'],
  confidence: number,
  startBlock: number,
  endBlock: number,
  heard: Heard | null = null,
  disguise: Disguise[] = [],
): Decided => ({
  ...{ verdict, confidence, side: null, disguise, middle: null, spoke: [], margin: 1, activeSeconds: 5 },
  segment: {
    startBlock,
    endBlock,
    begins: [startBlock, startBlock],
    state: 'different',
    match: heard && ({ leaning: NOWHERE, ...heard, incoherent: 0.2, arrival: { prominence: 20 } } as PairMatch),
  },
});
const NONE = [0, 1].map((channel) => ({ channel, blockSpeechPower: new Float64Array(150) })) as unknown as [
  ChannelMeasurement,
  ChannelMeasurement,
];
const verdicts = (...decided: Decided[]) => settled(decided, NONE).map(({ verdict }) => verdict);

test('a pair and two microphones do not take turns within a clip: what is told less surely is what the other is', () => {
  expect(verdicts(part('stereo', 0.6, 0, 36), part('two-mics', 0.95, 36, 148))).toEqual(['two-mics', 'two-mics']);
  expect(verdicts(part('stereo', 0.95, 0, 100), part('two-mics', 0.7, 100, 140))).toEqual(['stereo', 'stereo']);
  expect(verdicts(part('stereo', 0.95, 0, 100), part('two-mics', 0.95, 100, 140))).toEqual(['stereo', 'two-mics']);
  // What a person would be asked about does not stand against it.
  expect(verdicts(part('stereo', 0.92, 0, 40), part('two-mics', 0.99, 40, 148))).toEqual(['two-mics', 'two-mics']);
  // Heard from the same place in both it is the same, however sure either is; from another one it may have been changed.
  const [here, there] = [
    { delaySamples: 104, gainDb: 1.1 },
    { delaySamples: 20, gainDb: 1.1 },
  ];
  const twice = (second: typeof here): string[] =>
    verdicts(part('two-mics', 0.97, 0, 112, here), part('stereo', 0.95, 112, 133, second));
  expect(twice({ delaySamples: 104.3, gainDb: 0.7 })).toEqual(['two-mics', 'two-mics']);
  expect(twice(there)).toEqual(['two-mics', 'stereo']);
  expect(twice({ ...here, gainDb: 6 })).toEqual(['two-mics', 'stereo']);
  expect(verdicts(part('fake-stereo', 0.6, 0, 36), part('two-mics', 0.95, 36, 148))).toEqual([
    'fake-stereo',
    'two-mics',
  ]);
});

test('who stands to one hand in a mix and speaks alone for a while is part of the mix, however surely the sides are one signal then', () => {
  const mix = (leaning: Heard['leaning']) => part('stereo', 0.95, 0, 69, { delaySamples: 0, gainDb: 2, leaning });
  const alone = (gainDb: number, disguise: Disguise[] = ['level']) =>
    part('fake-stereo', 0.99, 69, 81, { delaySamples: 0, gainDb }, disguise);
  const panned = { left: leaningBy(6.4), right: leaningBy(-8) };
  expect(verdicts(mix(panned), alone(8.2))).toEqual(['stereo', 'stereo']);
  expect(verdicts(mix(panned), alone(-6))).toEqual(['stereo', 'stereo']);
  // Nobody of the mix is heard at that level, or so late, or through a filter; nor is a pair in a room a mix.
  expect(verdicts(mix(panned), alone(2))).toEqual(['stereo', 'fake-stereo']);
  expect(verdicts(mix(panned), alone(8.2, ['level', 'delay']))).toEqual(['stereo', 'fake-stereo']);
  expect(verdicts(mix(panned), alone(8.2, ['filter']))).toEqual(['stereo', 'fake-stereo']);
  const inARoom = { left: leaningBy(6.4, 20), right: leaningBy(-8, -20) };
  expect(verdicts(mix(inARoom), alone(8.2))).toEqual(['stereo', 'fake-stereo']);
  expect(verdicts(mix({ ...panned, left: leaningBy(6.4, 0, 1) }), alone(8.2))).toEqual(['stereo', 'fake-stereo']);
});

test('a side that is alone for most of the clip is no empty one for what the other has while it is silent', () => {
  const alone = (own: Decided, state: 'left-only' | 'right-only', side: Decided['side'] = null): Decided => ({
    ...own,
    side,
    segment: { ...own.segment, state },
  });
  const long = alone(part('stereo', 0.5, 0, 104), 'right-only');
  const short = alone(part('one-sided', 0.99, 104, 117), 'left-only', 'left');
  const half = alone(part('stereo', 0.5, 0, 50), 'right-only');
  const longer = alone(part('one-sided', 0.99, 50, 117), 'left-only', 'left');
  for (const order of [
    [half, longer],
    [long, short],
    [short, long],
  ]) {
    const found = settled(order, NONE);
    expect(found.filter(({ side }) => side === 'left')).toHaveLength(1);
    expect(found.map(({ verdict }) => verdict).sort()).toEqual(['one-sided', 'stereo']);
  }
  // A knock while the one side that there is pauses is part of what it stands in.
  const knock = alone(part('stereo', 0.5, 104, 108), 'right-only');
  const voice = alone(part('one-sided', 0.99, 0, 104), 'left-only', 'left');
  expect(verdicts(voice, knock)).toEqual(['one-sided', 'one-sided']);
});
