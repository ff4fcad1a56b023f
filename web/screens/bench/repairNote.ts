import { exactPlan } from '@pocket-twin/core/repair/exactPlan.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';

/** What a repair does to the samples and what it leaves out, honestly. */
export function repairNote(repair: Repair, inspection: Inspection): string {
  const used = new Set(repair.outputs.flatMap(({ routes }) => routes.flatMap((route) => route.map(({ from }) => from))));
  const left = inspection.channels.filter(({ channel }) => !used.has(channel));
  const lost = left.filter(({ content }) => content === 'programme');
  const same = inspection.verdict === 'dual-mono';
  const parts = [exactPlan(repair) ? 'Samples are copied, not recalculated.' : 'Samples are calculated and dithered.'];
  if (lost.length > 0 && !same) parts.push('The channel that is left out carries programme of its own.');
  else if (left.length > 0) parts.push(same ? 'The other side is the same signal.' : 'What is left out holds no programme.');
  if (repair.action === 'fill') parts.push('Both sides will be the same: this is mono on two channels, not stereo.');
  if (repair.action === 'sum' && inspection.verdict === 'one-sided') parts.push('Summing adds the dead side’s noise: filling is cleaner.');
  return parts.join(' ');
}
