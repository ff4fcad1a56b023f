import { leaveAsItIs, selectChannel } from '@pocket-twin/core/repair/plan/plans.ts';
import type { LineupRow } from '@pocket-twin/core/schema/lineup.ts';
import { inBackground } from '../parts/inBackground.ts';
import type { AppDispatch } from './store.ts';
import { Player } from '../listen/player.ts';
import { hearingBegan, hearingEnded, newsCame } from './lineupSlice.ts';

const REST_MS = 450;

/** Plays the most telling seconds of a clip, or one of its channels alone, without leaving the list. One at a time. */
export class LineupPlayer {
  private resting: ReturnType<typeof setTimeout> | undefined;
  /** The clip that is heard only for as long as the pointer is on it. */
  private hovered: string | null = null;
  private current: { player: Player; key: string; stop: () => void } | null = null;

  constructor(private readonly dispatch: AppDispatch) {}

  /** Begins after the pointer has rested on a clip for a moment. */
  hover(row: LineupRow): void {
    clearTimeout(this.resting);
    this.resting = setTimeout(() => {
      if (this.current) return;
      this.toggle(row);
      this.hovered = row.id;
    }, REST_MS);
  }

  /** The pointer has left: what began by resting ends. */
  leave(): void {
    clearTimeout(this.resting);
    if (this.hovered !== null) this.end();
  }

  /** A press keeps what began by resting, and otherwise begins or ends. */
  press(row: LineupRow): void {
    clearTimeout(this.resting);
    if (this.hovered === row.id) this.hovered = null;
    else this.toggle(row);
  }

  /** Begins; the same once more ends it. */
  toggle(row: LineupRow, channel: number | null = null): void {
    const key = `${row.id} ${channel}`;
    const same = this.current?.key === key;
    this.end();
    if (!same && row.summary) this.begin(row, row.summary, channel, key);
  }

  end(): void {
    this.current?.stop();
    this.current?.player.close();
    this.current = null;
    this.hovered = null;
    this.dispatch(hearingEnded());
  }

  private begin(row: LineupRow, summary: NonNullable<LineupRow['summary']>, channel: number | null, key: string): void {
    const { channels, frames, sampleRate, telling } = summary;
    const trouble = (sentence: string): void => {
      this.dispatch(newsCame({ kind: 'said', projectId: row.projectId, tone: 'fix', sentence }));
      this.end();
    };
    const player = new Player(row.id, channels.length, frames, sampleRate, trouble);
    player.setRepair(channel === null ? leaveAsItIs(channels.length) : selectChannel(channel, channels.length));
    player.hear('both', channel === null ? 'before' : 'after');
    player.seek(telling.startSeconds * sampleRate);
    const stop = player.subscribe(({ frame }) => {
      if (frame >= telling.endSeconds * sampleRate) this.end();
    });
    this.current = { player, key, stop };
    this.dispatch(hearingBegan({ clipId: row.id, channel }));
    inBackground(player.toggle());
  }
}
