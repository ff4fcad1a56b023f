import type { ChannelReport, Finding, PairReport, Section } from '../schema/inspection.ts';
import type { PairFacts } from './catalogue/entry.ts';
import { channelReport as channel, STEREO } from '../test/reports.ts';
import { findingsOf } from './findings.ts';

const section = (
  startSeconds: number,
  endSeconds: number,
  verdict: Section['verdict'],
  side: Section['side'] = null,
): Section => ({ startSeconds, endSeconds, verdict, side });

const facts = (reports: ChannelReport[], pair: PairReport, sections: Section[]): PairFacts => ({
  pair,
  reports,
  sections,
  losses: [],
  sampleRate: 48000,
  speech: true,
  clearest: null,
});

function found(reports: ChannelReport[], pair: Partial<PairReport> = {}, sections?: Section[]): Finding[] {
  const report = { ...STEREO, ...pair };
  const own = sections ?? [section(0, 30, report.verdict as Section['verdict'], report.side)];
  return findingsOf({
    durationSeconds: 30,
    reports,
    pairs: reports.length < 2 ? [] : [facts(reports, report, own)],
    duplicates: [],
  });
}
const codes = (...given: Parameters<typeof found>): string[] => found(...given).map(({ code }) => code);

test('each number is a finding from its boundary on, and none before it', () => {
  const one = (rest: Partial<ChannelReport>): string[] => codes([channel(1, rest)]);
  expect([one({ truePeakDbtp: -1 }), one({ truePeakDbtp: -0.99 })]).toEqual([[], ['hot']]);
  expect([one({ loudnessLufs: -40 }), one({ loudnessLufs: -40.01 })]).toEqual([[], ['low']]);
  expect([one({ dcOffset: 0.00499 }), one({ dcOffset: -0.005 })]).toEqual([[], ['dc-offset']]);
  expect([one({ clippedSamples: 0 }), one({ clippedSamples: 3 })]).toEqual([[], ['clipped']]);
  // Noise and silence are not quiet programmes.
  expect(one({ content: 'noise', loudnessLufs: -60 })).toEqual(['silent']);
  const two = [channel(1), channel(2)];
  expect([codes(two, { balanceLu: 0.99 }), codes(two, { balanceLu: -1 })]).toEqual([[], ['unbalanced']]);
  expect([codes(two, { sumLossDb: 2.99 }), codes(two, { sumLossDb: 3 }), codes(two, { sumLossDb: null })]).toEqual([
    [],
    ['mono-loss'],
    ['mono-loss'],
  ]);
});

test('a level that differs is wrong in a disguise, looked at where it is large, and nobody’s business between two microphones', () => {
  const two = [channel(1), channel(2)];
  const severity = (pair: Partial<PairReport>): string | undefined =>
    found(two, pair).find(({ code }) => code === 'unbalanced')?.severity;
  expect(severity({ balanceLu: 2 })).toBe('note');
  expect(severity({ balanceLu: -3.5 })).toBe('look');
  expect(severity({ verdict: 'fake-stereo', disguise: ['level'], balanceLu: 2 })).toBe('fix');
  expect(severity({ verdict: 'two-mics', balanceLu: 9 })).toBeUndefined();
});

test('a disguise is named by its parts: which side is late, by how much, which is upside down', () => {
  const two = [channel(1), channel(2)];
  const disguised = found(two, {
    verdict: 'fake-stereo',
    disguise: ['polarity', 'delay'],
    delaySamples: -480,
    polarity: 'inverted',
  });
  expect(disguised.map(({ code, channels }) => [code, channels])).toEqual([
    ['fake-stereo', [1, 2]],
    ['out-of-polarity', [2]],
    ['late-side', [1]],
  ]);
  expect(disguised[0].message).toBe('Both sides carry one signal, made to look different by polarity and delay.');
  expect(disguised[2].message).toBe('The left side is 10.00 ms late.');
});

test('a side that goes and comes back has dropped out; one that was never there is one-sided', () => {
  const two = [channel(1), channel(2)];
  const dropped = found(two, { verdict: 'changing' }, [
    section(0, 10, 'stereo'),
    section(10, 14, 'one-sided', 'left'),
    section(14, 30, 'stereo'),
  ]);
  expect(dropped).toEqual([
    expect.objectContaining({ code: 'dropout', severity: 'fix', channels: [2], startSeconds: 10, endSeconds: 14 }),
  ]);
  const never = found([channel(1), channel(2, { content: 'noise', noiseFloorDbfs: -62, rmsDbfs: -62 })], {
    verdict: 'one-sided',
    side: 'left',
  });
  expect(never).toEqual([
    expect.objectContaining({ code: 'one-sided', severity: 'fix', channels: [2], startSeconds: 0, endSeconds: 30 }),
  ]);
  expect(never[0].message).toContain('-62'.replace('-', '−'));
});

test('the most pressing comes first, and of many channels it is said which are meant', () => {
  const four = [
    channel(1, { truePeakDbtp: 0 }),
    channel(2),
    channel(3, { content: 'silent', loudnessLufs: null }),
    channel(4),
  ];
  const all = findingsOf({
    durationSeconds: 30,
    reports: four,
    duplicates: [[2, 4]],
    pairs: [
      facts(four, { ...STEREO, verdict: 'two-mics' }, [section(0, 30, 'two-mics')]),
      facts(four, { ...STEREO, channels: [3, 4], verdict: 'one-sided', side: 'right' }, [
        section(0, 30, 'one-sided', 'right'),
      ]),
    ],
  });
  expect(all.map(({ code, severity }) => `${severity} ${code}`)).toEqual([
    'fix two-mics',
    'fix one-sided',
    'note hot',
    'note silent-channel',
    'note duplicate-channels',
  ]);
  expect(all[0]).toMatchObject({ code: 'two-mics', severity: 'fix' });
  expect(all[0].message).toMatch(/^Channels 1 and 2: two microphones/);
  expect(all.find(({ code }) => code === 'duplicate-channels')!.message).toBe(
    'Channels 2 and 4 carry the same signal.',
  );
  expect(all.find(({ code }) => code === 'silent-channel')).toMatchObject({ channels: [3], severity: 'note' });
});
