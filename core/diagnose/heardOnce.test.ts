import { lowPassed, filtered, shelf } from '../synth/filters.ts';
import { gain, later, mix, RATE, type Mono } from '../synth/mono.ts';
import { chatter, hiss, noise } from '../synth/noise.ts';
import { inspect } from '../test/inspecting.ts';

// A guest's microphone hears the host so cleanly that both sides are one signal, but for the moment in which the guest speaks.

const samples = (ms: number): number => Math.round((ms * RATE) / 1000);
const noisy = (sides: Mono[]): Mono[] => sides.map((side, s) => mix(side, hiss(side.length, -75, 90 + s)));

function hostAndGuest(seconds: number, atSeconds: number, forSeconds: number, guestLevel: number): Mono[] {
  const host = lowPassed(chatter(0.1, seconds, 4));
  const guest = lowPassed(chatter(guestLevel, seconds, 7)).map((x, i) =>
    i >= atSeconds * RATE && i < (atSeconds + forSeconds) * RATE ? x : 0,
  );
  return noisy([mix(host, gain(later(guest, samples(1.2)), -9)), mix(gain(later(host, samples(1.6)), -4), guest)]);
}

const KEEPS_ALL = ['none', 'split', 'review'];

test.each([
  { seconds: 9, atSeconds: 3.1, forSeconds: 0.5, guestLevel: 0.1 },
  { seconds: 9, atSeconds: 6.4, forSeconds: 1, guestLevel: 0.1 },
  { seconds: 12, atSeconds: 0.3, forSeconds: 0.7, guestLevel: 0.05 },
  // So seldom that the stretches that are looked at anyway pass it by.
  { seconds: 45, atSeconds: 27.4, forSeconds: 0.6, guestLevel: 0.1 },
])(
  'who speaks for $forSeconds s of $seconds is not thrown away, whatever the rest is',
  async ({ seconds, atSeconds, forSeconds, guestLevel }) => {
    const found = await inspect(hostAndGuest(seconds, atSeconds, forSeconds, guestLevel));
    expect(found.verdict).not.toBe('fake-stereo');
    expect(KEEPS_ALL).toContain(found.suggestion.action);
  },
  120_000,
);

test.each([
  { what: 'a voice', seconds: 11, one: chatter(0.1, 11, 4) },
  { what: 'a tone', seconds: 20, one: Float64Array.from({ length: 20 * RATE }, (_, i) => 0.1 * Math.sin(0.13 * i)) },
])('two who speak for half a second after $what that is the same on both sides are not thrown away', async (given) => {
  const { seconds, one } = given;
  const start = (seconds - 0.6) * RATE;
  const said = [7, 8].map((seed) => lowPassed(chatter(0.12, seconds, seed)));
  const found = await inspect(noisy(said.map((words) => one.map((x, i) => (i < start ? x : words[i])))));
  expect(KEEPS_ALL).toContain(found.suggestion.action);
});

test('what speaks is said, and a person decides', async () => {
  const found = await inspect(hostAndGuest(12, 0.3, 0.7, 0.05));
  const [pair] = found.pairs;
  expect(pair.verdict).toBe('two-mics');
  expect([found.headline, found.detail]).toEqual([
    'These may be two microphones.',
    'Much of it is the same on both sides, but not all of it: listen to each side alone.',
  ]);
  expect(pair.spoke[0]).toMatchObject({ says: 'two-mics' });
  expect(pair.spoke[0].message).toContain('somebody else is heard there');
  expect(found.suggestion.action).toBe('review');
});

const host = lowPassed(chatter(0.1, 12, 4));
test.each([
  { what: 'a copy as it is', copy: later(gain(host, -4), samples(1.6)) },
  { what: 'a copy that starts late in the clip', copy: later(gain(host, -6), samples(38)) },
  { what: 'a copy without treble', copy: filtered(later(host, samples(3)), shelf(-12, 900)) },
  {
    what: 'a copy that is raised for a while',
    copy: host.map((x, i) => x * (i > 4 * RATE && i < 4.6 * RATE ? 2.5 : 1)),
  },
])('$what stays one signal: no moment of it is its own', async ({ copy }) => {
  const found = await inspect(noisy([host, copy]));
  expect(found.verdict).toBe('fake-stereo');
});

test('copies of which one ends a few samples sooner stay one signal, and nothing drops out', async () => {
  // As two files are that were joined: the last block is 17 samples long.
  const whole = mix(chatter(0.12, 8, 1), noise(0.0004, 8, 2));
  const sooner = new Float64Array(whole.length + 17);
  sooner.set(whole);
  const longer = Float64Array.from(sooner, (x, i) => (i < whole.length ? x : 0.01 * Math.sin(i)));
  const found = await inspect([longer, sooner]);
  expect(found.verdict).toBe('dual-mono');
  expect(found.findings.map(({ code }) => code)).not.toContain('dropout');
});

test.each([
  { seconds: 20, forSeconds: 0.4, level: 0.1 },
  { seconds: 120, forSeconds: 0.5, level: 0.03 },
  { seconds: 180, forSeconds: 0.3, level: 0.12 },
])(
  'a word of $forSeconds s in $seconds s on a side of hiss is not filled over unheard',
  async ({ seconds, forSeconds, level }) => {
    const live = mix(lowPassed(chatter(0.12, seconds, 4)), noise(0.0003, seconds, 1));
    const start = 0.37 * seconds * RATE;
    const word = lowPassed(noise(level, forSeconds, 9)).map(
      (x, i) => x * Math.sin((Math.PI * i) / (forSeconds * RATE)),
    );
    const dead = noise(0.0003, seconds, 2);
    word.forEach((x, i) => (dead[Math.round(start) + i] += x));
    const found = await inspect([live, dead]);
    expect(KEEPS_ALL).toContain(found.suggestion.action);
    // And without it nothing keeps the side from being filled.
    expect((await inspect([live, noise(0.0003, seconds, 2)])).suggestion.action).toBe('fill');
  },
  120_000,
);
