import { packingFor, type Packing } from '../pcm/packing.ts';
import type { HandoffFormat } from '../schema/handoff.ts';
import { outputSuffixes } from '../repair/plan/outputNames.ts';
import type { Repair } from '../schema/repair.ts';

/** What a recording's files are called by. */
export interface NamedByFormat {
  fileName: string;
  container: string;
  hasVideo: boolean;
  /** null leaves it as it is. */
  repair: Repair | null;
  format: HandoffFormat;
  trackNames: readonly (string | null)[];
}

/** The files of one recording: with its picture they are one, as it was. @param stem with its folders, without suffix and ending */
export function pathsFor(
  { fileName, container, hasVideo, repair, format, trackNames }: NamedByFormat,
  stem: string,
): string[] {
  if (format === 'same' && (hasVideo || repair === null)) return [`${stem}${endingOf(fileName)}`];
  const ending = soundEnding(packingFor(format, container), fileName);
  const suffixes = repair === null ? [''] : outputSuffixes(repair, trackNames);
  return suffixes.map((suffix) => `${stem}${suffix}${ending}`);
}

/** A file of its own kind keeps its ending as it was written; what becomes another gets that one's. */
function soundEnding(packing: Packing | null, fileName: string): string {
  const own = endingOf(fileName);
  const isOwn =
    packing === null ? /^\.(wav|wave|bwf|rf64|bw64)$/i : packing === 'flac' ? /^\.flac$/i : /^\.(aif|aiff|aifc)$/i;
  return isOwn.test(own) ? own : `.${packing ?? 'wav'}`;
}

function endingOf(fileName: string): string {
  const dot = fileName.lastIndexOf('.');
  return dot > 0 ? fileName.slice(dot) : '';
}
