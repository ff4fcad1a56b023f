import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import * as plans from '@pocket-twin/core/repair/plan/plans.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { inspectFile } from '@pocket-twin/media/read/inspectFile.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { writeInterview } from './interview.ts';

// How soon the numbers of a plan are there for a clip of an hour, asked of a worker thread as the server does, and how near they are to what the whole gives.
const MOST_SECONDS = 1;
const MOST_LU_OFF = 0.5;

const folder = mkdtempSync(join(tmpdir(), 'pocket-twin-bench-'));
try {
  const path = join(folder, 'hour.wav');
  await writeInterview(path);
  const source = (await inspectFile(path)).pcm!;
  const late = [{ channel: 1, gainDb: -1, polarity: 'normal' as const, delaySamples: 12.5 }];
  const wanted: [what: string, repair: Repair][] = [
    ['a sum to mono', plans.sumToMono(2)],
    ['a delay of 12.5 samples', { ...plans.leaveAsItIs(2), action: 'trim', trims: late }],
  ];
  // The thread is there when a person turns a knob.
  await inThread('forecast', { source, repair: plans.sumToMono(2), quick: true });
  for (const [what, repair] of wanted) {
    const seconds: number[] = [];
    let quick = await inThread('forecast', { source, repair, quick: true });
    for (let round = 0; round < 3; round++) {
      const began = performance.now();
      quick = await inThread('forecast', { source, repair, quick: true });
      seconds.push((performance.now() - began) / 1000);
    }
    const whole = await inThread('forecast', { source, repair, quick: false });
    const off = Math.max(
      ...whole.channels.map(({ loudnessLufs }, c) => Math.abs(loudnessLufs! - quick.channels[c].loudnessLufs!)),
    );
    const median = seconds.sort((a, b) => a - b)[1];
    console.log(
      `numbers of ${what} for one hour: ${median.toFixed(2)} s (bar ${MOST_SECONDS}), ${off.toFixed(2)} LU off what the whole gives (bar ${MOST_LU_OFF})`,
    );
    if (median > MOST_SECONDS || off > MOST_LU_OFF) process.exitCode = 1;
  }
} finally {
  rmSync(folder, { recursive: true });
}
process.exit();
