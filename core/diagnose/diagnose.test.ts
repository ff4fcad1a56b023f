import { repairFromSuggestion } from '../repair/plan/fromSuggestion.ts';
import { Router } from '../repair/run/router.ts';
import type { Inspection } from '../schema/inspection.ts';
import { amplitudeFromDb } from '../signal/decibels.ts';
import { seededRandom } from '../signal/random.ts';
import { inspect } from '../test/inspecting.ts';
import { delayed, filtered, lowPassed, shelf } from '../synth/filters.ts';
import { mix, scale } from '../synth/mono.ts';
import { chatter, noise } from '../synth/noise.ts';
import { sine } from '../synth/tones.ts';

const SECONDS = 4;
const voice = lowPassed(mix(chatter(0.08, SECONDS, 1), noise(amplitudeFromDb(-68), SECONDS, 2)));
const hiss = (db: number, seed = 3): Float64Array => noise(amplitudeFromDb(db), SECONDS, seed);
const nothing = new Float64Array(SECONDS * 48000);
const codes = (found: Inspection): string[] => found.findings.map(({ code }) => code);

test.each([
  ['silence', nothing],
  ['hiss at -62 dBFS', hiss(-62)],
  ['loud hiss at -50 dBFS', hiss(-50)],
  ['mains hum with hiss', mix(sine(50, 0.01, SECONDS), hiss(-66))],
  ['an offset of the converter with hiss', hiss(-60).map((x) => x + 0.01)],
  ['bleed 34 dB down under hiss', mix(scale(voice, amplitudeFromDb(-34)), hiss(-70))],
])('a voice on one side with %s on the other is one-sided', async (_what, dead) => {
  for (const side of ['left', 'right'] as const) {
    const found = await inspect(side === 'left' ? [voice, dead] : [dead, voice]);
    expect(found).toMatchObject({
      verdict: 'one-sided',
      sections: [{ side }],
      suggestion: { action: 'fill', from: side === 'left' ? 1 : 2 },
    });
    expect(found.headline).toBe(`Only the ${side} side carries speech.`);
    expect(found.cause).toContain(`input ${side === 'left' ? 1 : 2} of a two-input recorder set to stereo`);
    expect(found.findings[0]).toMatchObject({
      code: 'one-sided',
      severity: 'fix',
      channels: [side === 'left' ? 2 : 1],
    });
  }
});

test('knocks and a plug that is pulled leave a dead side dead; a person listens, as it may have been a word', async () => {
  const [said, seconds] = [mix(chatter(0.08, 20, 1), noise(0.0003, 20, 2)), 20];
  const knocked = (at: number[], level: number, decay: number): Float64Array => {
    const side = noise(0.0003, seconds, 9);
    for (const start of at)
      for (let i = 0; i < 9600; i++) side[start * 48000 + i] += level * Math.exp(-i / decay) * Math.sin(i / 30);
    return side;
  };
  for (const dead of [knocked([8], 0.9, 4000), knocked([3, 9, 15], 0.5, 800)]) {
    const found = await inspect([said, dead]);
    expect(found).toMatchObject({
      verdict: 'one-sided',
      sections: [{ side: 'left' }],
      suggestion: { action: 'review' },
      headline: 'Probably only the left side carries speech.',
      detail: 'The right side has something faint or short: listen to it before you leave it out.',
    });
  }
  const click = noise(0.0003, seconds, 9);
  click.fill(0.9, 400000, 400200);
  expect(await inspect([said, click])).toMatchObject({
    verdict: 'one-sided',
    suggestion: { action: 'fill', from: 1 },
    detail: 'The right side is hiss at −71 dBFS.',
  });
  const alone = new Float64Array(seconds * 48000);
  alone.fill(0.9, 400000, 400200);
  expect((await inspect([said, alone])).detail).toBe('The right side is silent but for a moment.');
  expect((await inspect([alone, noise(0, seconds, 1)])).detail).toBe(
    'There is no sound in this clip but for a moment.',
  );
  expect((await inspect([click, click])).detail).toBe('There is only the recorder’s own noise, at −71 dBFS.');
  // Three seconds of somebody else are more than that.
  const answer = noise(0.0003, seconds, 9);
  answer.set(mix(chatter(0.06, 3, 7), noise(0.0003, 3, 8)), 10 * 48000);
  expect((await inspect([said, answer])).verdict).not.toBe('one-sided');
});

