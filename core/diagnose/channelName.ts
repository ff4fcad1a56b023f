/** A channel in a sentence: a side in a stereo clip, a number in any other. */
export function channelName(channel: number, total: number): string {
  if (total === 2) return channel === 1 ? 'the left side' : 'the right side';
  return total === 1 ? 'this channel' : `channel ${channel}`;
}

export function capital(text: string): string {
  return text[0].toUpperCase() + text.slice(1);
}
