import { verdictWords } from '@pocket-twin/core/lineup/words.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { sayDecibels } from '@pocket-twin/core/signal/sayDecibels.ts';
import { channelLabel } from '../../parts/channelWords.ts';
import { sayTime } from '@pocket-twin/core/time/sayTime.ts';

const MOST_SECTIONS = 12;

/** The drawing for who does not see it: what is drawn, how loud each channel is, and what changes where. */
export function ribbonWords({
  channels,
  format,
  sections,
  pairs,
}: Pick<Inspection, 'channels' | 'format' | 'sections' | 'pairs'>): string {
  const levels = channels.map(
    ({ channel, peakDbfs, loudnessLufs }) =>
      `${channelLabel(channel, channels.length)}: ${loudnessLufs === null ? 'silent' : `${sayDecibels(loudnessLufs, 'LUFS')}, peak ${sayDecibels(peakDbfs, 'dBFS')}`}.`,
  );
  const difference =
    channels.length === 2 && pairs[0]
      ? [
          `The difference ${pairs[0].nullDepthDb === null ? 'is nothing at all' : `lies ${sayDecibels(pairs[0].nullDepthDb, 'dB')} against the sum`}.`,
        ]
      : [];
  const parts =
    sections.length > 1
      ? sections
          .slice(0, MOST_SECTIONS)
          .map(
            ({ startSeconds, endSeconds, verdict, side }) =>
              `${sayTime(startSeconds, 1)} to ${sayTime(endSeconds, 1)}: ${verdictWords(verdict, side)}.`,
          )
      : [];
  const layout =
    channels.length === 2
      ? 'left rises above a seam, right hangs below it, and under both stands what differs'
      : 'one lane a channel';
  return [`The level over ${sayTime(format.durationSeconds, 1)}: ${layout}.`, ...levels, ...difference, ...parts].join(
    ' ',
  );
}
