/** "stereo", "2 mono streams", "a stereo and a mono stream": sound streams by how many channels each has. */
export function layoutWords(streams: readonly number[]): string {
  if (streams.length === 0) return 'no sound';
  if (streams.length === 1) return oneStream(streams[0]);
  const kinds = [...new Set(streams)];
  if (kinds.length === 1) return `${streams.length} ${oneStream(kinds[0])} streams`;
  return `${streams.length} streams (${streams.map(oneStream).join(', ')})`;
}

function oneStream(channels: number): string {
  return channels === 1 ? 'mono' : channels === 2 ? 'stereo' : `${channels}-channel`;
}
