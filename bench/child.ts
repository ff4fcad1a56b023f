// One contender in a process of its own, so that its peak memory is its own.
import { fillFrom } from '@pocket-twin/core/repair/plan/plans.ts';
import { turnsPlan } from '@pocket-twin/core/repair/plan/turnsPlan.ts';
import { proposeTurns } from '@pocket-twin/core/repair/propose/turns.ts';
import { noFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { Repair, Turn } from '@pocket-twin/core/schema/repair.ts';
import { withClipSound } from '@pocket-twin/media/read/clipSound.ts';
import { inspectFile } from '@pocket-twin/media/read/inspectFile.ts';
import { renderFile } from '@pocket-twin/media/write/renderFile.ts';

const TURNS = 200;

const [what, source, target, frames] = process.argv.slice(2);
const location = {
  path: source,
  offsetBytes: 44,
  words: { kind: 'integer', bits: 24 } as const,
  channels: 2,
  sampleRate: 48000,
  frames: Number(frames),
};
const start = process.hrtime.bigint();
if (what === 'fill') await write(fillFrom(1, 2));
else if (what === 'turns') await write(turnsAndTrims());
else if (what === 'propose')
  await withClipSound(location, async ({ talk }) =>
    proposeTurns(await talk([1, 2]), [1, 2], location.sampleRate, location.frames),
  );
else await inspectFile(source, { outlineFolder: target });
const seconds = Number(process.hrtime.bigint() - start) / 1e9;
console.log(JSON.stringify({ seconds, peakMegabytes: process.resourceUsage().maxRSS / 1024 }));

async function write(repair: Repair): Promise<void> {
  await renderFile({
    source: location,
    measured: null,
    chunksFrom: source,
    facts: noFacts(2),
    channelNames: [null, null],
    repair,
    words: location.words,
    targets: [target],
    overwrite: true,
  });
}

/** Two microphones by turns, each trimmed, one of them later. */
function turnsAndTrims(): Repair {
  const each = Math.floor(location.frames / TURNS);
  const list = Array.from({ length: TURNS }, (_, i): Turn => ({
    channel: 1 + (i % 2),
    startFrame: i * each + 5000,
    endFrame: (i + 1) * each,
  }));
  const microphones = [1, 2].map((channel) => ({
    channel,
    closedDb: -12,
    ...{ fadeInFrames: 960, fadeOutFrames: 2880, leadFrames: 0, tailFrames: 0 },
  }));
  return {
    ...turnsPlan(2, { microphones, list }, 'centred'),
    trims: [
      { channel: 1, gainDb: -2, polarity: 'normal', delaySamples: 0 },
      { channel: 2, gainDb: -4, polarity: 'normal', delaySamples: 14 },
    ],
  };
}
