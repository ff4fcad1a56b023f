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

/** Rows are made once and kept while nothing about them changes, so that React Aria builds anew only what did. */
export class TableItems {
  private readonly clips = new Map<string, ClipItem>();
  private readonly setups = new Map<string, SetupItem>();

  /** @param channelsOf how many channels to show below a clip; 0 where it is folded */
  grouped(groups: Lineup['groups'], channelsOf: (clipId: string) => number): SetupItem[] {
    return groups.map(({ setupId, ids }) => {
      const id = setupId ?? WITHOUT_SETUP;
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
