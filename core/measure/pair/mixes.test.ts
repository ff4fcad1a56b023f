import { microphonesOf } from '../../repair/propose/microphones.ts';
import { Chance } from '../../synth/chance.ts';
import { gain, mix } from '../../synth/mono.ts';
import { hiss } from '../../synth/noise.ts';
import { talkOf } from '../../synth/talk.ts';
import { inspect } from '../../test/inspecting.ts';

const { microphones } = talkOf(new Chance(3), {
  ...{ talkers: 3, seconds: 8, bleedDb: -14, decaySeconds: 0.2, noiseDbfs: -68, overlaps: 0.2, yeses: 0.1 },
});
const [one, two, three] = microphones;
const left = mix(gain(one, -1), gain(two, -6), gain(three, -4));
const right = mix(gain(one, -7), gain(two, -1), gain(three, -4));

test('the mix that stands beside single microphones is told, wherever it stands, and a person chooses', async () => {
  const first = await inspect([left, right, one, two, three]);
  expect(first.mixes).toEqual([
    { channel: 1, of: [3, 4, 5] },
    { channel: 2, of: [3, 4, 5] },
  ]);
  expect(first.headline).toBe('Only channels 3 to 5 carry sound of their own.');
  expect(first.detail).toContain('Channels 1 and 2 are the mix of channels 3 to 5.');
  expect(first.suggestion).toMatchObject({ action: 'review', reason: expect.stringContaining('choose the mix') });
  // A mix is no microphone: it is opened and closed with nobody.
  expect(microphonesOf(first)).toEqual([3, 4, 5]);
  const last = await inspect([one, two, mix(one, gain(two, -3))]);
  expect(last.mixes).toEqual([{ channel: 3, of: [1, 2] }]);
  expect(last.detail).toContain('Channel 3 is the mix of channels 1 and 2.');
});

test('a mix in mono on two channels is one mix twice; what is not in it is not told to be', async () => {
  const mono = mix(gain(one, -3), gain(two, -3));
  const found = await inspect([mono, mono, one, two, three]);
  expect(found.duplicates).toEqual([[1, 2]]);
  expect(found.mixes.map(({ of }) => of)).toEqual([
    [3, 4],
    [3, 4],
  ]);
});

test('microphones of one room, copies, and a mix of what is not there are none', async () => {
  expect((await inspect([one, two, three])).mixes).toEqual([]);
  expect((await inspect([one, gain(one, -12), two])).mixes).toEqual([]);
  expect((await inspect([left, right, one])).mixes).toEqual([]);
  const silent = hiss(one.length, -70, 9);
  expect((await inspect([mix(one, silent), one, silent.map(() => 0)])).mixes).toEqual([]);
});