test('hum on a dead side is called hum, with its frequency', async () => {
  const found = await inspect([voice, mix(sine(60, 0.004, SECONDS), hiss(-80))]);
  expect(found.detail).toBe('The right side is mains hum (60 Hz) at −51 dBFS.');
  expect(found.channels[1]).toMatchObject({ mainsHz: 60, humDbfs: expect.closeTo(-51, 0) });
});

test('the same on both sides is dual mono, also with a little independent noise', async () => {
  expect(await inspect([voice, voice])).toMatchObject({
    verdict: 'dual-mono',
    suggestion: { action: 'select', from: 1 },
    pairs: [{ nullDepthDb: null }],
  });
  expect((await inspect([mix(voice, hiss(-66, 4)), mix(voice, hiss(-66, 5))])).verdict).toBe('dual-mono');
});

test('a side signal 30 dB down is still stereo', async () => {
  const side = scale(chatter(0.08, SECONDS, 9), amplitudeFromDb(-30));
  expect(await inspect([mix(voice, side), mix(voice, scale(side, -1))])).toMatchObject({
    verdict: 'stereo',
    suggestion: { action: 'none' },
  });
});

const echoed = voice.map((x, i) => x + 0.8 * (voice[i - 90] ?? 0));
test.each<[string, Float64Array, string[], string]>([
  ['6 dB quieter', scale(voice, 0.5), ['level'], 'balance'],
  ['upside down', scale(voice, -1), ['polarity'], 'invert'],
  ['7.25 samples late', delayed(voice, 7.25), ['delay'], 'align'],
  ['20 ms late and quieter', scale(delayed(voice, 960), 0.4), ['level', 'delay'], 'align'],
  ['upside down and quieter', scale(voice, -0.4), ['level', 'polarity'], 'invert'],
  ['combed', echoed, ['filter'], 'select'],
])(
  'one voice %s on the other side is fake stereo, and the suggested repair mends it',
  async (_what, other, disguise, action) => {
    for (const swapped of [false, true]) {
      const sides = swapped ? [other, voice] : [voice, other];
      const found = await inspect(sides);
      expect(found).toMatchObject({ verdict: 'fake-stereo', pairs: [{ disguise }], suggestion: { action } });
      expect(codes(found)).toContain('fake-stereo');
      if (action === 'select') continue;
      const output = [nothing.slice(), nothing.slice()];
      new Router(repairFromSuggestion(found)!).process(0, sides, output, nothing.length);
      expect((await inspect(output.map((side) => side.subarray(4800)))).verdict).toBe('dual-mono');
    }
  },
);

test('two talkers in turn, each earlier and louder on their own microphone, are two microphones and never filled or summed', async () => {
  const turns = chatter(0.08, 12, 1).map((x, i) => (Math.floor(i / 72000) % 2 === 0 ? x : 0));
  const others = chatter(0.08, 12, 2).map((x, i) => (Math.floor(i / 72000) % 2 === 1 ? x : 0));
  const found = await inspect([
    mix(turns, scale(delayed(others, 180), 0.15), noise(0.0003, 12, 6)),
    mix(others, scale(delayed(turns, 200), 0.15), noise(0.0003, 12, 7)),
  ]);
  expect(found).toMatchObject({
    verdict: 'two-mics',
    suggestion: { action: 'split' },
    headline: 'Two microphones, one on each side.',
    pairs: [{ talkers: 2 }],
  });
});

test('nor are people of whom each comes to the other microphone at a time of their own a copy that sways', async () => {
  const turn = (who: number, seed: number): Float64Array =>
    chatter(0.08, 12, seed).map((x, i) => (Math.floor(i / 60000) % 3 === who ? x : 0));
  const [one, two, three] = [turn(0, 1), turn(1, 2), turn(2, 3)];
  const { verdict, suggestion } = await inspect([
    mix(one, two, scale(delayed(three, 180), 0.15), noise(0.0003, 12, 6)),
    mix(three, scale(delayed(one, 200), 0.15), scale(delayed(two, 290), 0.15), noise(0.0003, 12, 7)),
  ]);
  expect([verdict, suggestion.action]).toEqual(['two-mics', 'split']);
});

test('two people on gated microphones, each alone on a side in turn, are two microphones too', async () => {
  const at = (turn: number, seed: number): Float64Array =>
    chatter(0.08, 12, seed).map((x, i) => (Math.floor(i / 72000) % 2 === turn ? x : 0));
  expect(await inspect([at(0, 1), at(1, 2)])).toMatchObject({ verdict: 'two-mics', suggestion: { action: 'split' } });
});

