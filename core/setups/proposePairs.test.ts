import { sideMark } from './namePattern.ts';
import { proposePairs, type PairClip } from './proposePairs.ts';

const wave = (phase: number): (number | null)[] =>
  Array.from({ length: 96 }, (_, i) => Math.round(-30 + 20 * Math.sin(i / 5 + phase)));
const mono = (fileName: string, rest: Partial<PairClip> & { peaks?: (number | null)[] } = {}): PairClip => ({
  id: fileName,
  fileName,
  folder: '',
  channels: 1,
  sampleRate: 48000,
  frames: 480_000,
  startSamples: null,
  sketch: [{ channel: 1, peaksDbfs: rest.peaks ?? wave(0) }],
  ...rest,
});
const found = (...clips: PairClip[]): string[] =>
  proposePairs(clips).map(({ leftId, rightId }) => `${leftId}+${rightId}`);

test('marks of sides are told from the rest of the name', () => {
  expect(sideMark('walk_L.wav')).toEqual({ rest: 'walk', side: 'left', weak: false });
  expect(sideMark('Walk right.wav')).toEqual({ rest: 'walk', side: 'right', weak: false });
  expect(sideMark('walkR.wav')).toEqual({ rest: 'walk', side: 'right', weak: false });
  expect(sideMark('take-2.wav')).toEqual({ rest: 'take', side: 'right', weak: true });
  expect(['hall.wav', 'bar.wav', 'A12.wav', 'L.wav'].map(sideMark)).toEqual([null, null, null, null]);
});

test('left and right of one recording are found; different takes, lengths, folders or sounds are not', () => {
  expect(found(mono('walk_L.wav'), mono('walk_R.wav', { frames: 480_017 }))).toEqual(['walk_L.wav+walk_R.wav']);
  expect(found(mono('walk_L.wav'), mono('walk_R.wav', { peaks: wave(1.6) }))).toEqual([]);
  expect(found(mono('walk_L.wav'), mono('walk_R.wav', { frames: 600_000 }))).toEqual([]);
  expect(
    found(mono('walk_L.wav', { startSamples: 9 }), mono('walk_R.wav', { frames: 600_000, startSamples: 9 })),
  ).toHaveLength(1);
  expect(found(mono('walk_L.wav', { folder: 'a' }), mono('walk_R.wav', { folder: 'b' }))).toEqual([]);
  expect(found(mono('walk_L.wav'), mono('walk_R.wav', { channels: 2 }))).toEqual([]);
});

test('numbers are weak marks: takes 1 and 2 of the same length must sound alike as well', () => {
  expect(found(mono('take-1.wav'), mono('take-2.wav'))).toHaveLength(1);
  expect(found(mono('take-1.wav'), mono('take-2.wav', { peaks: wave(0.9) }))).toEqual([]);
  expect(found(mono('take-1.wav'), mono('take-2.wav', { frames: 490_000 }))).toEqual([]);
});
