import type { Lineup } from '@pocket-twin/core/schema/lineup.ts';

/** A row of the table: a setup with its clips, a clip with its channels where it is unfolded. */
export interface ClipItem {
  kind: 'clip';
  id: string;
  channels: ChannelItem[];
}

export interface ChannelItem {
  kind: 'channel';
  id: string;
  clipId: string;
  channel: number;
}

export interface SetupItem {
  kind: 'setup';
  id: string;
  clips: ClipItem[];
}

/** Of the clips that are in no setup. */
export const WITHOUT_SETUP = 'without-setup';
/** Of the clips that are each the only one of a setup. */
export const ON_THEIR_OWN = 'on-their-own';

/** Rows are made once and kept while nothing about them changes, so that React Aria builds anew only what did. */
export class TableItems {
  private readonly clips = new Map<string, ClipItem>();
  private readonly setups = new Map<string, SetupItem>();

  /**
   * @param channelsOf how many channels to show below a clip; 0 where it is folded
   * @param isLone whether a setup has one clip and no name from a person: these stand together, as a heading for each would be one line in two
   */
  grouped(groups: Lineup['groups'], channelsOf: (clipId: string) => number, isLone: (setupId: string) => boolean): SetupItem[] {
    return gathered(groups, isLone).map(({ id, ids }) => {
      const clips = ids.map((clipId) => this.clip(clipId, channelsOf(clipId)));
      const known = this.setups.get(id);
      if (known && known.clips.length === clips.length && known.clips.every((clip, i) => clip === clips[i])) return known;
      const item: SetupItem = { kind: 'setup', id, clips };
      this.setups.set(id, item);
      return item;
    });
  }

  flat(groups: Lineup['groups'], channelsOf: (clipId: string) => number): ClipItem[] {
    return groups.flatMap(({ ids }) => ids.map((id) => this.clip(id, channelsOf(id))));
  }

  private clip(id: string, channels: number): ClipItem {
    const known = this.clips.get(id);
    if (known?.channels.length === channels) return known;
    const item: ClipItem = {
      kind: 'clip', id, channels: Array.from({ length: channels }, (_, c) => ({ kind: 'channel', id: `${id}:${c + 1}`, clipId: id, channel: c + 1 })),
    };
    this.clips.set(id, item);
    return item;
  }
}

/** Setups in their order, then the lone ones together, then what is in none. */
function gathered(groups: Lineup['groups'], isLone: (setupId: string) => boolean): { id: string; ids: string[] }[] {
  const lone = groups.filter(({ setupId }) => setupId !== null && isLone(setupId));
  if (lone.length < 2) return groups.map(({ setupId, ids }) => ({ id: setupId ?? WITHOUT_SETUP, ids }));
  const others = groups.filter((group) => !lone.includes(group));
  return [
    ...others.flatMap(({ setupId, ids }) => (setupId === null ? [] : [{ id: setupId, ids }])),
    { id: ON_THEIR_OWN, ids: lone.flatMap(({ ids }) => ids) },
    ...others.flatMap(({ setupId, ids }) => (setupId === null ? [{ id: WITHOUT_SETUP, ids }] : [])),
  ];
}
