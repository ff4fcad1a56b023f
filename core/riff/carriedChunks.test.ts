import { fillFrom, selectChannel, splitToMonos, sumToMono, swapSides } from '../repair/plan/plans.ts';
import { outputChannelNames } from '../repair/plan/outputNames.ts';
import { noFacts } from '../schema/clipFacts.ts';
import type { Repair } from '../schema/repair.ts';
import { broadcastFacts } from './broadcastFacts.ts';
import { asciiBytes } from './byteSource.ts';
import { carriedChunks } from './carriedChunks.ts';
import { madeBext } from './bext.ts';
import type { KeptChunk } from './wavFrame.ts';

const TRACKS = [
  ['keeper lav', '3'],
  ['mate &amp; co', '5'],
];
const IXML = `<?xml version="1.0" encoding="UTF-8"?>
<BWFXML><!-- by the recorder --><PROJECT>Ferry</PROJECT><SPEED note="yes"><TIMECODE_RATE>25/1</TIMECODE_RATE></SPEED><TRACK_LIST><TRACK_COUNT>2</TRACK_COUNT>${TRACKS.map(
  ([name, channel], i) =>
    `<TRACK><CHANNEL_INDEX>${channel}</CHANNEL_INDEX><INTERLEAVE_INDEX>${i + 1}</INTERLEAVE_INDEX><NAME>${name}</NAME><FUNCTION>dialogue ${i + 1}</FUNCTION></TRACK>`,
).join('')}</TRACK_LIST><USER>x &lt; y</USER></BWFXML>\0`;

const NAMES = ['keeper lav', 'mate & co'];
const tracks = (repair: Repair, file = 0) =>
  repair.outputs[file].routes.map((route, i) => ({
    source: route.length === 1 ? route[0].from : null,
    name: outputChannelNames(repair.outputs[file], NAMES)[i],
  }));
const written = (repair: Repair, kept: KeptChunk[], file = 0, facts = noFacts(2)) => {
  const chunks = carriedChunks(kept, facts, tracks(repair, file));
  const body = (id: string): Uint8Array | null => chunks.find((chunk) => chunk.id === id)?.body ?? null;
  return {
    ids: chunks.map(({ id }) => id),
    bext: body('bext'),
    ixml: body('iXML'),
    text: new TextDecoder().decode(body('iXML') ?? new Uint8Array()),
  };
};
const kept = [{ id: 'iXML', body: asciiBytes(IXML) }];

test.each([
  ['a swap', swapSides(2), 0, ['mate & co', 'keeper lav']],
  ['the right alone', selectChannel(2, 2), 0, ['mate & co']],
  ['the left on both', fillFrom(1, 2), 0, ['keeper lav', 'keeper lav']],
  ['the sum', sumToMono(2), 0, ['keeper lav + mate & co']],
  ['the second file of a split', splitToMonos(2), 1, ['mate & co']],
] as const)('%s carries the names of what is really on its channels', (_what, repair, file, wanted) => {
  const { ixml, text } = written(repair, kept, file);
  expect(broadcastFacts({ bext: null, ixml }, wanted.length).trackNames).toEqual(wanted);
  expect(text).toContain(`<TRACK_COUNT>${wanted.length}</TRACK_COUNT>`);
  expect(text.match(/<TRACK>/g)).toHaveLength(wanted.length);
  // All else is as it was.
  expect(text).toContain(
    '<!-- by the recorder --><PROJECT>Ferry</PROJECT><SPEED note="yes"><TIMECODE_RATE>25/1</TIMECODE_RATE></SPEED>',
  );
  expect(text).toContain('<USER>x &lt; y</USER>');
});

test('what else is known of a track goes with it', () => {
  const { text } = written(selectChannel(2, 2), kept);
  expect(text).toContain('<CHANNEL_INDEX>5</CHANNEL_INDEX><FUNCTION>dialogue 2</FUNCTION>');
  expect(text).not.toContain('dialogue 1');
});

test('a recorder that names its tracks in the description is corrected there', () => {
  const bext = madeBext({
    ...noFacts(2),
    note: 'sSCENE=4\r\nsTRK1=keeper lav\r\nsTRK2=mate & co',
    startSamples: 48_000,
  });
  const { bext: body } = written(swapSides(2), [{ id: 'bext', body: bext }]);
  const facts = broadcastFacts({ bext: body, ixml: null }, 2);
  expect(facts).toMatchObject({ startSamples: 48_000, note: 'sSCENE=4', trackNames: ['mate & co', 'keeper lav'] });
});

test('a source that is no WAV gets a bext with its start, and its rate and names as iXML', () => {
  const facts = {
    ...noFacts(2),
    recorder: 'Camera 2',
    startSamples: 172_800_000,
    recordedAt: '2026-05-02T10:15:30.000Z',
    frameRate: { numerator: 30000, denominator: 1001, dropFrame: true },
  };
  const { ids, bext, ixml } = written(fillFrom(1, 2), [], 0, facts);
  expect(ids).toEqual(['bext', 'iXML']);
  expect(broadcastFacts({ bext, ixml }, 2)).toMatchObject({
    startSamples: 172_800_000,
    recorder: 'Camera 2',
    recordedAt: '2026-05-02T10:15:30',
    frameRate: facts.frameRate,
    trackNames: ['keeper lav', 'keeper lav'],
  });
  expect(bext).toHaveLength(602);
});

test('a WAV without such chunks stays without them, and what is no iXML is left out', () => {
  expect(
    carriedChunks([{ id: 'LIST', body: asciiBytes('INFO') }], noFacts(1), [{ source: 1, name: null }]).map(
      ({ id }) => id,
    ),
  ).toEqual(['LIST']);
  expect(
    carriedChunks([{ id: 'iXML', body: asciiBytes('no markup here') }], noFacts(1), [{ source: 1, name: null }]),
  ).toEqual([]);
});
