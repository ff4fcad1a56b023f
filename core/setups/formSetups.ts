import { KIN, kinship, SetupProfile } from './kinship.ts';
import { naturalOrder } from './namePattern.ts';
import type { SetupClip } from './setupClip.ts';

/** A setup as it stands before it is formed again. */
export interface KnownSetup {
  id: string;
  /** All clips that are there now. */
  members: string[];
  /** A person named it, moved clips into or out of it, or decided something about it: what is in it stays in it, and nothing else comes but newcomers. */
  touched: boolean;
}

export interface FormedSetup {
  /** null for a new one. */
  id: string | null;
  clips: SetupClip[];
}

/**
 * Puts clips together by what they were recorded with. What a person has touched is theirs: no clip leaves it by itself, and only newcomers, which
 * were in no setup yet, join it by likeness. The others always form the same setups, in whatever order they came.
 */
export function formSetups(clips: SetupClip[], known: KnownSetup[]): FormedSetup[] {
  const byId = new Map(clips.map((clip) => [clip.id, clip]));
  const placed = new Set<string>();
  const touched = known
    .filter((setup) => setup.touched)
    .map(({ id, members }): Forming => {
      const profile = new SetupProfile();
      for (const clipId of members) {
        const clip = byId.get(clipId);
        if (!clip) continue;
        profile.add(clip);
        placed.add(clipId);
      }
      return { id, profile };
    });
  const housed = new Set(known.flatMap(({ members }) => members));
  const formed: Forming[] = [];
  const free = clips
    .filter(({ id }) => !placed.has(id))
    .sort((a, b) => naturalOrder(a.folder, b.folder) || naturalOrder(a.fileName, b.fileName) || (a.id < b.id ? -1 : 1));
  // Those that name their recorder first: they found setups that the silent ones can join.
  free.sort((a, b) => Number(a.recorder === null) - Number(b.recorder === null));
  for (const clip of free) {
    const home = nearest(clip, housed.has(clip.id) ? formed : [...touched, ...formed]);
    if (home) home.profile.add(clip);
    else {
      const profile = new SetupProfile();
      profile.add(clip);
      formed.push({ id: null, profile });
    }
  }
  keepIds(
    formed,
    known.filter((setup) => !setup.touched),
  );
  return [...touched, ...formed].map(({ id, profile }) => ({
    id,
    clips: [...profile.members].sort((a, b) => naturalOrder(a.fileName, b.fileName)),
  }));
}

type Forming = { id: string | null; profile: SetupProfile };

function nearest(clip: SetupClip, formed: Forming[]): Forming | null {
  let best: Forming | null = null;
  let most = KIN;
  for (const one of formed) {
    if (one.profile.members.length === 0) continue;
    const score = kinship(clip, one.profile);
    if (score > most || (score === most && best === null)) {
      best = one;
      most = score;
    }
  }
  return best;
}

/** A setup formed anew is the one it shares most clips with, so that nothing jumps about on the screen. */
function keepIds(formed: Forming[], known: KnownSetup[]): void {
  const taken = new Set(formed.map(({ id }) => id));
  const homeOf = new Map(known.flatMap(({ id, members }) => members.map((clipId) => [clipId, id])));
  for (const one of [...formed].sort((a, b) => b.profile.members.length - a.profile.members.length)) {
    if (one.id !== null) continue;
    const counts = new Map<string, number>();
    for (const { id } of one.profile.members) {
      const home = homeOf.get(id);
      if (home && !taken.has(home)) counts.set(home, (counts.get(home) ?? 0) + 1);
    }
    const [best] = [...counts].sort(([, a], [, b]) => b - a);
    if (!best) continue;
    [one.id] = best;
    taken.add(best[0]);
  }
}
