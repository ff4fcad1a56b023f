import { copiesAmong } from '@pocket-twin/core/diagnose/copies.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';

/** What is worth saying of a channel beside its name; null where nothing is. */
export function channelRemark(
  channel: number,
  {
    channels,
    duplicates,
    mixes,
    clearestChannel,
  }: Pick<Inspection, 'channels' | 'duplicates' | 'mixes' | 'clearestChannel'>,
): string | null {
  const { content, made } = channels[channel - 1];
  if (made) return made.kind;
  if (content !== 'programme') return content === 'silent' ? 'silent' : 'only noise';
  const kept = copiesAmong(duplicates, channels).get(channel);
  if (kept !== undefined) return `copy of ${kept}`;
  if (mixes.some((mix) => mix.channel === channel)) return 'mix';
  return clearestChannel === channel && channels.length > 1 ? 'clearest' : null;
}
