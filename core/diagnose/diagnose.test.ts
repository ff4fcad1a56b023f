import { ClipMeter } from '../measure/clipMeter.ts';
import { Inspection, type ClipFormat } from '../schema/inspection.ts';
import { amplitudeFromDb } from '../signal/decibels.ts';
import { add, chatter, noise, scale, sine } from '../test/signals.ts';
import { diagnose } from './diagnose.ts';

function inspect(channels: Float64Array[], sampleRate = 48000): Inspection {
  const frames = channels[0].length;
  const meter = new ClipMeter(sampleRate, channels.length, 1 - 2 ** -23);
  meter.push(channels, frames);
  const format: ClipFormat = {
    container: 'wav', codec: 'pcm_s24le', sampleRate, channels: channels.length, bitDepth: 24, frames,
    durationSeconds: frames / sampleRate, hasVideo: false, warning: null,
  };
  return Inspection.parse(diagnose(meter.finish(), format));
}

const SECONDS = 4;
const voice = add(chatter(0.08, SECONDS, 1), noise(amplitudeFromDb(-68), SECONDS, 2));
const hiss = (db: number, seed = 3): Float64Array => noise(amplitudeFromDb(db), SECONDS, seed);
const nothing = new Float64Array(SECONDS * 48000);

test.each([
  ['silence', nothing],
  ['hiss at -62 dBFS', hiss(-62)],
  ['loud hiss at -50 dBFS', hiss(-50)],
  ['mains hum with hiss', add(sine(50, 0.01, SECONDS), hiss(-66))],
  ['an offset of the converter with hiss', hiss(-60).map((x) => x + 0.01)],
  ['bleed 34 dB down under hiss', add(scale(voice, amplitudeFromDb(-34)), hiss(-70))],
])('a voice on one side with %s on the other is one-sided', (_what, dead) => {
  for (const side of ['left', 'right'] as const) {
    const found = inspect(side === 'left' ? [voice, dead] : [dead, voice]);
    expect(found).toMatchObject({ verdict: 'one-sided', sections: [{ side }], suggestion: { action: 'fill', from: side === 'left' ? 1 : 2 } });
    expect(found.headline).toBe(`Only the ${side} side carries speech.`);
    expect(found.findings[0]).toMatchObject({ code: 'one-sided', severity: 'fix', channels: [side === 'left' ? 2 : 1] });
  }
});

test('the same on both sides is dual mono, also with a little independent noise', () => {
  expect(inspect([voice, voice])).toMatchObject({ verdict: 'dual-mono', suggestion: { action: 'select', from: 1 }, pairs: [{ nullDepthDb: null }] });
  const found = inspect([add(voice, hiss(-80, 4)), add(voice, hiss(-80, 5))]);
  expect(found.verdict).toBe('dual-mono');
});

test('a side signal 30 dB down is still stereo', () => {
  const side = scale(chatter(0.08, SECONDS, 9), amplitudeFromDb(-30));
  expect(inspect([add(voice, side), add(voice, scale(side, -1))]).verdict).toBe('stereo');
});

test('two talkers in turn are never filled, selected or summed', () => {
  const turns = voice.map((x, i) => (Math.floor(i / 48000) % 2 === 0 ? x : 0));
  const others = voice.map((x, i) => (Math.floor(i / 48000) % 2 === 1 ? x : 0));
  const found = inspect([add(turns, scale(others, 0.1), hiss(-66, 6)), add(others, scale(turns, 0.1), hiss(-66, 7))]);
  expect(found).toMatchObject({ verdict: 'stereo', suggestion: { action: 'review' } });
});

test('hiss alone is silent, and says what noise there is', () => {
  expect(inspect([hiss(-64), hiss(-65, 8)])).toMatchObject({ verdict: 'silent', headline: 'Nothing was recorded.', suggestion: { action: 'review' } });
  expect(inspect([nothing, nothing])).toMatchObject({ verdict: 'silent', detail: 'There is no sound in this clip.' });
});

test('short, odd and strange clips get an answer', () => {
  expect(inspect([new Float64Array(1), new Float64Array(1)]).verdict).toBe('silent');
  expect(inspect([voice.subarray(0, 24000), nothing.subarray(0, 24000)]).verdict).toBe('one-sided');
  expect(inspect([chatter(0.1, 2, 1, 8000)], 8000).verdict).toBe('mono');
  expect(inspect([voice, nothing, voice])).toMatchObject({ verdict: 'multichannel', pairs: [{ verdict: 'one-sided' }] });
  const impulse = new Float64Array(48000);
  impulse[100] = 1;
  expect(inspect([impulse, impulse.map(() => 0)])).toMatchObject({ verdict: 'silent', suggestion: { action: 'review' } });
});

test('clipping, heat, quiet and offset are noticed', () => {
  const hot = chatter(0.5, SECONDS, 1).map((x) => Math.max(-1, Math.min(1, x * 3)));
  const codes = (found: Inspection): string[] => found.findings.map(({ code }) => code);
  expect(codes(inspect([hot, hot]))).toEqual(expect.arrayContaining(['clipped', 'hot', 'dual-mono']));
  expect(codes(inspect([scale(voice, 0.01)]))).toContain('low');
  expect(codes(inspect([voice.map((x) => x + 0.02)]))).toContain('dc-offset');
});
