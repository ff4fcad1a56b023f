import { Chance } from '../synth/chance.ts';
import { instrument } from '../synth/instruments.ts';
import { mix, RATE, type Mono } from '../synth/mono.ts';
import { chatter, hiss } from '../synth/noise.ts';
import type { ChannelMeasurement } from '../measure/measurement.ts';
import type { PairMatch } from '../measure/pair/pairMatch.ts';
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

test('a pair and two microphones do not take turns within a clip: what is told less surely is what the other is', () => {
  const part = (
    verdict: Decided['verdict'],
    confidence: number,
    startBlock: number,
    endBlock: number,
    heard: { delaySamples: number; gainDb: number } | null = null,
  ): Decided => ({
    ...{ verdict, confidence, side: null, disguise: [], middle: null, spoke: [], margin: 1, activeSeconds: 5 },
    segment: {
      startBlock,
      endBlock,
      begins: [startBlock, startBlock],
      state: 'different',
      match: heard && ({ ...heard, incoherent: 0.2, arrival: { prominence: 20 } } as PairMatch),
    },
  });
  const none = [0, 1].map((channel) => ({ channel, blockSpeechPower: new Float64Array(150) })) as unknown as [
    ChannelMeasurement,
    ChannelMeasurement,
  ];
  const verdicts = (...decided: Decided[]) => settled(decided, none).map(({ verdict }) => verdict);
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
