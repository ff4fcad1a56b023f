import { basename } from 'node:path';
import type { Receipt } from '@pocket-twin/core/schema/receipt.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { HandoffClip } from './handoffOrder.ts';

/** Of what was done to a clip, where no level was calculated. */
export function receiptOf({ path, inspection, sketch }: HandoffClip, repair: Repair, files: Receipt['files']): Receipt {
  return {
    version: 1,
    source: basename(path),
    repair,
    levelGainDb: 0,
    before: inspection,
    sketch,
    files,
    writtenAt: new Date().toISOString(),
  };
}