test('a clip whose right side drops out in the middle changes, with boundaries to 0.2 s, and nothing is thrown away', async () => {
  const sound = chatter(0.08, 12, 1);
  const found = await inspect([
    mix(sound, noise(0.0003, 12, 2)),
    mix(
      sound.map((x, i) => (i > 5 * 48000 && i < 7.2 * 48000 ? 0 : x)),
      noise(0.0003, 12, 3),
    ),
  ]);
  expect(found.sections.map(({ verdict, side }) => [verdict, side])).toEqual([
    ['dual-mono', null],
    ['one-sided', 'left'],
    ['dual-mono', null],
  ]);
  expect(Math.abs(found.sections[1].startSeconds - 5)).toBeLessThanOrEqual(0.2);
  expect(Math.abs(found.sections[1].endSeconds - 7.2)).toBeLessThanOrEqual(0.2);
  expect(found).toMatchObject({ verdict: 'changing', suggestion: { action: 'fill', from: 1, to: [2] } });
  expect(codes(found)).toContain('dropout');
  // Of the same moments as the findings tell, and in the same words.
  expect(found.detail).toBe(
    'The same on both sides at first, from 00:05.0 left side only, from 00:07.2 the same on both sides.',
  );
});

test('a side that is lost for two seconds is found in true stereo, in a disguise and in dual mono, whatever is there instead', async () => {
  const [a, b] = [chatter(0.08, 14, 41), chatter(0.08, 14, 42)];
  const noises = [noise(0.0002, 14, 43), noise(0.0002, 14, 44)];
  const wholes: [string, Float64Array[]][] = [
    ['stereo', [mix(a, scale(b, 0.4), noises[0]), mix(scale(delayed(a, 12), 0.5), b, noises[1])]],
    ['fake-stereo', [mix(a, noises[0]), delayed(mix(a, noises[0]), 130)]],
    ['dual-mono', [mix(a, noises[0]), mix(a, noises[0])]],
  ];
  for (const [verdict, sides] of wholes) {
    for (const [lost, instead] of [
      [0, new Float64Array(sides[0].length)],
      [1, noise(0.001, 14, 45)],
    ] as const) {
      const [from, to] = [6.3 * 48000, 8.5 * 48000];
      const found = await inspect(
        sides.map((side, s) => (s === lost ? side.map((x, i) => (i >= from && i < to ? instead[i] : x)) : side)),
      );
      expect(found.sections.map((section) => [section.verdict, section.side])).toEqual([
        [verdict, null],
        ['one-sided', lost === 0 ? 'right' : 'left'],
        [verdict, null],
      ]);
      expect(Math.abs(found.sections[1].startSeconds - 6.3)).toBeLessThanOrEqual(0.15);
      expect(Math.abs(found.sections[1].endSeconds - 8.5)).toBeLessThanOrEqual(0.15);
    }
  }
});

test('a long turn that leaves the other microphone with faint bleed is no change', async () => {
  // Three seconds of both, six of the first, three of both.
  const first = chatter(0.08, 12, 51);
  const second = chatter(0.08, 12, 52).map((x, i) => (i < 3 * 48000 || i > 9 * 48000 ? x : 0));
  const found = await inspect([
    mix(first, scale(delayed(second, 150), 0.05), noise(0.0005, 12, 53)),
    mix(second, scale(delayed(first, 150), 0.05), noise(0.0005, 12, 54)),
  ]);
  expect(found).toMatchObject({ verdict: 'two-mics', suggestion: { action: 'split' } });
});

test('true stereo that gives way to a disguised mono signal changes there, which only the second look can show', async () => {
  const [a, b] = [chatter(0.08, 12, 21), chatter(0.08, 12, 22)];
  const at = 6.3 * 48000;
  const found = await inspect([
    a.map((x, i) => (i < at ? x + 0.25 * b[i] : x)),
    a.map((x, i) => (i < at ? 0.25 * x + b[i] : (a[i - 9] ?? 0))),
  ]);
  expect(found.sections.map(({ verdict }) => verdict)).toEqual(['stereo', 'fake-stereo']);
  expect(Math.abs(found.sections[0].endSeconds - 6.3)).toBeLessThanOrEqual(0.2);
  expect(found.suggestion.action).toBe('review');
});

