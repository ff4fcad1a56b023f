import type { ForecastEvent } from '@pocket-twin/core/schema/handoff.ts';

/** A track of the film as it will be. */
export interface Lane {
  name: string;
  /** It is added, for further files of clips. */
  isNew: boolean;
  events: { name: string; state: ForecastEvent['state']; startSeconds: number; endSeconds: number }[];
}

/** The tracks of an edit with what lies on each; behind each those that it gets for further files. */
export function lanesOf(events: readonly ForecastEvent[]): { lanes: Lane[]; startSeconds: number; endSeconds: number } {
  const byTrack = new Map<string, ForecastEvent[]>();
  for (const event of events) {
    if (event.recordStartSeconds === null || event.recordEndSeconds === null) continue;
    const track = event.track ?? 'Film';
    byTrack.set(track, [...(byTrack.get(track) ?? []), event]);
  }
  const placed = [...byTrack.values()].flat();
  const startSeconds = placed.reduce((least, event) => Math.min(least, event.recordStartSeconds!), Infinity);
  const endSeconds = placed.reduce((most, event) => Math.max(most, event.recordEndSeconds!), -Infinity);
  const lanes = [...byTrack].flatMap(([name, mine]) => {
    const most = Math.max(1, ...mine.map(({ files }) => files.length));
    return Array.from({ length: most }, (_, i): Lane => {
      const here = i === 0 ? mine : mine.filter(({ files }) => files.length > i);
      const labels = [...new Set(here.map(({ files }) => files[i]?.label ?? ''))].filter((label) => label !== '');
      return {
        name: i === 0 ? name : labels.join(', ') || name,
        isNew: i > 0,
        events: here.map((event) => ({
          ...{ name: event.name, state: event.state },
          startSeconds: event.recordStartSeconds!,
          endSeconds: event.recordEndSeconds!,
        })),
      };
    });
  });
  return { lanes, startSeconds, endSeconds };
}
