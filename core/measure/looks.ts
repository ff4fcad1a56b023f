import type { ChannelMeasurement, Measurement } from './measurement.ts';
import { lookAgain, type LookRange } from './pair/lookAgain.ts';
import type { PairMatch } from './pair/pairMatch.ts';
import { placeBoundary, type SurePart } from './sections/placeBoundary.ts';
import type { SoundReader } from './soundReader.ts';
import { channelTone } from './spectra/channelTone.ts';
import { madeSignal } from './spectra/madeSignal.ts';

/** A look at single stretches that needs nothing but the first look and the sound: whoever has both can take it. Plain data, as it may go to another thread. */
export type Look =
  | { kind: 'channel'; channel: number }
  | { kind: 'match'; channels: [number, number]; range: LookRange }
  | { kind: 'boundary'; channels: [number, number]; before: SurePart; after: SurePart };

export interface Found {
  channel: Pick<ChannelMeasurement, 'tone' | 'made'>;
  match: PairMatch | null;
  /** The block with which the later part begins. */
  boundary: number | null;
}

type Kind = Look['kind'];
type Of<K extends Kind> = Extract<Look, { kind: K }>;

/** Somebody else who has the sound. One look at a time. */
export interface Elsewhere {
  take(look: Look, about: Measurement): Promise<Found[Kind]>;
  /** Lets in what was found there. */
  turn(): Promise<void>;
}

interface Waiting {
  look: Look;
  about: Measurement;
  /** Since somebody has begun. */
  found: Promise<Found[Kind]> | null;
}

export type Asked<K extends Kind> = Waiting & { look: { kind: K } };

/**
 * Looks that are asked for before they are needed: here they are taken in the order in which they are needed, elsewhere from the last one on, so that two
 * meet in the middle. What is found is the same wherever it is.
 */
export class Looks {
  private readonly waiting: Waiting[] = [];
  private isAway = false;

  constructor(
    private readonly read: SoundReader,
    private readonly elsewhere: Elsewhere | null = null,
  ) {}

  ask<K extends Kind>(look: Of<K>, about: Measurement): Asked<K> {
    const asked = { look, about, found: null };
    this.waiting.push(asked);
    this.giveAway();
    return asked;
  }

  async answer<K extends Kind>(asked: Asked<K>): Promise<Found[K]> {
    if (!asked.found) await this.elsewhere?.turn();
    if (!asked.found) {
      this.waiting.splice(this.waiting.indexOf(asked), 1);
      asked.found = takeLook(asked.look, asked.about, this.read);
    }
    return asked.found as Promise<Found[K]>;
  }

  private giveAway(): void {
    if (!this.elsewhere || this.isAway) return;
    const last = this.waiting.pop();
    if (!last) return;
    this.isAway = true;
    const found = this.elsewhere.take(last.look, last.about);
    // Where the other cannot, it is done here.
    last.found = found.catch(() => takeLook(last.look, last.about, this.read));
    // Who needs it hears of what went wrong.
    last.found.catch(() => undefined);
    const isBack = (): void => {
      this.isAway = false;
      this.giveAway();
    };
    found.then(isBack, isBack);
  }
}

export async function takeLook(look: Look, about: Measurement, read: SoundReader): Promise<Found[Kind]> {
  switch (look.kind) {
    case 'channel': {
      const channel = about.channels[look.channel - 1];
      return {
        tone: await channelTone(about, channel, read),
        made: about.channels.length > 1 ? await madeSignal(about, channel, read) : null,
      };
    }
    case 'match':
      return lookAgain(about, look.channels, read, look.range);
    case 'boundary':
      return placeBoundary(look.before, look.after, about, async (startFrame, frames) => {
        const [left, right] = await read(startFrame, frames, look.channels);
        return [left, right];
      });
  }
}
