import type { Measurement } from '@pocket-twin/core/measure/measurement.ts';
import { takeLook, type Found, type Look } from '@pocket-twin/core/measure/looks.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { PcmFile } from './pcmFile.ts';
import { soundReader } from './soundReader.ts';

export interface LookOrder {
  look: Look;
  /** Its pairs are not needed. */
  about: Measurement;
  sound: PcmLocation;
}

export async function takeLookAt({ look, about, sound }: LookOrder): Promise<Found[Look['kind']]> {
  const file = await PcmFile.open(sound);
  return takeLook(look, about, soundReader(file)).finally(() => file.close());
}
