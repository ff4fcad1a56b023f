// One contender in a process of its own, so that its peak memory is its own.
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { lookTwice } from '@pocket-twin/core/measure/secondLook.ts';
import { ClipMeter } from '@pocket-twin/core/measure/stream/clipMeter.ts';
import { fillFrom } from '@pocket-twin/core/repair/plan/plans.ts';
import { turnsPlan } from '@pocket-twin/core/repair/plan/turnsPlan.ts';
import { proposeTurns } from '@pocket-twin/core/repair/propose/turns.ts';
import { noFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { Repair, Turn } from '@pocket-twin/core/schema/repair.ts';
import { withClipSound } from '@pocket-twin/media/read/clipSound.ts';
import { inspectFile } from '@pocket-twin/media/read/inspectFile.ts';
import { PcmFile } from '@pocket-twin/media/read/pcmFile.ts';
import { soundReader } from '@pocket-twin/media/read/soundReader.ts';
import { renderFile } from '@pocket-twin/media/write/renderFile.ts';

const TURNS = 200;
// The first round finds the code cold, as a server does once a day.
const WARM_ROUNDS = 3;
// Two channels of 24-bit words, behind the shortest head.
const BYTES_A_FRAME = 6;

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
else if (what === 'looks') console.log(JSON.stringify(await warmLooks(source)));
else await inspectFile(source, { outlineFolder: target });
const seconds = Number(process.hrtime.bigint() - start) / 1e9;
// What the kernel says of a process's usage begins with that of the one it was forked from; this is of the program alone.
const [, peakKilobytes] = /^VmHWM:\s+(\d+) kB/m.exec(readFileSync('/proc/self/status', 'utf8'))!;
console.log(JSON.stringify({ seconds, peakMegabytes: Number(peakKilobytes) / 1024 }));

/** Milliseconds of processor that each look at the clips of a folder takes, once the code is warm. */
async function warmLooks(folder: string): Promise<{ firstMs: number; secondMs: number }> {
  let [firstMs, secondMs] = [0, 0];
  const cpuMs = (): number => {
    const { user, system } = process.cpuUsage();
    return (user + system) / 1000;
  };
  for (let round = 0; round <= WARM_ROUNDS; round++) {
    [firstMs, secondMs] = [0, 0];
    for (const path of readdirSync(folder).map((name) => join(folder, name))) {
      const bytes = readFileSync(path).subarray(location.offsetBytes);
      const frames = bytes.length / BYTES_A_FRAME;
      const begin = cpuMs();
      const meter = new ClipMeter(location.sampleRate, 2, location.words);
      meter.push(bytes);
      const measurement = meter.finish();
      const between = cpuMs();
      const file = await PcmFile.open({ ...location, path, frames });
      await lookTwice(measurement, soundReader(file), async () => measurement).finally(() => file.close());
      firstMs += between - begin;
      secondMs += cpuMs() - between;
    }
  }
  return { firstMs, secondMs };
}

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
