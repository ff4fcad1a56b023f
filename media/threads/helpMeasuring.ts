import './fullSpeedKernels.ts';
import { parentPort } from 'node:worker_threads';
import { measureLaterPart, type LaterPart } from '../read/measurePart.ts';
import type { HelperAnswer } from './measuringHelper.ts';

// The other side of `MeasuringHelper`: a part of a clip is measured, then the next.

const answer = (said: HelperAnswer): void => parentPort!.postMessage(said);

parentPort!.on('message', (wanted: LaterPart) => {
  measureLaterPart(wanted).then(
    (measured) => answer({ kind: 'done', measured }),
    // Of an error only its message is kept between threads.
    (error: NodeJS.ErrnoException) => answer({ kind: 'failed', message: error.message, code: error.code }),
  );
});
answer({ kind: 'ready' });
