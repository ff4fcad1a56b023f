import { useEffect, useMemo, useState } from 'react';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { inBackground } from '../../parts/inBackground.ts';
import { useAppSelector } from '../../state/store.ts';
import { soloPlan } from './soloPlan.ts';
import { Player } from '../../listen/player.ts';

const PREPARE_AFTER_MS = 300;

/** A player for a clip, told of every change of repair and of what is heard. */
export function usePlayer(clip: Clip, repair: Repair): { player: Player; trouble: string | null } {
  const { channels, frames, sampleRate } = clip.inspection!.format;
  const [trouble, setTrouble] = useState<string | null>(null);
  const player = useMemo(
    () => new Player(clip.id, channels, frames, sampleRate, setTrouble),
    [clip.id, channels, frames, sampleRate],
  );
  const { heard, when, probe, soloed } = useAppSelector((state) => state.bench);
  const solo = soloed?.clipId === clip.id ? soloPlan(soloed.channel, clip.inspection!) : null;
  const plan = JSON.stringify(solo ?? (probe?.inputChannels === channels ? probe : repair));
  const isSolo = solo !== null;
  useEffect(() => {
    // After the clip is on the screen, and not for one that is only passed by.
    const timer = setTimeout(() => inBackground(player.prepare()), PREPARE_AFTER_MS);
    return () => {
      clearTimeout(timer);
      player.close();
    };
  }, [player]);
  useEffect(() => {
    if (isSolo) player.hear('both', 'after');
    else player.hear(heard, when);
  }, [player, heard, when, isSolo]);
  useEffect(() => player.setRepair(JSON.parse(plan) as Repair), [player, plan]);
  return { player, trouble };
}
