import fc from 'fast-check';
import { asciiBytes } from './byteSource.ts';
import { broadcastFacts } from './broadcastFacts.ts';

/** A `bext` chunk, its fields placed by EBU Tech 3285. */
function bext(description: string, originator: string, date: string, time: string, samples: bigint): Uint8Array {
  const body = new Uint8Array(602);
  for (const [at, text] of [
    [0, description],
    [256, originator],
    [320, date],
    [330, time],
  ] as const)
    body.set(asciiBytes(text), at);
  new DataView(body.buffer).setBigUint64(338, samples, true);
  return body;
}

const ixml = (inside: string): Uint8Array =>
  new TextEncoder().encode(`<?xml version="1.0"?><BWFXML>${inside}</BWFXML>\0`);

test('bext tells the recorder, the date and the first sample after midnight', () => {
  const facts = broadcastFacts(
    { bext: bext('keeper, deck', 'Heron 2', '2026-08-14', '09:30:05', 1_641_840_000n), ixml: null },
    2,
  );
  expect(facts).toMatchObject({
    recorder: 'Heron 2',
    note: 'keeper, deck',
    recordedAt: '2026-08-14T09:30:05',
    startSamples: 1_641_840_000,
    trackNames: [null, null],
    frameRate: null,
  });
});

test('without iXML, or where it names none, the description’s lines name the tracks, and are no note', () => {
  const told = bext('sSCENE=7\r\nsTRK1=Keeper\r\nsTRK3=Mate\r\nsTRK9=nobody', '', '2026-08-14', '09:30:05', 5n);
  const names = ['Keeper', null, 'Mate'];
  expect(broadcastFacts({ bext: told, ixml: null }, 3)).toMatchObject({ trackNames: names, note: 'sSCENE=7' });
  expect(broadcastFacts({ bext: told, ixml: ixml('<SCENE>7</SCENE>') }, 3).trackNames).toEqual(names);
});

test('iXML tells scene, take, tape, tracks and frame rate, and has the last word', () => {
  const facts = broadcastFacts(
    {
      bext: bext('short', 'Heron 2', '2026-08-14', '09:30:05', 5n),
      ixml: ixml(
        '<SCENE>12A</SCENE><TAKE>07</TAKE><TAPE>R1</TAPE><NOTE>wind &amp; water</NOTE><SPEED><TIMECODE_RATE>30000/1001</TIMECODE_RATE><TIMECODE_FLAG>DF</TIMECODE_FLAG>' +
          '<TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_HI>1</TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_HI><TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_LO>2</TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_LO></SPEED>' +
          '<TRACK_LIST><TRACK><INTERLEAVE_INDEX>2</INTERLEAVE_INDEX><NAME>Mate</NAME></TRACK><TRACK><INTERLEAVE_INDEX>1</INTERLEAVE_INDEX><NAME>Keeper</NAME></TRACK></TRACK_LIST>',
      ),
    },
    3,
  );
  expect(facts).toMatchObject({
    scene: '12A',
    take: '07',
    tape: 'R1',
    note: 'wind & water',
    trackNames: ['Keeper', 'Mate', null],
    startSamples: 2 ** 32 + 2,
    frameRate: { numerator: 30000, denominator: 1001, dropFrame: true },
  });
});

test('chunks of nonsense say nothing and stop nobody', () => {
  fc.assert(
    fc.property(
      fc.uint8Array({ maxLength: 700 }),
      fc.uint8Array({ maxLength: 300 }),
      fc.integer({ min: 1, max: 9 }),
      (noise, more, channels) => {
        const inside = ixml(new TextDecoder('latin1').decode(more));
        for (const xml of [noise, inside])
          expect(broadcastFacts({ bext: noise, ixml: xml }, channels).trackNames).toHaveLength(channels);
      },
    ),
    { numRuns: 300 },
  );
  const bomb = ixml(`<!DOCTYPE x [<!ENTITY a "${'ha'.repeat(50)}"><!ENTITY b "&a;&a;&a;">]><NOTE>&b;</NOTE>`);
  expect(broadcastFacts({ bext: null, ixml: bomb }, 1).note ?? '').not.toContain('haha');
});
