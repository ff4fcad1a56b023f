import { repairName } from '@pocket-twin/core/repair/plan/describe.ts';
import { repairFromSuggestion, repairToTry } from '@pocket-twin/core/repair/plan/fromSuggestion.ts';
import { sumWarning } from '@pocket-twin/core/repair/plan/repairNote.ts';
import { sameRepair } from '@pocket-twin/core/repair/plan/compare.ts';
import {
  fillFrom,
  leaveAsItIs,
  selectChannel,
  splitToMonos,
  sumToMono,
  swapSides,
} from '@pocket-twin/core/repair/plan/plans.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';

export interface RepairChoice {
  /** What the key that tries it is kept under. */
  id: string;
  /** Empty from the tenth on. */
  key: string;
  name: string;
  repair: Repair;
  suggested: boolean;
  /** What it would spoil; null where nothing. */
  warning: string | null;
}

/** The repairs a person can choose for a clip. */
export function repairChoices(clip: Clip): RepairChoice[] {
  const { format, suggestion } = clip.inspection!;
  const suggested = suggestedRepair(clip);
  const plain = plansFor(format.channels);
  // A repair made for this clip alone stands after those that every clip has.
  const own = suggested ?? repairToTry(clip.inspection!);
  const repairs = own && !plain.some((repair) => sameRepair(repair, own)) ? [...plain, own] : plain;
  return repairs.map((repair, i) => ({
    id: planKeyId(i + 1),
    key: i < 9 ? String(i + 1) : '',
    name: repairName(repair),
    repair,
    warning: sumWarning(repair, clip.inspection!),
    suggested:
      suggestion.action === 'none' ? repair.action === 'leave' : suggested !== null && sameRepair(repair, suggested),
  }));
}

/** What the key of the nth plan is kept under. */
export function planKeyId(place: number): string {
  return `plan-${place}`;
}

function plansFor(channels: number): Repair[] {
  if (channels === 1) return [leaveAsItIs(1), fillFrom(1, 1)];
  if (channels === 2) {
    return [
      fillFrom(1, 2),
      fillFrom(2, 2),
      swapSides(2),
      selectChannel(1, 2),
      selectChannel(2, 2),
      sumToMono(2),
      splitToMonos(2),
      leaveAsItIs(2),
    ];
  }
  const firsts = Array.from({ length: Math.min(channels, 6) }, (_, i) => selectChannel(i + 1, channels));
  return [...firsts, splitToMonos(channels), swapSides(channels), leaveAsItIs(channels)];
}

function suggestedRepair(clip: Clip): Repair | null {
  return repairFromSuggestion(clip.inspection!);
}

/** What the bench starts with: the repair that is kept, else the suggested one, else nothing done. */
export function startingRepair(clip: Clip): Repair {
  return clip.repair ?? suggestedRepair(clip) ?? leaveAsItIs(clip.inspection!.format.channels);
}
