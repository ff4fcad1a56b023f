import { repairName } from '../repair/plan/describe.ts';
import { repairFromSuggestion } from '../repair/plan/fromSuggestion.ts';
import type { Sketch } from '../schema/sketch.ts';
import type { Inspection } from '../schema/inspection.ts';
import type { LineupSummary } from '../schema/lineup.ts';
import { SEVERITIES, type ClipVerdict } from '../schema/verdict.ts';
import { tellingSpan } from './tellingSpan.ts';

/** The word that a clip is filed under: where nothing was recorded it is silent, however many channels nothing was recorded on. */
function filedUnder({ verdict, channels }: Pick<Inspection, 'verdict' | 'channels'>): ClipVerdict {
  return channels.every(({ content }) => content !== 'programme') ? 'silent' : verdict;
}

/** What a list needs of an inspection. */
export function summarise(inspection: Inspection, sketch: Sketch): LineupSummary {
  const { format, channels, pairs, findings, suggestion } = inspection;
  const repair = repairFromSuggestion(inspection);
  return {
    verdict: filedUnder(inspection),
    side: channels.length === 2 ? pairs[0].side : null,
    severity: SEVERITIES.find((severity) => findings.some((finding) => finding.severity === severity)) ?? null,
    headline: inspection.headline,
    fact: inspection.detail.split('. ')[0].replace(/\.$/, ''),
    cause: inspection.cause,
    warning: format.warning,
    durationSeconds: format.durationSeconds,
    frames: format.frames,
    sampleRate: format.sampleRate,
    bitDepth: format.bitDepth,
    codec: format.codec,
    hasVideo: format.hasVideo,
    channels: channels.map(({ channel, content, loudnessLufs, peakDbfs, noiseFloorDbfs }) => ({
      channel,
      content,
      loudnessLufs,
      peakDbfs,
      noiseFloorDbfs,
    })),
    balanceLu: pairs[0]?.balanceLu ?? null,
    suggestion: { action: suggestion.action, name: repair && repairName(repair) },
    telling: tellingSpan(inspection, sketch),
  };
}
