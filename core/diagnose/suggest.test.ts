import fc from 'fast-check';
import type { Disguise, PairReport, Section } from '../schema/inspection.ts';
import { channelReport, STEREO } from '../test/reports.ts';
import { PairVerdict, type Side } from '../schema/verdict.ts';
import { LEAST_CONFIDENCE } from './boundaries.ts';
import type { PairFacts } from './catalogue/entry.ts';
import { VERDICTS } from './catalogue/verdicts.ts';
import { suggestForMultichannel, suggestForPair } from './suggest.ts';

const reports = (...contents: ('programme' | 'noise' | 'silent')[]) =>
  contents.map((content, i) => channelReport(i + 1, { content }));
const facts = (pair: PairReport, sections: Section[], clearest: number | null): PairFacts => ({
  pair,
  sections,
  clearest,
  reports: reports('programme', 'programme'),
  losses: [],
  sampleRate: 48000,
  speech: true,
});
const PARTS = PairVerdict.options.filter((verdict) => verdict !== 'changing');
const part = fc.record({ verdict: fc.constantFrom(...PARTS), side: fc.constantFrom<Side>('left', 'right') });
const sectionsOf = (parts: { verdict: PairVerdict; side: Side }[]): Section[] =>
  parts.map(({ verdict, side }, i) => ({
    startSeconds: 10 * i,
    endSeconds: 10 * i + 10,
    verdict,
    side: verdict === 'one-sided' ? side : null,
  }));

test('a suggestion never throws programme away, whatever the sections are, and none is made where it is too close to call', () => {
  fc.assert(
    fc.property(
      fc.array(part, { minLength: 1, maxLength: 5 }),
      fc.double({ min: 0.5, max: 0.99, noNaN: true }),
      fc.subarray<Disguise>(['level', 'polarity', 'delay', 'filter']),
      fc.double({ min: -2000, max: 2000, noNaN: true }),
      fc.double({ min: -20, max: 20, noNaN: true }),
      fc.constantFrom(null, 1, 2),
      (parts, confidence, disguise, delaySamples, gainDb, clearest) => {
        const sections = sectionsOf(parts);
        const [{ verdict }] = parts;
        const [{ side }] = sections;
        const pair: PairReport = {
          ...STEREO,
          confidence,
          disguise,
          delaySamples,
          gainDb,
          ...(sections.length > 1 ? { verdict: 'changing' } : { verdict, side }),
        };
        const { action, from, to } = suggestForPair(facts(pair, sections, clearest));
        if (confidence < LEAST_CONFIDENCE) expect(action).toBe('review');
        if (['fill', 'select', 'sum'].includes(action)) {
          for (const section of sections) {
            expect(['stereo', 'two-mics']).not.toContain(section.verdict);
            // What is kept carries the programme in every section.
            if (section.verdict === 'one-sided')
              expect([action, from]).toEqual(['fill', section.side === 'left' ? 1 : 2]);
          }
        }
        expect(action).not.toBe('sum');
        expect(to.every((channel) => channel === 1 || channel === 2)).toBe(true);
      },
    ),
    { numRuns: 1000, seed: 5 },
  );
});

test('of a disguise what is kept or moved is the right side: the clearer, the later, the quieter', () => {
  const disguised = (rest: Partial<PairReport>, clearest: number | null = null) => {
    const { action, from, to } = suggestForPair(
      facts(
        { ...STEREO, verdict: 'fake-stereo', matchedNullDepthDb: -60, ...rest },
        [{ startSeconds: 0, endSeconds: 9, verdict: 'fake-stereo', side: null }],
        clearest,
      ),
    );
    return [action, from, to];
  };
  expect(disguised({ disguise: ['filter', 'delay'] }, 2)).toEqual(['select', 2, [2]]);
  // What comes later and nulls no deeper may be a microphone a hand away: nothing of it is left out unheard.
  expect(disguised({ disguise: ['filter', 'delay'], matchedNullDepthDb: -25 }, 2)).toEqual(['review', null, []]);
  expect(disguised({ disguise: ['filter', 'delay'], matchedNullDepthDb: -38.8 }, 2)).toEqual(['review', null, []]);
  expect(disguised({ disguise: ['filter', 'delay'], matchedNullDepthDb: -41 }, 2)).toEqual(['select', 2, [2]]);
  expect(disguised({ disguise: ['filter'], matchedNullDepthDb: -25 }, 2)).toEqual(['select', 2, [2]]);
  const narrower = { side: 'left', lowHz: 300, highHz: 3400 } as const;
  expect(disguised({ disguise: ['filter', 'delay'], narrower, matchedNullDepthDb: -25 })).toEqual(['review', null, []]);
  expect(disguised({ disguise: ['filter', 'delay'], narrower })).toEqual(['select', 2, [2]]);
  expect(disguised({ disguise: ['level', 'delay'], delaySamples: 30 })).toEqual(['align', 2, [1]]);
  expect(disguised({ disguise: ['delay'], delaySamples: -30 })).toEqual(['align', 1, [2]]);
  expect(disguised({ disguise: ['polarity', 'level'], gainDb: 3 })).toEqual(['invert', 1, [2]]);
  expect(disguised({ disguise: ['level'], gainDb: 3 })).toEqual(['balance', 1, [2]]);
  expect(disguised({ disguise: ['level'], gainDb: -3 })).toEqual(['balance', 2, [1]]);
});

