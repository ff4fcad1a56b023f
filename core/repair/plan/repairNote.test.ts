import { inspect } from '../../test/inspecting.ts';
import { delayed, lowPassed } from '../../synth/filters.ts';
import { mix, scale } from '../../synth/mono.ts';
import { chatter, noise } from '../../synth/noise.ts';
import { matchPlan, repairFromSuggestion } from './fromSuggestion.ts';
import { fillFrom, leaveAsItIs, selectChannel, splitToMonos, sumToMono } from './plans.ts';
import { repairNote, sumWarning } from './repairNote.ts';

const VOICE = lowPassed(chatter(0.1, 4, 1));
const OTHER = lowPassed(mix(chatter(0.1, 4, 9), noise(0.0004, 4, 8)));
const HISS = noise(0.0008, 4, 2);

test('what is left out is named for what it is', async () => {
  const oneSided = await inspect([VOICE, HISS]);
  expect(repairNote(fillFrom(1, 2), oneSided)).toContain('What is left out carries no sound.');
  expect(repairNote(fillFrom(2, 2), oneSided)).toContain('carries sound of its own');
  const trace = await inspect([mix(VOICE, noise(0.00002, 4, 4)), mix(scale(VOICE, 0.004), noise(0.00002, 4, 5))]);
  expect(trace).toMatchObject({ verdict: 'one-sided', channels: [{ content: 'programme' }, { content: 'programme' }] });
  for (const repair of [fillFrom(1, 2), selectChannel(1, 2)])
    expect(repairNote(repair, trace)).toContain('What is left out has only a faint trace of what is kept.');
  expect(repairNote(selectChannel(2, 2), trace)).toContain('carries sound of its own');
  expect(repairNote(selectChannel(1, 2), await inspect([VOICE, VOICE]))).toContain(
    'The other side is the same signal.',
  );
  expect(repairNote(selectChannel(1, 4), await inspect([VOICE, OTHER, VOICE, OTHER]))).toContain(
    'Among the channels that are left out, some carry sound of their own.',
  );
  expect(repairNote(splitToMonos(2), oneSided)).toBe('Samples are copied, not recalculated.');
});

test('what is moved is said in words: which side, how far, how much', async () => {
  const inspection = await inspect([VOICE, OTHER]);
  expect(
    repairNote(
      matchPlan(inspection.format, { gainDb: -3, delaySamples: -217, driftPpm: 0, jump: null, polarity: 'normal' }),
      inspection,
    ),
  ).toContain('The left side comes down by 3.0 dB. The right side is moved 217 samples (4.52 ms) later.');
  const note = repairNote(
    { ...leaveAsItIs(2), trims: [{ channel: 1, gainDb: -3, polarity: 'inverted', delaySamples: 217 }] },
    inspection,
  );
  expect(note).toBe(
    'Samples are calculated and dithered. The left side is turned over, comes down by 3.0 dB and is moved 217 samples (4.52 ms) later.',
  );
  expect(
    repairNote(
      { ...leaveAsItIs(2), trims: [{ channel: 2, gainDb: 0, polarity: 'inverted', delaySamples: 1 }] },
      inspection,
    ),
  ).toBe(
    'Samples are turned over and moved, not recalculated. The right side is turned over and is moved 1 sample (0.02 ms) later.',
  );
});

test('a sum that cancels is warned of before it is chosen, and not once the side is turned over', async () => {
  const exact = await inspect([VOICE, scale(VOICE, -1)]);
  expect(sumWarning(sumToMono(2), exact)).toBe(
    'The two sides cancel each other: nothing is left of the sum. Turn one over first.',
  );
  const nearly = await inspect([mix(VOICE, HISS), mix(scale(VOICE, -1), noise(0.0008, 4, 6))]);
  expect(sumWarning(sumToMono(2), nearly)).toMatch(/^The sum loses \d+\.\d dB: one side is upside down\.$/);
  expect(sumWarning({ ...sumToMono(2), trims: repairFromSuggestion(nearly)!.trims }, nearly)).toBeNull();
  const late = await inspect([VOICE, delayed(VOICE, 200)]);
  if (late.pairs[0].sumLossDb! >= 3) expect(sumWarning(sumToMono(2), late)).toContain('one side is late');
  expect(sumWarning(sumToMono(2), await inspect([VOICE, HISS]))).toContain('filling is cleaner');
  expect(sumWarning(fillFrom(1, 2), exact)).toBeNull();
});
