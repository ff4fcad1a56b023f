// One contender in a process of its own, so that its peak memory is its own.
import { fillFrom } from '@pocket-twin/core/repair/plan/plans.ts';
import { noFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import { inspectFile } from '@pocket-twin/media/read/inspectFile.ts';
import { renderFile } from '@pocket-twin/media/write/renderFile.ts';

const [what, source, target] = process.argv.slice(2);
const start = process.hrtime.bigint();
if (what === 'fill') {
  const location = {
    path: source,
    offsetBytes: 44,
    words: { kind: 'integer', bits: 24 } as const,
    channels: 2,
    sampleRate: 48000,
    frames: Number(process.argv[5]),
  };
  await renderFile({
    source: location,
    measured: null,
    chunksFrom: source,
    facts: noFacts(2),
    channelNames: [null, null],
    repair: fillFrom(1, 2),
    words: location.words,
    targets: [target],
    overwrite: true,
  });
} else {
  await inspectFile(source, { outlineFolder: target });
}
const seconds = Number(process.hrtime.bigint() - start) / 1e9;
console.log(JSON.stringify({ seconds, peakMegabytes: process.resourceUsage().maxRSS / 1024 }));