test('of many channels one is taken only where it alone carries sound of its own', () => {
  const alone = { duplicates: [], mixes: [] };
  expect(suggestForMultichannel(reports('silent', 'programme', 'noise'), alone)).toMatchObject({
    action: 'select',
    from: 2,
    to: [2],
  });
  expect(
    suggestForMultichannel(reports('programme', 'programme', 'noise'), { duplicates: [[1, 2]], mixes: [] }),
  ).toMatchObject({
    action: 'select',
    from: 1,
  });
  // What carries something of its own is kept, in files of its own; where nothing can be left, or nothing is there, a person decides.
  expect(suggestForMultichannel(reports('programme', 'programme', 'noise'), alone)).toMatchObject({
    action: 'split',
    to: [1, 2],
  });
  expect(
    suggestForMultichannel(reports('programme', 'programme', 'programme', 'programme'), {
      duplicates: [
        [1, 3],
        [2, 4],
      ],
      mixes: [],
    }),
  ).toMatchObject({ action: 'split', to: [1, 2] });
  expect(suggestForMultichannel(reports('programme', 'programme', 'programme'), alone)).toMatchObject({
    action: 'review',
  });
  expect(suggestForMultichannel(reports('silent', 'noise', 'silent'), alone)).toMatchObject({
    action: 'review',
    reason: expect.stringContaining('nothing to repair'),
  });
});

test('every verdict that is a fault has a likely cause and a way to record it right next time', () => {
  for (const verdict of PairVerdict.options) {
    const { cause, advice } = VERDICTS[verdict].cause({ ...STEREO, verdict, side: 'right' });
    expect([verdict, cause !== null, advice !== null]).toEqual([verdict, verdict !== 'stereo', verdict !== 'stereo']);
  }
  expect(VERDICTS['one-sided'].cause({ ...STEREO, verdict: 'one-sided', side: 'right' }).cause).toContain('input 2');
  const causes = (['filter', 'delay', 'polarity', 'level'] as const).map(
    (disguise) => VERDICTS['fake-stereo'].cause({ ...STEREO, verdict: 'fake-stereo', disguise: [disguise] }).cause,
  );
  expect(new Set(causes).size).toBe(4);
});

test('what is damaged is never kept: of two sides from which something was taken neither is chosen', () => {
  fc.assert(
    fc.property(
      fc.constantFrom<Side | null>('left', 'right', null),
      fc.constantFrom<Side | null>('left', 'right', null),
      (limited, narrowerSide) => {
        const pair: PairReport = {
          ...STEREO,
          verdict: 'fake-stereo',
          confidence: 0.99,
          disguise: ['level', 'filter'],
          gainMovesDb: limited === null ? 0 : 9,
          limited,
          narrower: narrowerSide === null ? null : { side: narrowerSide, lowHz: 300, highHz: 3400 },
        };
        const { action, from } = suggestForPair(
          facts(pair, sectionsOf([{ verdict: 'fake-stereo', side: 'left' }]), null),
        );
        for (const damaged of [limited, narrowerSide])
          if (damaged !== null && action !== 'review') expect(from).toBe(damaged === 'left' ? 2 : 1);
        if (limited !== null && narrowerSide !== null && limited !== narrowerSide) expect(action).toBe('review');
      },
    ),
  );
});
