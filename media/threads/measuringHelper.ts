import { once } from 'node:events';
import { createRequire } from 'node:module';
import { setImmediate as nextTurn } from 'node:timers/promises';
import { Worker } from 'node:worker_threads';
import type { Elsewhere, Found, Look } from '@pocket-twin/core/measure/looks.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import type { LaterPart, MeasuredPart } from '../read/measurePart.ts';
import type { LookOrder } from '../read/takeLook.ts';

export type HelperOrder = { kind: 'part'; part: LaterPart } | { kind: 'look'; look: LookOrder };

export type HelperAnswer =
  { kind: 'ready' } | { kind: 'done'; value: unknown } | { kind: 'failed'; message: string; code: string | undefined };

// By name, as this may be part of a built program that lies elsewhere.
const BOOT = createRequire(import.meta.url).resolve('@pocket-twin/media/threads/bootHelper.mjs');
// Most of what it makes is short-lived.
const YOUNG_MB = 8;

/** A thread that helps to measure one file, one thing at a time. Not one of the pool's, which load far more: it is to be ready soon. */
export class MeasuringHelper {
  /** That it has begun, or cannot. */
  readonly ready: Promise<void>;
  private readonly worker = new Worker(BOOT, { resourceLimits: { maxYoungGenerationSizeMb: YOUNG_MB } });

  /** Never comes well. */
  private readonly ended = once(this.worker, 'exit').then((): never => {
    throw new Error('The thread that helps to measure has ended.');
  });
  private hasBegun = false;

  constructor() {
    this.ended.catch(() => undefined);
    this.ready = this.answer().then(() => {
      this.hasBegun = true;
    });
  }

  async measure(part: LaterPart): Promise<MeasuredPart> {
    return (await this.carryOut({ kind: 'part', part })) as MeasuredPart;
  }

  /** The second look's helper, once there is nothing left to be measured; null where it has not begun by then, as nobody waits for that. */
  looksAt(sound: PcmLocation): Elsewhere | null {
    if (!this.hasBegun) return null;
    return {
      take: async (look, about) => {
        const order: LookOrder = { look, about: { ...about, pairs: [] }, sound };
        return (await this.carryOut({ kind: 'look', look: order })) as Found[Look['kind']];
      },
      turn: () => nextTurn(),
    };
  }

  async end(): Promise<void> {
    await this.worker.terminate();
  }

  private async carryOut(order: HelperOrder): Promise<unknown> {
    const answered = this.answer();
    this.worker.postMessage(order);
    const answer = await answered;
    if (answer.kind === 'done') return answer.value;
    throw Object.assign(new Error('message' in answer ? answer.message : 'It said something else.'), answer);
  }

  /** The next thing it says. @throws what ended it */
  private async answer(): Promise<HelperAnswer> {
    const [said] = (await Promise.race([once(this.worker, 'message'), this.ended])) as [HelperAnswer];
    return said;
  }
}
