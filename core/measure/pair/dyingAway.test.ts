import { amplitudeFromDb } from '../../signal/decibels.ts';
import { hiss } from '../../synth/noise.ts';
import { RATE, type Mono } from '../../synth/mono.ts';
import { SoundRoom } from '../soundRoom.ts';
import { dyingAway, fallsOf } from './dyingAway.ts';
import type { MatchInput } from './matchInput.ts';

// Against bursts whose straight sound and whose room have known levels on either side.

const FRAMES = RATE / 2;
const MARGIN = 1000;
const STRETCHES = 4;
const BURST_SECONDS = 0.08;
const EVERY_SECONDS = 0.25;

interface Made {
  /** Of the right side against the left. */
  directDb: number;
  roomDb: number;
  /** How far the room is one sound on both sides. */
  shared?: number;
  noiseDbfs?: number;
  seed?: number;
}

function made({ directDb, roomDb, shared = 0, noiseDbfs = -120, seed = 1 }: Made, rate = RATE): MatchInput {
  let from = 100 * seed;
  const noise = (dbfs: number): Mono => hiss(FRAMES + 2 * MARGIN, dbfs, from++);
  const sinceBurst = (i: number): number => ((i + 0.01 * rate) / rate) % EVERY_SECONDS;
  const active = Array.from({ length: STRETCHES }, (_, stretch) => {
    const straight = noise(-20).map((x, i) => (sinceBurst(i) < BURST_SECONDS ? x : 0));
    const [own, common, other] = [noise(-40), noise(-40), noise(-40)];
    const dies = (x: number, i: number): number => x * Math.exp(-12 * Math.max(0, sinceBurst(i) - BURST_SECONDS));
    const hiss = [noise(noiseDbfs), noise(noiseDbfs)];
    const roomOn = (side: Mono) => (i: number) =>
      dies(Math.sqrt(shared) * common[i] + Math.sqrt(1 - shared) * side[i], i);
    const [onLeft, onRight] = [roomOn(own), roomOn(other)];
    return {
      startFrame: stretch * FRAMES,
      left: straight.map((x, i) => x + onLeft(i) + hiss[0][i]),
      right: straight.map((x, i) => amplitudeFromDb(directDb) * x + amplitudeFromDb(roomDb) * onRight(i) + hiss[1][i]),
    };
  });
  const pauses = [{ startFrame: 0, left: noise(noiseDbfs), right: noise(noiseDbfs) }];
  return { sampleRate: rate, margin: MARGIN, active, pauses, unlike: [], room: new SoundRoom() };
}

test.each([
  { directDb: 0, roomDb: 0 },
  { directDb: -12, roomDb: -12 },
  { directDb: -9, roomDb: 0 },
  { directDb: 3, roomDb: 8 },
  { directDb: 6, roomDb: -2 },
])('$directDb dB straight and $roomDb dB of the room are told apart, whatever the inputs were set to', (one) => {
  const found = dyingAway(fallsOf(made(one)))!;
  expect(found.leftMoreDirectDb).toBeCloseTo(one.roomDb - one.directDb, 0);
  expect(found.leftLouderDb).toBeCloseTo(-one.roomDb, 0);
});

test.each([0, 0.4, 0.8, 1])('what the sides share of the room is told: %p', (shared) => {
  const found = dyingAway(fallsOf(made({ directDb: 2, roomDb: -3, shared, seed: 3 })))!;
  expect(Math.abs(found.agreement - shared)).toBeLessThan(0.06);
});

test('the same at a third of the rate, and under noise that leaves the first of each tail', () => {
  const lower = dyingAway(fallsOf(made({ directDb: -5, roomDb: 1 }, RATE / 3)))!;
  expect(lower.leftMoreDirectDb).toBeCloseTo(6, 0);
  const noisy = dyingAway(fallsOf(made({ directDb: -5, roomDb: 1, noiseDbfs: -58 })))!;
  expect(Math.abs(noisy.leftMoreDirectDb - 6)).toBeLessThan(1);
});

test('where noise covers the room, or nothing dies away, nothing is claimed', () => {
  expect(dyingAway(fallsOf(made({ directDb: -5, roomDb: 1, noiseDbfs: -44 })))).toBeNull();
  const steady = made({ directDb: 0, roomDb: 0 });
  for (const sound of steady.active) {
    sound.left = hiss(sound.left.length, -20, 7);
    sound.right = hiss(sound.left.length, -20, 8);
  }
  expect(dyingAway(fallsOf(steady))).toBeNull();
  for (const sound of steady.active) for (const side of [sound.left, sound.right]) side.fill(0);
  expect(dyingAway(fallsOf(steady))).toBeNull();
});
