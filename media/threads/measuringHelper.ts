import { once } from 'node:events';
import { createRequire } from 'node:module';
import { Worker } from 'node:worker_threads';
import type { ChannelLook } from '@pocket-twin/core/measure/channelLook.ts';
import type { ChannelsOrder } from '../read/lookAtChannels.ts';
import type { LaterPart, MeasuredPart } from '../read/measurePart.ts';
import { THREAD_LIMITS } from './threadLimits.ts';

export type HelperOrder = { kind: 'part'; part: LaterPart } | { kind: 'channels'; order: ChannelsOrder };

export type HelperAnswer =
  | { kind: 'ready' }
  | { kind: 'measured'; measured: MeasuredPart }
  | { kind: 'looked'; looks: ChannelLook[] }
  | { kind: 'failed'; message: string; code: string | undefined };

// By name, as this may be part of a built program that lies elsewhere.
const BOOT = createRequire(import.meta.url).resolve('@pocket-twin/media/threads/bootHelper.mjs');

/** A thread that measures parts of one file beside the thread that begins with it, and looks at its channels. Not one of the pool's, which load far more: it is to be ready soon. */
export class MeasuringHelper {
  /** That it has begun, or cannot. */
  readonly ready: Promise<void>;
  private readonly worker = new Worker(BOOT, { resourceLimits: THREAD_LIMITS });

  /** Never comes well. */
  private readonly ended = once(this.worker, 'exit').then((): never => {
    throw new Error('The thread that helps to measure has ended.');
  });

  constructor() {
    this.ended.catch(() => undefined);
    this.ready = this.answer().then(() => undefined);
  }

  /** One part at a time, and nothing else meanwhile. */
  async measure(part: LaterPart): Promise<MeasuredPart> {
    const answer = await this.ask({ kind: 'part', part });
    if (answer.kind === 'measured') return answer.measured;
    throw failure(answer);
  }

  /** Each channel of a clip by itself, once nothing is measured any more. */
  async lookAtChannels(order: ChannelsOrder): Promise<ChannelLook[]> {
    await this.ready;
    const answer = await this.ask({ kind: 'channels', order });
    if (answer.kind === 'looked') return answer.looks;
    throw failure(answer);
  }

  end(): void {
    this.worker.terminate().catch(() => undefined);
  }

  private async ask(order: HelperOrder): Promise<HelperAnswer> {
    const answered = this.answer();
    this.worker.postMessage(order);
    return answered;
  }

  /** The next thing it says. @throws what ended it */
  private async answer(): Promise<HelperAnswer> {
    const [said] = (await Promise.race([once(this.worker, 'message'), this.ended])) as [HelperAnswer];
    return said;
  }
}

function failure(answer: HelperAnswer): Error {
  return Object.assign(new Error('message' in answer ? answer.message : 'Nothing was measured.'), answer);
}
