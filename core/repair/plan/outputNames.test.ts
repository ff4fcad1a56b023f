import { outputChannelNames, outputSuffixes, writtenNames } from './outputNames.ts';
import { fillFrom, leaveAsItIs, selectChannel, splitToMonos, sumToMono, swapSides } from './plans.ts';

const NAMES = ['lav', 'boom'];
const namesOf = (repair: Parameters<typeof outputSuffixes>[0]): (string | null)[][] =>
  repair.outputs.map((output) => outputChannelNames(output, NAMES));

test('names follow the routes', () => {
  expect(namesOf(swapSides(2))).toEqual([['boom', 'lav']]);
  expect(namesOf(selectChannel(2, 2))).toEqual([['boom']]);
  expect(namesOf(fillFrom(1, 2))).toEqual([['lav', 'lav']]);
  expect(namesOf(sumToMono(2))).toEqual([['lav + boom']]);
  expect(namesOf(splitToMonos(2))).toEqual([['lav'], ['boom']]);
  expect(outputChannelNames(sumToMono(2).outputs[0], ['lav', null])).toEqual([null]);
});

test('a split is called by its tracks where they have names that tell them apart, else by place', () => {
  expect(outputSuffixes(splitToMonos(2), NAMES)).toEqual(['-lav', '-boom']);
  expect(outputSuffixes(splitToMonos(2), [null, 'boom'])).toEqual(['-left', '-boom']);
  expect(outputSuffixes(splitToMonos(3), ['Lav', 'lav', '///'])).toEqual(['-Lav-ch1', '-lav-ch2', '-ch3']);
  expect(outputSuffixes(splitToMonos(2), ['../../etc', 'a'.repeat(90)])).toEqual(['-etc', `-${'a'.repeat(39)}`]);
  expect(outputSuffixes(selectChannel(2, 2), NAMES)).toEqual(['']);
});

test('no written file is taken for its original, nor for that of another that differs in its ending alone', () => {
  const names = ['one.wav', 'one.m4a', 'one.flac', 'ONE.WAV', 'one'].map(
    (name) => writtenNames(fillFrom(1, 2), name, [null, null])[0],
  );
  expect(names).toEqual([
    'one-repaired.wav',
    'one-m4a-repaired.wav',
    'one-flac-repaired.wav',
    'ONE-repaired.wav',
    'one-repaired.wav',
  ]);
  expect(writtenNames(leaveAsItIs(2), 'one.wav', [null, null])).toEqual(['one-copy.wav']);
  expect(writtenNames(splitToMonos(2), 'one.mov', NAMES)).toEqual(['one-mov-lav.wav', 'one-mov-boom.wav']);
});
