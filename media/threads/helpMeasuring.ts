import './fullSpeedKernels.ts';
import { parentPort } from 'node:worker_threads';
import { measureLaterPart } from '../read/measurePart.ts';
import type { HelperAnswer, HelperOrder } from './measuringHelper.ts';

// The other side of `MeasuringHelper`: does one thing, then the next.

const answer = (said: HelperAnswer): void => parentPort!.postMessage(said);

async function carryOut(order: HelperOrder): Promise<unknown> {
  if (order.kind === 'part') return measureLaterPart(order.part);
  // What the first look does not need is read when it is asked for: the thread begins the sooner.
  return (await import('../read/takeLook.ts')).takeLookAt(order.look);
}

parentPort!.on('message', (order: HelperOrder) => {
  carryOut(order).then(
    (value) => answer({ kind: 'done', value }),
    // Of an error only its message is kept between threads.
    (error: NodeJS.ErrnoException) => answer({ kind: 'failed', message: error.message, code: error.code }),
  );
});
answer({ kind: 'ready' });
