import { KIN, kinship, SetupProfile } from './kinship.ts';
import { naturalOrder } from './namePattern.ts';
import type { SetupClip } from './setupClip.ts';

/** A setup as it stands before it is formed again. */
export interface KnownSetup {
  id: string;
  /** Clips that a person put there: they stay. */
  fixed: string[];
  /** All clips that are there now. */
  members: string[];
  /** A person named it or decided something about it: it stays, even when it is empty. */
  kept: boolean;
}

export interface FormedSetup {
  /** null for a new one. */
  id: string | null;
  clips: SetupClip[];
}

/**
 * Puts clips together by what they were recorded with. What a person decided is kept: clips that were put somewhere stay there, and newcomers
 * are held against them. The same clips always form the same setups, in whatever order they came.
 */
export function formSetups(clips: SetupClip[], known: KnownSetup[]): FormedSetup[] {
  const byId = new Map(clips.map((clip) => [clip.id, clip]));
  const placed = new Set<string>();
  const formed = known.filter(({ kept, fixed }) => kept || fixed.some((id) => byId.has(id))).map(({ id, fixed, members, kept }) => {
    const profile = new SetupProfile();
    // One that was only named is known by the clips it had.
    const seeds = fixed.some((clipId) => byId.has(clipId)) || !kept ? fixed : members;
    for (const clipId of seeds) {
      const clip = byId.get(clipId);
      if (!clip || placed.has(clipId)) continue;
      profile.add(clip);
      placed.add(clipId);
    }
    return { id: id as string | null, profile };
  });
  const free = clips.filter(({ id }) => !placed.has(id)).sort((a, b) => (
    naturalOrder(a.folder, b.folder) || naturalOrder(a.fileName, b.fileName) || (a.id < b.id ? -1 : 1)
  ));
  // Those that name their recorder first: they found setups that the silent ones can join.
  free.sort((a, b) => Number(a.recorder === null) - Number(b.recorder === null));
  for (const clip of free) {
    const home = nearest(clip, formed);
    if (home) home.profile.add(clip);
    else {
      const profile = new SetupProfile();
      profile.add(clip);
      formed.push({ id: null, profile });
    }
  }
  keepIds(formed, known);
  return formed.map(({ id, profile }) => ({ id, clips: [...profile.members].sort((a, b) => naturalOrder(a.fileName, b.fileName)) }));
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