test('steady ambience a little quieter on one side is not thrown away, though the other alone would count as noise', async () => {
  const found = await inspect([noise(0.02, SECONDS, 31), noise(0.009, SECONDS, 32)]);
  expect(found.verdict).not.toBe('one-sided');
  expect(['none', 'review']).toContain(found.suggestion.action);
});

test('hiss alone is silent, and says what noise there is; a quiet tone is a programme', async () => {
  expect(await inspect([hiss(-64), hiss(-65, 8)])).toMatchObject({
    verdict: 'silent',
    headline: 'Nothing was recorded.',
    suggestion: { action: 'review' },
  });
  expect(await inspect([nothing, nothing])).toMatchObject({
    verdict: 'silent',
    detail: 'There is no sound in this clip.',
  });
  expect((await inspect([sine(1000, 0.002, SECONDS), hiss(-75)])).verdict).toBe('one-sided');
});

test('short, odd and strange clips get an answer', async () => {
  expect((await inspect([new Float64Array(1), new Float64Array(1)])).verdict).toBe('silent');
  expect((await inspect([voice.subarray(0, 24000), nothing.subarray(0, 24000)])).verdict).toBe('one-sided');
  expect((await inspect([voice.subarray(0, 24000), scale(voice, -0.5).subarray(0, 24000)])).verdict).toBe(
    'fake-stereo',
  );
  for (const rate of [8000, 192000]) {
    const sound = chatter(0.1, 2, 1, rate);
    expect((await inspect([sound], rate)).verdict).toBe('mono');
    expect((await inspect([sound, scale(sound, 0.3)], rate)).verdict).toBe('fake-stereo');
  }
  const impulse = new Float64Array(48000);
  impulse[100] = 1;
  expect(await inspect([impulse, impulse.map(() => 0)])).toMatchObject({
    verdict: 'silent',
    suggestion: { action: 'review' },
  });
});

test('on many channels: copies are grouped, empty ones named, and the closest voice found', async () => {
  const far = mix(
    scale(delayed(voice, 200), 0.3),
    scale(delayed(voice, 1900), 0.12),
    scale(delayed(voice, 3800), 0.08),
    hiss(-55, 12),
  );
  const found = await inspect([far, voice, nothing, hiss(-70), scale(voice, 0.5)]);
  expect(found).toMatchObject({
    verdict: 'multichannel',
    duplicates: [[2, 5]],
    clearestChannel: 2,
    headline: 'Only channels 1 and 2 carry sound of their own.',
    detail: 'Channel 5 is a copy of channel 2. Nothing on channels 3 and 4. The voice is clearest on channel 2.',
  });
  expect(found.suggestion).toMatchObject({ action: 'split', to: [1, 2] });
  expect(found.findings.filter(({ code }) => code === 'silent-channel').map(({ channels }) => channels)).toEqual([
    [3],
    [4],
  ]);
  expect(codes(found)).toContain('duplicate-channels');
});

test('of microphones at 0.3 to 4 m in one room, all turned up alike, the nearest is the closest, wherever it is plugged in', async () => {
  const next = seededRandom(50);
  const microphone = (metres: number): Float64Array => {
    const paths = Array.from({ length: 20 }, () => ({
      seconds: 0.005 + 0.15 * next(),
      gain: 0.14 * Math.sign(next() - 0.5),
    }));
    const heard = [
      { seconds: metres / 343, gain: 1 / metres },
      ...paths.map(({ seconds, gain }) => ({ seconds, gain: gain * Math.exp(-seconds / 0.06) })),
    ].map(({ seconds, gain }) => {
      const late = Math.round(48000 * seconds);
      return voice.map((_, i) => (i < late ? 0 : gain * voice[i - late]));
    });
    const sound = mix(...heard, hiss(-66, Math.round(100 * metres)));
    const rms = Math.sqrt(sound.reduce((sum, x) => sum + x * x, 0) / sound.length);
    return scale(sound, 0.04 / rms);
  };
  for (const distances of [
    [0.3, 1, 2, 4],
    [2, 4, 1, 0.3],
    [4, 0.7, 1.4],
  ]) {
    const found = await inspect(distances.map(microphone));
    expect(found.clearestChannel).toBe(1 + distances.indexOf(Math.min(...distances)));
  }
});

