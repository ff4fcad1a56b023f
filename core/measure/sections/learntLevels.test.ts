import fc from 'fast-check';
import { gaussian, seededRandom } from '../../signal/random.ts';
import { LearntLevels } from './learntLevels.ts';

const FRAMES = 300;
const draw = gaussian(seededRandom(7));
const around = (db: number, spread: number): Float64Array => new Float64Array(FRAMES).map(() => db + spread * draw());

/** Speech at -60 to -20 dB in which a filter leaves 15 dB less, and a noise of its own in the target at -70 dB. */
const heard = new Float64Array(FRAMES).map((_, i) => -60 + (40 * i) / FRAMES);
const left = heard.map((db) => 10 * Math.log10(10 ** ((db - 15) / 10) + 1e-7) + 0.5 * draw());
const speech = new LearntLevels(heard, left);

test('what is left as it was learnt is likelier than anything else, at every level', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -58, max: -22, noNaN: true }),
      fc.double({ min: 6, max: 60, noNaN: true }),
      (db, off) => {
        const asLearnt = 10 * Math.log10(10 ** ((db - 15) / 10) + 1e-7);
        expect(speech.unlikeness(db, asLearnt)).toBeLessThan(speech.unlikeness(db, asLearnt + off) - 1);
        expect(speech.unlikeness(db, asLearnt)).toBeLessThan(speech.unlikeness(db, asLearnt - off) - 1);
      },
    ),
    { seed: 1 },
  );
});

test('no frame says more than that it fits nothing, so that one click moves no boundary', () => {
  const worst = speech.unlikeness(-40, 0);
  expect(speech.unlikeness(-40, 60)).toBeCloseTo(worst, 6);
  expect(worst - speech.unlikeness(-40, -55)).toBeLessThan(7);
});

test('a pause is possible where none was learnt, but not where the quiet is steady: noise is always there', () => {
  const noise = new LearntLevels(around(-66, 0.3), around(-40, 8));
  const pause = speech.unlikeness(-80, -70);
  expect(pause).toBeLessThan(speech.unlikeness(-40, 0));
  expect(noise.unlikeness(-86, -45)).toBeGreaterThan(pause + 4);
  // Nor is a source that was nothing but steady noise ever louder.
  expect(noise.unlikeness(-46, -40)).toBeGreaterThan(noise.unlikeness(-66, -40) + 4);
  expect(speech.hasHeard(-50) && !speech.hasHeard(-80)).toBe(true);
});

test('digital silence speaks against every microphone, and for what is silent', () => {
  const silent = new LearntLevels(new Float64Array(FRAMES).fill(-130), around(-40, 8));
  expect(speech.unlikeness(-130, -75)).toBeGreaterThan(silent.unlikeness(-130, -40) + 4);
});

test('a quieter source leaves no more than a louder one did', () => {
  expect(speech.unlikeness(-80, -50)).toBeGreaterThan(speech.unlikeness(-80, -69) + 3);
});
