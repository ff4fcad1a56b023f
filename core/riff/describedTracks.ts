import type { WrittenTrack } from './trackList.ts';

// Recorders without iXML name their tracks in the description, a line each: "sTRK2=boom".
const TRACK_LINE = /^(\w?TRK)(\d+)=(.*)$/;
// What most of them write; another's own way is kept.
const USUAL_PREFIX = 'sTRK';

/** Whether a description has lines that name tracks. */
export function namesTracks(description: string): boolean {
  return description.split(/[\r\n]+/).some((line) => TRACK_LINE.test(line));
}

/** The names that a description's track lines give the channels; null where it names none of them. */
export function tracksFromDescription(description: string, channels: number): (string | null)[] | null {
  const names = Array<string | null>(channels).fill(null);
  for (const line of description.split(/[\r\n]+/)) {
    const [, , number, name = ''] = TRACK_LINE.exec(line) ?? [];
    if (Number(number) >= 1 && Number(number) <= channels && name.trim() !== '')
      names[Number(number) - 1] = name.trim();
  }
  return names.some((name) => name !== null) ? names : null;
}

/** A description with track lines that say what is on the channels of the written file; anything else in it stays as it was. */
export function describedTracks(description: string, tracks: readonly WrittenTrack[]): string {
  const lines = description.split(/\r?\n/);
  const prefix = lines.map((line) => TRACK_LINE.exec(line)?.[1]).find(Boolean) ?? USUAL_PREFIX;
  const written = tracks.flatMap(({ name }, i) => (name === null ? [] : [`${prefix}${i + 1}=${name}`]));
  return [...lines.filter((line) => !TRACK_LINE.test(line) && line !== ''), ...written].join('\r\n');
}

/** The description without its track lines, for whoever reads it. */
export function withoutTrackLines(description: string): string {
  return description
    .split(/\r?\n/)
    .filter((line) => !TRACK_LINE.test(line))
    .join('\n');
}
