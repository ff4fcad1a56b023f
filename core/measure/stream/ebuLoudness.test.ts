import { amplitudeFromDb, dbFromAmplitude } from '../../signal/decibels.ts';
import { measure } from '../../test/inspecting.ts';

// The test signals of EBU Tech 3341 and 3342, made from their text. A stereo 1 kHz sine with a peak of x dBFS a side is x LUFS.
const RATE = 48000;
const SECOND = new Float64Array(RATE).map((_, i) => Math.sin((2 * Math.PI * 1000 * i) / RATE));

/** Parts of [level in dBFS, seconds], on both sides. */
function tones(...parts: [number, number][]): [Float64Array, Float64Array] {
  const out = new Float64Array(Math.round(parts.reduce((sum, [, seconds]) => sum + seconds, 0) * RATE));
  let at = 0;
  for (const [levelDb, seconds] of parts) {
    const end = at + Math.round(seconds * RATE);
    const gain = amplitudeFromDb(levelDb);
    for (let i = at; i < end; i++) out[i] = gain * SECOND[i % RATE];
    at = end;
  }
  return [out, out];
}

/** One side counts as mono: 3.01 LU below the pair. */
const PAIR_LU = 10 * Math.log10(2);

test.each<[number, [number, number][], number]>([
  [1, [[-23, 20]], -23],
  [2, [[-33, 20]], -33],
  [
    3,
    [
      [-36, 10],
      [-23, 60],
      [-36, 10],
    ],
    -23,
  ],
  [
    4,
    [
      [-72, 10],
      [-36, 10],
      [-23, 60],
      [-36, 10],
      [-72, 10],
    ],
    -23,
  ],
  [
    5,
    [
      [-26, 20],
      [-20, 20.1],
      [-26, 20],
    ],
    -23,
  ],
])('Tech 3341 case %d: integrated loudness within 0.1 LU', (_case, parts, wanted) => {
  expect(Math.abs(measure(tones(...parts)).pairs[0].loudnessLufs - wanted)).toBeLessThan(0.1);
});

test('Tech 3341 cases 9 and 12: short-term and momentary loudness of alternating tones stay at -23', () => {
  const slow = measure(
    tones(
      ...Array.from({ length: 5 }, (): [number, number][] => [
        [-20, 1.34],
        [-30, 1.66],
      ]).flat(),
    ),
  );
  expect(Math.abs(slow.channels[0].shortTermMaxLufs + PAIR_LU + 23)).toBeLessThan(0.1);
  const fast = measure(
    tones(
      ...Array.from({ length: 25 }, (): [number, number][] => [
        [-20, 0.18],
        [-30, 0.22],
      ]).flat(),
    ),
  );
  expect(Math.abs(fast.channels[0].momentaryMaxLufs + PAIR_LU + 23)).toBeLessThan(0.1);
});

test('Tech 3341 cases 10 and 13: the maxima of single bursts read -23', () => {
  const short = measure(tones([-100, 1], [-23, 3], [-100, 1]));
  expect(Math.abs(short.channels[0].shortTermMaxLufs + PAIR_LU + 23)).toBeLessThan(0.1);
  const momentary = measure(tones([-100, 1], [-23, 0.4], [-100, 1]));
  expect(Math.abs(momentary.channels[0].momentaryMaxLufs + PAIR_LU + 23)).toBeLessThan(0.1);
});

// Cases 15 to 19: sines at a quarter of the rate and at other rates, whose samples miss their crests; tolerance +0.2 / -0.4 dB.
test.each<[number, number, number, number, number]>([
  [15, 4, 0, 0.5, -6],
  [16, 4, 45, 0.5, -6],
  [17, 6, 60, 0.5, -6],
  [18, 8, 67.5, 0.5, -6],
  [19, 4, 45, 1.41, 3],
])(
  'Tech 3341 case %d: true peak of a sine with a period of %d samples at %d degrees',
  (_case, period, degrees, amplitude, wanted) => {
    const samples = Float64Array.from(
      { length: RATE / 10 },
      (_, i) =>
        amplitude *
        Math.sin((2 * Math.PI * i) / period + (degrees * Math.PI) / 180) *
        Math.min(1, i / 480, (RATE / 10 - 1 - i) / 480),
    );
    const found = dbFromAmplitude(measure([samples]).channels[0].truePeak);
    expect(found).toBeGreaterThan(wanted - 0.4);
    expect(found).toBeLessThan(wanted + 0.2);
  },
);

test.each<[number, [number, number][], number]>([
  [
    1,
    [
      [-20, 20],
      [-30, 20],
    ],
    10,
  ],
  [
    2,
    [
      [-20, 20],
      [-15, 20],
    ],
    5,
  ],
  [
    3,
    [
      [-40, 20],
      [-20, 20],
    ],
    20,
  ],
  [
    4,
    [
      [-50, 20],
      [-35, 20],
      [-20, 20],
      [-35, 20],
      [-50, 20],
    ],
    15,
  ],
])('Tech 3342 case %d: loudness range within 1 LU', (_case, parts, wanted) => {
  expect(Math.abs(measure(tones(...parts)).channels[0].loudnessRangeLu - wanted)).toBeLessThan(1);
});
