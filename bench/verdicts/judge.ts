// A share of the generated clips: measures and diagnoses each, one line of JSON a clip.
import '@pocket-twin/media/threads/fullSpeedKernels.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { inspect } from '@pocket-twin/core/test/inspecting.ts';
import type { Case } from './case.ts';
import { makeCase } from './cases.ts';
import { Chance } from '@pocket-twin/core/synth/chance.ts';
import { RATE, type Mono } from '@pocket-twin/core/synth/mono.ts';

const CASES_A_SEED = 1_000_000;

/** Something a person would lose by pressing the button: programme thrown away, or noise mixed in. */
function danger(truth: Case, { suggestion: { action, from, to } }: Inspection): string | null {
  if (truth.kept) {
    if (!['fill', 'select', 'split'].includes(action)) return null;
    const left = action === 'split' ? to : [from];
    const lost = truth.kept.find((group) => !group.some((channel) => left.includes(channel + 1)));
    return lost ? `${action} without any of ${lost.map((channel) => channel + 1).join(', ')}` : null;
  }
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

/** Again and again, in whole turns, until it lasts so long; as it is where it does. */
function inTurns(sound: Mono, frames: number): Mono {
  const turns = Math.max(1, Math.ceil(frames / sound.length));
  return Float64Array.from({ length: turns * sound.length }, (_, i) => sound[i % sound.length]);
}

const [seed, first, step, count, longer, looped, only] = process.argv.slice(2);
for (let i = Number(first); i < Number(count); i += Number(step)) {
  const truth = makeCase(new Chance(Number(seed) * CASES_A_SEED + i), only, Number(longer));
  const start = process.hrtime.bigint();
  const channels = truth.channels ?? truth.sides;
  const rate = truth.rate ?? RATE;
  const frames = Math.min(...channels.map((side) => side.length));
  const found = await inspect(
    channels.map((side) => inTurns(side.subarray(0, frames), Number(looped) * rate)),
    rate,
  );
  const pair = found.pairs[truth.pair ?? 0];
  console.log(
    JSON.stringify({
      seed: Number(seed),
      number: i,
      family: truth.family,
      what: truth.what,
      truth: truth.verdict,
      truthSide: truth.side ?? null,
      missed: truth.finding && !found.findings.some(({ code }) => code === truth.finding) ? truth.finding : null,
      found: pair.verdict,
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
