import { handOffClip } from '../media/handoff/handOffClip.ts';
import { inspectFile } from '../media/read/inspectFile.ts';
import { fillFrom } from '../core/repair/plan/plans.ts';
import { mkdirSync, rmSync } from 'node:fs';
rmSync('/tmp/film/o', { recursive: true, force: true }); mkdirSync('/tmp/film/o/s', { recursive: true });
const path = '/tmp/film/c.mov';
const { inspection, facts, pcm } = await inspectFile(path, { workingCopy: '/tmp/film/w.pcm' });
for (let i = 0; i < 3; i++) {
  const t = performance.now();
  await handOffClip({ clip: { path, inspection, facts, pcm: pcm!, sketch: null, sums: null, stamp: null }, repair: fillFrom(1, 2), span: null, folder: '/tmp/film/o', stem: `x${i}`, format: 'same', bits: 'same', scratch: '/tmp/film/o/s', inThreads: false, claim: async (p) => p }, () => undefined);
  console.log('clip', Math.round(performance.now() - t));
}