test('on many channels pairs are neighbours, and those that the sound shows besides', async () => {
  const other = lowPassed(chatter(0.07, SECONDS, 41));
  const room = noise(0.03, SECONDS, 42);
  const [left, right] = [mix(room, noise(0.012, SECONDS, 43)), mix(delayed(room, 3.4), noise(0.012, SECONDS, 44))];
  const pairsOf = async (...channels: Float64Array[]) =>
    (await inspect(channels)).pairs.map(({ channels: pair }) => pair);
  expect(await pairsOf(left, right, voice, other)).toEqual([
    [1, 2],
    [3, 4],
  ]);
  expect(await pairsOf(voice, left, right, other)).toEqual([
    [1, 2],
    [3, 4],
    [2, 3],
  ]);
  expect(await pairsOf(left, voice, right, nothing, other)).toEqual([
    [1, 2],
    [3, 4],
    [1, 3],
  ]);
  // A copy at a lower level, for safety, is no other half.
  expect(await pairsOf(voice, other, scale(voice, 0.3), scale(other, 0.3))).toEqual([
    [1, 2],
    [3, 4],
  ]);
});

test('clipping, heat, quiet and offset are noticed', async () => {
  const hot = chatter(0.5, SECONDS, 1).map((x) => Math.max(-1, Math.min(1, x * 3)));
  expect(codes(await inspect([hot, hot]))).toEqual(expect.arrayContaining(['clipped', 'hot', 'dual-mono']));
  expect(codes(await inspect([scale(voice, 0.01)]))).toContain('low');
  expect(codes(await inspect([voice.map((x) => x + 0.02)]))).toContain('dc-offset');
});

test('two voices that nobody else hears are two microphones, whether they take turns or talk at once, and no arrival is claimed', async () => {
  const own = (seed: number): Float64Array => mix(chatter(0.1, 12, seed), noise(amplitudeFromDb(-70), 12, seed + 50));
  const atOnce = await inspect([own(21), own(22)]);
  expect(atOnce).toMatchObject({
    verdict: 'two-mics',
    pairs: [{ commonArrival: false, delaySamples: 0, gainDb: 0, polarity: 'normal' }],
    suggestion: { action: 'split' },
  });
  expect(atOnce.detail).not.toMatch(/ms later/);
});

test('a silent mono clip is no clip to leave as it is, and six channels say of which two they speak', async () => {
  expect(await inspect([hiss(-70)])).toMatchObject({
    verdict: 'mono',
    headline: 'Nothing was recorded.',
    suggestion: { action: 'review' },
    findings: [{ code: 'silent', severity: 'look', channels: [1] }],
  });
  const voice = chatter(0.1, 4, 31);
  const six = await inspect([voice, hiss(-70, 1), hiss(-70, 2), chatter(0.1, 4, 32), hiss(-70, 3), hiss(-70, 4)]);
  const sentences = six.findings.filter(({ code }) => code === 'one-sided').map(({ message }) => message);
  expect(sentences).toEqual([
    expect.stringMatching(/^Of channels 1 and 2 only channel 1 carries a programme\./),
    expect.stringMatching(/^Of channels 3 and 4 only channel 4 carries a programme\./),
  ]);
  expect(six).toMatchObject({
    headline: 'Only channels 1 and 4 carry sound of their own.',
    detail: expect.stringContaining('Nothing on channels 2, 3, 5 and 6.'),
    suggestion: { action: 'split', to: [1, 4] },
  });
});

test('a filter that leaves the sides nearly the same and something over may be what a narrow mix has on its sides: a person looks', async () => {
  const sound = chatter(0.08, 10, 71);
  const other = filtered(sound, shelf(1.5, 1500));
  // As loud as before, and a little of something else.
  const sides = (besidesDb: number) => [
    mix(sound, noise(0.00005, 10, 72)),
    mix(
      scale(other, amplitudeFromDb(-1)),
      scale(chatter(0.08, 10, 74), amplitudeFromDb(besidesDb)),
      noise(0.00005, 10, 73),
    ),
  ];
  const narrow = await inspect(sides(-50));
  expect(narrow.pairs[0].nullDepthDb).toBeLessThan(-24);
  expect(narrow).toMatchObject({ verdict: 'fake-stereo', suggestion: { action: 'review' } });
  expect(await inspect(sides(-Infinity))).toMatchObject({ verdict: 'fake-stereo', suggestion: { action: 'select' } });
});
