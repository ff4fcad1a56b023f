import { readFileSync } from 'node:fs';
import * as measuring from '../measure/boundaries.ts';
import { sayNumber } from '../signal/sayDecibels.ts';
import * as deciding from './boundaries.ts';

const METHOD = new URL('../../docs/method.md', import.meta.url).pathname;
const say = (value: number): string => sayNumber(value, Number.isInteger(value) ? 0 : 1);

// What each line of the table must name, from the boundaries themselves.
const ROWS: Record<string, string[]> = {
  'silent channel': [`under ${say(measuring.SILENT_PEAK_DBFS)} dBFS`],
  programme: [`${say(deciding.SHORTEST_PROGRAMME_SECONDS)} s or more`, `${say(measuring.STANDS_OUT_DB)} dB out of`],
  'steady programme': [`over ${say(deciding.STEADY_PROGRAMME_DBFS)} dBFS`],
  'one-sided': [`${say(measuring.ONE_SIDED_DB)} dB or more below`],
  'one-sided, but for moments': [`${say(measuring.ONE_SIDED_DB)} dB where`, `${say(deciding.BRIEF_SECONDS)} s in all`],
  'dual mono': [
    `null of ${say(measuring.ONE_SIGNAL_NULL_DB)} dB`,
    `${say(measuring.CODED_NULL_DB)} dB with ${say(measuring.CODED_LOW_NULL_DB)} dB below 3.5 kHz`,
    `${say(measuring.MOSTLY_LOW_NULL_DB)} dB there and ${say(measuring.MOSTLY_LOW_DEEPER_DB)} dB deeper`,
    `under ${say(deciding.SURELY_CODED_NULL_DB)} dB without more ado`,
  ],
  'a narrow mix under that boundary': [`more than ${say(100 * deciding.PROGRAMME_COHERENCE)} %`],
  'fake stereo': [
    `nulls to ${say(measuring.DISGUISED_NULL_DB)} dB and gains ${say(measuring.DISGUISED_GAIN_DB)} dB`,
    `${say(deciding.DISTANT_NULL_DB)} dB where the delay is over ${sayNumber(deciding.DISTANT_MS, 2)} ms`,
    `short of ${say(deciding.MIX_NULL_DB)} dB`,
    `within ${say(deciding.SLIGHT_FILTER_NULL_DB)} dB of each other`,
  ],
};

test.each(Object.entries(ROWS))('the method’s table names the boundary of “%s” as it is', (step, texts) => {
  const line = readFileSync(METHOD, 'utf8')
    .split('\n')
    .find((row) => row.startsWith(`| ${step} |`));
  expect(line).toBeDefined();
  for (const text of texts) expect(line).toContain(text);
});

test('the method’s words on two microphones name the boundaries as they are', () => {
  const told = /\*\*Two microphones or stereo\.\*\*.*?(?=\n\*\*)/s.exec(readFileSync(METHOD, 'utf8'))![0];
  for (const text of [
    `difference over ${say(deciding.PAIR_REACH_MS)} ms`,
    `${say(deciding.NEAR_FAR_DB)} dB further over the pauses`,
    `over ${sayNumber(deciding.SURELY_APART_MS, 2)} ms apart (counted less down to ${say(deciding.COINCIDENT_MS)} ms; floors more than ${say(deciding.PAIR_FLOORS_DB)} dB apart count ${say(deciding.FLOORS_WEIGHT)}-fold)`,
    `stands out, ${say(deciding.NEAR_FAR_DB / deciding.BLURRED_SHARE)} dB;`,
    `${say(deciding.STAND_SWING_DB)} dB either way up to ${sayNumber(deciding.STAND_SWING_MS, 2)} ms, from ${sayNumber(deciding.BAR_SWING_MS, 2)} ms on ${say(deciding.BAR_SWING_DB)} dB where ${sayNumber(deciding.BAR_INCOHERENT, 2)} of it agrees on nothing, ${say(deciding.SWING_OF_LIKENESS_DB)} dB more for each 1 less of that, ${say(deciding.LEAST_SWING_DB)} to ${say(deciding.MOST_BAR_SWING_DB)} dB`,
    `swing of ${say(deciding.PANNED_SWING_DB)} dB with no swing in time; of ${say(deciding.UNRELATED_SWING_DB)} dB`,
    `of ${say(deciding.LEAST_FAR_SWING_DB)} dB where one talker is heard over ${say(deciding.FAR_TURN_MS)} ms late`,
  ])
    expect(told).toContain(text);
});

test('no boundary is written twice under one name', () => {
  const names = [...Object.keys(measuring), ...Object.keys(deciding)];
  expect(new Set(names).size).toBe(names.length);
});
