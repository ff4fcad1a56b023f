import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';

/** What is worth saying of a channel beside its name; null where nothing is. */
export function channelRemark(
  channel: number,
  { channels, duplicates, clearestChannel }: Pick<Inspection, 'channels' | 'duplicates' | 'clearestChannel'>,
): string | null {
  const { content, made } = channels[channel - 1];
  if (made) return made.kind;
  if (content !== 'programme') return content === 'silent' ? 'silent' : 'only noise';
  const first = duplicates.find((group) => group.indexOf(channel) > 0)?.[0];
  if (first !== undefined) return `copy of ${first}`;
  return clearestChannel === channel && channels.length > 1 ? 'clearest' : null;
}
