import type { Clip } from '@pocket-twin/core/schema/clip.ts';

/** "mono", "stereo", "4 channels", with "video" where there is a picture. */
export function channelWords(clip: Clip): string {
  if (!clip.inspection) return '';
  const { channels, hasVideo } = clip.inspection.format;
  const layout = channels === 1 ? 'mono' : channels === 2 ? 'stereo' : `${channels} channels`;
  return hasVideo ? `${layout}, video` : layout;
}
