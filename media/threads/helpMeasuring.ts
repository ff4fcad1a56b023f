import './fullSpeedKernels.ts';
import { parentPort } from 'node:worker_threads';
import { measureLaterPart } from '../read/measurePart.ts';
import type { HelperAnswer, HelperOrder } from './measuringHelper.ts';

// The other side of `MeasuringHelper`: a part of a clip is measured, then the next; then its channels are looked at.

const answer = (said: HelperAnswer): void => parentPort!.postMessage(said);

async function done(wanted: HelperOrder): Promise<HelperAnswer> {
  if (wanted.kind === 'part') return { kind: 'measured', measured: await measureLaterPart(wanted.part) };
  // Read when it is wanted: a thread that measures is to be ready soon.
  const { lookAtChannelsOf } = await import('../read/lookAtChannels.ts');
  return { kind: 'looked', looks: await lookAtChannelsOf(wanted.order) };
}

parentPort!.on('message', (wanted: HelperOrder) => {
  done(wanted).then(
    answer,
    // Of an error only its message is kept between threads.
    (error: NodeJS.ErrnoException) => answer({ kind: 'failed', message: error.message, code: error.code }),
  );
});
answer({ kind: 'ready' });
