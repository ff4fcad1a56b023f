import { gain, mix, RATE, silence, type Mono } from '../../synth/mono.ts';
import { chatter, hiss } from '../../synth/noise.ts';
import { inspect, measure } from '../../test/inspecting.ts';
import { isLiftedHiss } from './liftedHiss.ts';

// Hiss that an automatic gain lifts whenever nobody speaks, and what only looks like it.

const SECONDS = 12;
const VOICE = mix(chatter(0.1, SECONDS, 1), hiss(SECONDS * RATE, -75, 2));
const blocks = (sides: [Mono, Mono]): boolean => {
  const { channels, blockSeconds } = measure(sides);
  return isLiftedHiss(channels[1], channels[0], blockSeconds);
};

/** Under a gain that falls by so much at once with what it hears, and comes back within so many seconds. */
function under(sound: Mono, heard: Mono, fallsDb: number, releaseSeconds: number): Mono {
  let level = 0;
  const kept = Math.exp(-1 / (releaseSeconds * RATE));
  return sound.map((x, i) => {
    level = Math.max(heard[i] ** 2, kept * level);
    const open = Math.min(1, Math.max(0, (10 * Math.log10(level + 1e-12) + 35) / 30));
    return x * 10 ** ((-fallsDb * open) / 20);
  });
}

const HISS = hiss(SECONDS * RATE, -40, 3);

test.each([
  [8, 0.1],
  [16, 0.3],
  [24, 0.1],
  [24, 0.4],
])('is told where it falls by %d dB and comes back in %d s', (fallsDb, seconds) => {
  expect(blocks([VOICE, under(HISS, VOICE, fallsDb, seconds)])).toBe(true);
});

test('is no programme: the side is called hiss, and nothing is lost by leaving it', async () => {
  for (const seconds of [0.1, 0.2]) {
    const lifted = under(gain(HISS, 4), gain(VOICE, -8), 24, seconds);
    const found = await inspect([gain(VOICE, -8), lifted]);
    expect(found.verdict).toBe('one-sided');
    expect(found.pairs[0].side).toBe('left');
    expect(found.suggestion).toMatchObject({ action: 'fill', from: 1 });
    expect(found.detail).toContain('hiss that an automatic gain lifts in the pauses');
    expect(found.findings.find(({ code }) => code === 'interference')).toMatchObject({
      channels: [2],
      severity: 'note',
    });
  }
});

test.each<[string, [Mono, Mono]]>([
  [
    'a place that swells as it likes',
    [VOICE, HISS.map((x, i) => x * (1.2 + Math.sin((2 * Math.PI * i) / (5.3 * RATE))))],
  ],
  ['a place that swells with the voice', [VOICE, HISS.map((x, i) => x * (0.1 + Math.min(1, Math.abs(VOICE[i]) * 10)))]],
  ['hiss that stays', [VOICE, HISS]],
  [
    'another voice under that gain',
    [
      VOICE,
      under(
        chatter(0.05, SECONDS, 9).map((x, i, all) => x + 0.9 * (all[i - 1] ?? 0) * ((i >> 14) % 2)),
        VOICE,
        16,
        0.3,
      ),
    ],
  ],
  [
    'somebody whose words are noise, who speaks softly while nobody else does',
    [0, 1].map((turn) =>
      chatter(turn === 0 ? 0.1 : 0.01, SECONDS, 20 + turn).map((x, i) =>
        Math.floor(i / 72000) % 2 === turn ? x : 1e-4 * x,
      ),
    ) as [Mono, Mono],
  ],
  ['silence', [VOICE, silence(SECONDS * RATE)]],
  ['hiss beside silence', [silence(SECONDS * RATE), HISS]],
])('is not %s', (_, sides) => {
  expect(blocks(sides)).toBe(false);
});

test('music that makes room for a voice is programme', async () => {
  const pad = Float64Array.from({ length: SECONDS * RATE }, (_, i) =>
    [220, 277, 330, 440].reduce((sum, hz) => sum + 0.03 * Math.sin((2 * Math.PI * hz * i) / RATE), 0),
  );
  const found = await inspect([VOICE, mix(under(pad, VOICE, 12, 0.4), hiss(pad.length, -80, 4))]);
  expect(found.channels[1].content).toBe('programme');
  expect(['fill', 'select']).not.toContain(found.suggestion.action);
});

test('is not told by a few seconds, in which chance may do as much', () => {
  const cut = ([a, b]: [Mono, Mono]): [Mono, Mono] => [a.subarray(0, 3 * RATE), b.subarray(0, 3 * RATE)];
  expect(blocks(cut([VOICE, under(HISS, VOICE, 16, 0.3)]))).toBe(false);
});
