/** "mono", "stereo", "4 channels", with "video" where there is a picture. */
export function channelWords(channels: number, hasVideo: boolean): string {
  const layout = channels === 1 ? 'mono' : channels === 2 ? 'stereo' : `${channels} channels`;
  return hasVideo ? `${layout}, video` : layout;
}

/** "Left" and "Right" where there are two, else "Channel 3"; with the name it was given behind it. */
export function channelLabel(channel: number, channels: number, name: string | null = null): string {
  const label = channels === 1 ? 'Mono' : channels === 2 ? (channel === 1 ? 'Left' : 'Right') : `Channel ${channel}`;
  return name ? `${label} · ${name}` : label;
}
