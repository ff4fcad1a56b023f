import fc from 'fast-check';
import { measure } from '../test/inspecting.ts';
import { mix, scale } from '../synth/mono.ts';
import { chatter, noise } from '../synth/noise.ts';
import { sine } from '../synth/tones.ts';
import { channelActivity } from './channelActivity.ts';

const SECONDS = 12;

function activityOf(sound: Float64Array, tonalShare = 0) {
  const {
    channels: [channel],
    blockSeconds,
  } = measure([sound]);
  return channelActivity(
    { ...channel, tone: { tonalShare, humPower: 0, mainsHz: 50, speechHumPower: 0 } },
    blockSeconds,
  );
}

const speech = chatter(0.1, SECONDS, 1);

test('speech over any hiss below it is a programme that moves, sounds like speech and has pauses as loud as the hiss', () => {
  fc.assert(
    fc.property(fc.double({ min: -90, max: -58, noNaN: true }), (hissDbfs) => {
      const rms = 10 ** (hissDbfs / 20);
      const found = activityOf(mix(speech, noise(rms, SECONDS, 2)));
      expect(found).toMatchObject({ content: 'programme', moves: true, soundsLikeSpeech: true });
      // The speech band holds about a fifth of white noise.
      expect(Math.abs(10 * Math.log10(found.pausePower / (rms * rms * 0.2)))).toBeLessThan(2);
      expect(Math.abs(found.activeSeconds - SECONDS * (2.2 / 3))).toBeLessThan(1.2);
    }),
    { numRuns: 6 },
  );
});

test('steady sound is noise where it is quiet, and a programme where it is loud or made of tones', () => {
  expect(activityOf(noise(0.001, SECONDS, 3)).content).toBe('noise');
  expect(activityOf(noise(0.05, SECONDS, 3))).toMatchObject({
    content: 'programme',
    moves: false,
    soundsLikeSpeech: false,
    activeSeconds: expect.closeTo(SECONDS, 6),
  });
  expect(activityOf(sine(440, 0.003, SECONDS), 0.99).content).toBe('programme');
});

test('below one step of 16-bit sound there is nothing, and a click is no programme', () => {
  expect(activityOf(scale(speech, 1e-6)).content).toBe('silent');
  const clicked = noise(0.0005, SECONDS, 4);
  clicked.fill(0.8, 200000, 200500);
  expect(activityOf(clicked).content).toBe('noise');
});

test('between gated words nothing is active, however quiet the room in them is', () => {
  // Squared it falls back further between syllables.
  const gated = speech.map((x) => 10 * x * Math.abs(x));
  const { active, soundsLikeSpeech } = activityOf(gated);
  expect(soundsLikeSpeech).toBe(true);
  // Blocks of the pause from 2.4 to 2.9 s.
  expect([...active.slice(24, 29)]).toEqual([0, 0, 0, 0, 0]);
  expect([...active.slice(5, 9)]).toEqual([1, 1, 1, 1]);
});
