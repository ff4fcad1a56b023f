import { exactPlan } from '@pocket-twin/core/repair/exactPlan.ts';
import { repairFromSuggestion } from '@pocket-twin/core/repair/fromSuggestion.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';

/** What a repair does to the samples and what it leaves out, honestly. */
export function repairNote(repair: Repair, inspection: Inspection): string {
  const used = new Set(repair.outputs.flatMap(({ routes }) => routes.flatMap((route) => route.map(({ from }) => from))));
  const left = inspection.channels.filter(({ channel }) => !used.has(channel));
  const lost = left.filter(({ content }) => content === 'programme');
  const same = inspection.verdict === 'dual-mono' || inspection.verdict === 'fake-stereo';
  const parts = [exactPlan(repair) ? 'Samples are copied, not recalculated.' : 'Samples are calculated and dithered.'];
  const suggested = repairFromSuggestion(inspection);
  const nothingLost = suggested !== null && JSON.stringify(suggested) === JSON.stringify(repair);
  if (lost.length > 0 && !same && nothingLost) parts.push('What is left out has nothing of its own.');
  else if (lost.length > 0 && !same) parts.push('The channel that is left out carries programme of its own.');
  else if (left.length > 0) parts.push(same ? inspection.verdict === 'dual-mono' ? 'The other side is the same signal.' : 'The other side is this signal in disguise.' : 'What is left out holds no programme.');
  if (repair.action === 'fill') parts.push('Both sides will be the same: this is mono on two channels, not stereo.');
  if (repair.action === 'sum' && inspection.verdict === 'one-sided') parts.push('Summing adds the dead side’s noise: filling is cleaner.');
  return parts.join(' ');
}
