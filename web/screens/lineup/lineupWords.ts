import { repairName } from '@pocket-twin/core/repair/describe.ts';
import { repairFromSuggestion } from '@pocket-twin/core/repair/fromSuggestion.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import { worstSeverity } from '../../parts/severity.ts';

export interface LineupHead {
  headline: string;
  detail: string;
}

/** What the project needs, in words. */
export function lineupHead(clips: Clip[]): LineupHead {
  const measured = clips.filter((clip) => clip.inspection);
  const toFix = measured.filter((clip) => worstSeverity(clip) === 'fix');
  const toLook = measured.filter((clip) => worstSeverity(clip) === 'look').length;
  const failed = clips.filter((clip) => clip.state === 'failed').length;
  const open = clips.length - measured.length - failed;
  const parts = [
    toLook > 0 && `${toLook} ${toLook === 1 ? 'needs' : 'need'} a look.`,
    failed > 0 && `${failed} could not be read.`,
    open > 0 && `${open} still being measured.`,
  ];
  const detail = parts.filter(Boolean).join(' ');
  if (measured.length === 0) return { headline: open > 0 ? 'Measuring ...' : 'Nothing could be read.', detail };
  const headline = toFix.length === 0
    ? 'Nothing would play wrong.'
    : `${toFix.length} of ${clips.length} clips would play wrong.`;
  return { headline, detail: detail || 'Everything has been measured.' };
}

/** What stands in the last column: the repair that is kept, or what is suggested. */
export function repairWords(clip: Clip): { words: string; tone: 'kept' | 'suggested' | 'look' | 'none' } {
  if (clip.repair) return { words: repairName(clip.repair), tone: 'kept' };
  if (!clip.inspection) return { words: '', tone: 'none' };
  if (clip.inspection.suggestion.action === 'none') return { words: 'Leave as it is', tone: 'none' };
  const repair = repairFromSuggestion(clip.inspection);
  return repair ? { words: repairName(repair), tone: 'suggested' } : { words: 'Look first', tone: 'look' };
}
