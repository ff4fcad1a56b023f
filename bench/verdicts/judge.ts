// A share of the generated clips: measures and diagnoses each, one line of JSON a clip.
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { inspect } from '@pocket-twin/core/test/inspecting.ts';
import type { Case } from './case.ts';
import { makeCase } from './cases.ts';
import { Chance } from '@pocket-twin/core/synth/chance.ts';
import { RATE } from '@pocket-twin/core/synth/mono.ts';

const CASES_A_SEED = 1_000_000;

/** Something a person would lose by pressing the button: programme thrown away, or noise mixed in. */
function danger(truth: Case, { suggestion: { action, from } }: Inspection): string | null {
  const different =
    truth.ownOnBoth ||
    truth.verdict === 'stereo' ||
    truth.verdict === 'two-mics' ||
    (truth.verdict === 'changing' && !truth.copiesThroughout);
  if (different && !(action !== 'sum' && truth.wholeChannel === from) && ['fill', 'select', 'sum'].includes(action))
    return `${action} where both sides carry programme`;
  if (
    truth.verdict === 'fake-stereo' &&
    truth.wholeChannel &&
    ['fill', 'select'].includes(action) &&
    from !== truth.wholeChannel
  )
    return `${action} from the side that something was taken from`;
  if (truth.verdict === 'one-sided') {
    if (action === 'sum') return 'sum with a dead side';
    const dead = truth.side === 'left' ? 2 : 1;
    if ((action === 'fill' || action === 'select') && from === dead) return `${action} from the dead side`;
  }
  return null;
}

const [seed, first, step, count, only] = process.argv.slice(2);
for (let i = Number(first); i < Number(count); i += Number(step)) {
  const truth = makeCase(new Chance(Number(seed) * CASES_A_SEED + i), only);
  const start = process.hrtime.bigint();
  const frames = Math.min(...truth.sides.map((side) => side.length));
  const found = await inspect(
    truth.sides.map((side) => side.subarray(0, frames)),
    RATE,
  );
  const [pair] = found.pairs;
  console.log(
    JSON.stringify({
      seed: Number(seed),
      number: i,
      family: truth.family,
      what: truth.what,
      truth: truth.verdict,
      truthSide: truth.side ?? null,
      missed: truth.finding && !found.findings.some(({ code }) => code === truth.finding) ? truth.finding : null,
      found: found.verdict,
      side: pair.side,
      confidence: pair.confidence,
      action: found.suggestion.action,
      danger: danger(truth, found),
      disguise: truth.disguise ?? null,
      pair,
      boundariesSeconds: truth.boundariesSeconds ?? [],
      sections: found.sections,
      milliseconds: Number(process.hrtime.bigint() - start) / 1e6,
    }),
  );
}
