import { useEffect, useMemo, useState } from 'react';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { inBackground } from '../../parts/inBackground.ts';
import { useAppSelector } from '../../state/store.ts';
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
  const { heard, when, probe } = useAppSelector((state) => state.bench);
  const plan = JSON.stringify(probe?.inputChannels === channels ? probe : repair);
  useEffect(() => {
    // After the clip is on the screen, and not for one that is only passed by.
    const timer = setTimeout(() => inBackground(player.prepare()), PREPARE_AFTER_MS);
    return () => {
      clearTimeout(timer);
      player.close();
    };
  }, [player]);
  useEffect(() => player.hear(heard, when), [player, heard, when]);
  useEffect(() => player.setRepair(JSON.parse(plan) as Repair), [player, plan]);
  return { player, trouble };
}
