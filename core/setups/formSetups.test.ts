import fc from 'fast-check';
import { describeSetups } from './describeSetup.ts';
import { formSetups, type FormedSetup, type KnownSetup } from './formSetups.ts';
import { proposeIntake } from './proposeIntake.ts';
import type { SetupClip } from './setupClip.ts';

const clip = (fileName: string, rest: Partial<SetupClip> = {}): SetupClip => ({
  id: fileName, fileName, folder: '', recorder: null, trackNames: [], recordedAt: null, channels: 2, layout: 'stereo', sampleRate: 48000, bitDepth: 24, codec: 'pcm_s24le',
  hasVideo: false, verdict: 'stereo', side: null, noiseFloorsDbfs: [-60, -60], ...rest,
});
const ONE_SIDED: Partial<SetupClip> = { verdict: 'one-sided', side: 'left', noiseFloorsDbfs: [-66, -62] };
const named = (setups: FormedSetup[]): string[][] => setups.map(({ clips }) => clips.map(({ fileName }) => fileName)).sort((a, b) => (a[0] < b[0] ? -1 : 1));

const SHOOT = [
  clip('crossing-A001.wav', { ...ONE_SIDED, recorder: 'B', trackNames: ['keeper', null] }),
  clip('crossing-A002.wav', { ...ONE_SIDED, recorder: 'B', trackNames: ['keeper', null], noiseFloorsDbfs: [-66, null] }),
  clip('crossing-A010.wav', { ...ONE_SIDED, recorder: 'B', verdict: 'two-mics', side: null }),
  clip('crossing-A003.mp4', { ...ONE_SIDED, codec: 'aac', bitDepth: null, hasVideo: true }),
  clip('booth-1.wav', { recorder: 'C', verdict: 'dual-mono', noiseFloorsDbfs: [-72, -72] }),
  clip('river.wav', { verdict: 'stereo', noiseFloorsDbfs: [-31, -30] }),
  clip('camera-4.wav', { channels: 4, verdict: 'multichannel', noiseFloorsDbfs: [-60, -60, -60, -60] }),
];

test('recorder, series and sound put clips together, and the odd take stays with its setup', () => {
  expect(named(formSetups(SHOOT, []))).toEqual([
    ['booth-1.wav'], ['camera-4.wav'], ['crossing-A001.wav', 'crossing-A002.wav', 'crossing-A003.mp4', 'crossing-A010.wav'], ['river.wav'],
  ]);
});

test('sound alone puts files of unlike names together only where the dead side and its noise agree', () => {
  const voices = ['anna.wav', 'visit.wav'].map((name) => clip(name, ONE_SIDED));
  expect(named(formSetups([...voices, clip('dock.wav', { ...ONE_SIDED, side: 'right' }), clip('hall.wav', { ...ONE_SIDED, noiseFloorsDbfs: [-66, -40] })], [])))
    .toEqual([['anna.wav', 'visit.wav'], ['dock.wav'], ['hall.wav']]);
});

test('the same clips form the same setups in whatever order they came', () => {
  fc.assert(fc.property(fc.shuffledSubarray(SHOOT, { minLength: SHOOT.length }), (shuffled) => {
    expect(named(formSetups(shuffled, []))).toEqual(named(formSetups(SHOOT, [])));
  }));
});

test('what a person split, moved or named is kept, and newcomers are held against it', () => {
  const known: KnownSetup[] = [
    { id: 'deck', fixed: ['crossing-A001.wav'], members: ['crossing-A001.wav', 'crossing-A002.wav'], kept: true },
    { id: 'odd', fixed: ['crossing-A010.wav'], members: ['crossing-A010.wav'], kept: true },
    { id: 'empty', fixed: [], members: [], kept: true },
    { id: 'forgotten', fixed: [], members: ['gone.wav'], kept: false },
  ];
  const formed = formSetups([...SHOOT, clip('crossing-A011.wav', { ...ONE_SIDED, recorder: 'B', trackNames: ['keeper', null] })], known);
  const members = (id: string): string[] | undefined => formed.find((setup) => setup.id === id)?.clips.map(({ fileName }) => fileName);
  expect(members('deck')).toEqual(['crossing-A001.wav', 'crossing-A002.wav', 'crossing-A003.mp4', 'crossing-A011.wav']);
  expect(members('odd')).toEqual(['crossing-A010.wav']);
  expect(members('empty')).toEqual([]);
  expect(members('forgotten')).toBeUndefined();
});

test('a setup that is formed again keeps its identity', () => {
  const known: KnownSetup[] = [{ id: 'x', fixed: [], members: ['booth-1.wav'], kept: false }, { id: 'y', fixed: [], members: ['crossing-A001.wav', 'crossing-A002.wav'], kept: false }];
  const formed = formSetups(SHOOT, known);
  expect(formed.find(({ clips }) => clips.some(({ fileName }) => fileName === 'booth-1.wav'))!.id).toBe('x');
  expect(formed.find(({ clips }) => clips.some(({ fileName }) => fileName === 'crossing-A002.wav'))!.id).toBe('y');
});

test('the explanation names what they share, and counts what most but not all do', () => {
  const [deck] = describeSetups([SHOOT.slice(0, 4)], []);
  expect(deck).toMatchObject({
    name: 'B, crossing-A', verdict: 'one-sided', side: 'left', differing: 1, roles: ['keeper', null],
    explanation: 'recorder B in 3 of 4, names crossing-A001 to crossing-A010, right side empty in 3 of 4, 48 kHz',
  });
  expect(describeSetups([[SHOOT[5]], [SHOOT[5]]], ['river']).map(({ name }) => name)).toEqual(['river 2', 'river 3']);
});

test('true stereo stays a pair, voices of their own become monos, a named layout stays together', () => {
  const like = (verdict: SetupClip['verdict'], channels = 2, layout: string | null = null) => ({ verdict, channels, layout });
  expect(proposeIntake([like('stereo'), like('stereo'), like('two-mics')])).toBe('stereo-pair');
  expect(proposeIntake([like('two-mics'), like('two-mics'), like('stereo')])).toBe('separate-monos');
  expect(proposeIntake([like('multichannel', 4)])).toBe('separate-monos');
  expect(proposeIntake([like('multichannel', 6, '5.1(side)')])).toBe('surround');
});

test('thousands of clips are placed in a moment, each once', () => {
  const many = Array.from({ length: 5000 }, (_, i) => clip(`take-${i % 40}-${i}.wav`, { id: String(i), recorder: `R${i % 40}`, ...(i % 2 ? ONE_SIDED : {}) }));
  const formed = formSetups(many, []);
  expect(formed).toHaveLength(40);
  expect(new Set(formed.flatMap(({ clips }) => clips.map(({ id }) => id))).size).toBe(5000);
});
