import type { ChannelReport } from '../../schema/inspection.ts';

// What is raised to be compared must not clip the speakers.
const CEILING_DBTP = -1;

/**
 * The gain in dB that brings each channel that speaks to one loudness, for choosing between them by ear: louder always sounds better. It is the
 * highest that the loudest peaks of all allow, no louder than the loudest of them. A channel without programme stays as it is.
 */
export function matchedGainsDb(channels: readonly ChannelReport[]): number[] {
  const speaking = channels.flatMap(({ content, loudnessLufs, truePeakDbtp }) =>
    content === 'programme' && loudnessLufs !== null ? [{ loudnessLufs, peak: truePeakDbtp ?? -Infinity }] : [],
  );
  const loudest = Math.max(...speaking.map(({ loudnessLufs }) => loudnessLufs));
  const highest = Math.min(
    ...speaking.map(({ loudnessLufs, peak }) => loudnessLufs + Math.max(0, CEILING_DBTP - peak)),
  );
  const target = Math.min(loudest, highest);
  return channels.map(({ content, loudnessLufs }) =>
    content === 'programme' && loudnessLufs !== null ? target - loudnessLufs : 0,
  );
}
