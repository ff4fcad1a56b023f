// A share of the generated clips: measures and diagnoses each, one line of JSON a clip.
import { diagnose } from '@pocket-twin/core/diagnose/diagnose.ts';
import { ClipMeter } from '@pocket-twin/core/measure/clipMeter.ts';
import { lookTwice } from '@pocket-twin/core/measure/secondLook.ts';
import { INTERLEAVED, interleave } from '@pocket-twin/core/pcm/interleave.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { makeCase, type Case } from './cases.ts';
import { Chance } from './chance.ts';
import { RATE } from './sources.ts';

const CASES_A_SEED = 1_000_000;

async function inspect({ sides }: Case): Promise<Inspection> {
  const frames = Math.min(sides[0].length, sides[1].length);
  const meter = new ClipMeter(RATE, 2, INTERLEAVED);
  meter.push(interleave(sides, frames));
  const measurement = await lookTwice(meter.finish(), async (start, count, channels) => channels.map((channel) => {
    const sound = new Float64Array(count);
    const first = Math.max(0, start);
    sound.set(sides[channel - 1].subarray(first, Math.min(frames, start + count)), first - start);
    return sound;
  }));
  return diagnose(measurement, {
    container: 'wav', codec: 'pcm_f64le', sampleRate: RATE, channels: 2, bitDepth: 64, frames, durationSeconds: frames / RATE, hasVideo: false, warning: null,
  });
}

/** Something a person would lose by pressing the button: programme thrown away, or noise mixed in. */
function danger(truth: Case, { suggestion: { action, from } }: Inspection): string | null {
  const different = truth.verdict === 'stereo' || truth.verdict === 'two-mics' || truth.verdict === 'changing';
  if (different && !(action !== 'sum' && truth.wholeChannel === from) && ['fill', 'select', 'sum'].includes(action)) return `${action} where both sides carry programme`;
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
  const found = await inspect(truth);
  const [pair] = found.pairs;
  console.log(JSON.stringify({
    seed: Number(seed), number: i, what: truth.what, truth: truth.verdict, truthSide: truth.side ?? null,
    found: found.verdict, side: pair.side, confidence: pair.confidence, action: found.suggestion.action, danger: danger(truth, found),
    disguise: truth.disguise ?? null, pair, boundarySeconds: truth.boundarySeconds ?? null, sections: found.sections,
    milliseconds: Number(process.hrtime.bigint() - start) / 1e6,
  }));
}
