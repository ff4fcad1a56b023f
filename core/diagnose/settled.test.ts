import { Chance } from '../synth/chance.ts';
import { instrument } from '../synth/instruments.ts';
import { mix, RATE, type Mono } from '../synth/mono.ts';
import { chatter, hiss } from '../synth/noise.ts';
import { inspect } from '../test/inspecting.ts';

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
