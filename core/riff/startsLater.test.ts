import { noFacts } from '../schema/clipFacts.ts';
import { madeBext } from './bext.ts';
import { broadcastFacts } from './broadcastFacts.ts';
import { startsLater } from './startsLater.ts';

const text = (xml: string): Uint8Array => new TextEncoder().encode(xml);

test.each([5, 2 ** 33 + 7])(
  'both chunks say that the stretch starts at %d samples, and what points into the sound is left out',
  (start) => {
    const speed =
      '<SPEED><TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_HI>0</TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_HI><TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_LO>9</TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_LO></SPEED>';
    const kept = [
      { id: 'bext', body: madeBext({ ...noFacts(1), startSamples: 9 }) },
      { id: 'iXML', body: text(`<BWFXML><SCENE>12</SCENE>${speed}</BWFXML>`) },
      { id: 'cue ', body: text('here') },
    ];
    const later = startsLater(kept, start);
    expect(later.map(({ id }) => id)).toEqual(['bext', 'iXML']);
    expect(broadcastFacts({ bext: later[0].body, ixml: null }, 1).startSamples).toBe(start);
    expect(broadcastFacts({ bext: null, ixml: later[1].body }, 1)).toMatchObject({ startSamples: start, scene: '12' });
  },
);
