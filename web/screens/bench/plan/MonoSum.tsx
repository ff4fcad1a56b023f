import { skipToken } from '@reduxjs/toolkit/query/react';
import styled from 'styled-components';
import { monoSumOf, sumLossOf } from '@pocket-twin/core/repair/plan/monoSum.ts';
import { doesSomething } from '@pocket-twin/core/repair/plan/compare.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { sayNumber } from '@pocket-twin/core/signal/sayDecibels.ts';
import { useForecastQuery } from '../../../state/api.ts';
import { useLater } from '../../../parts/useLater.ts';

// While a knob is turned nothing is asked for.
const AFTER_MS = 150;

/** What moving, turning over or changing one of two sides does to their mono sum. */
export function MonoSum({ clip, repair }: { clip: Clip; repair: Repair }) {
  const later = useLater(repair, AFTER_MS);
  const isTrimmed = later.trims.some((trim) => trim.channel <= 2 && doesSomething(trim));
  const { currentData } = useForecastQuery(
    isTrimmed ? { clipId: clip.id, repair: monoSumOf(later), quick: true } : skipToken,
  );
  if (!isTrimmed || !currentData) return null;
  const before = clip.inspection!.pairs[0]?.sumLossDb ?? null;
  const after = sumLossOf(currentData.channels);
  return (
    <Said role="status">
      Summed to mono, 1 and 2 lose {after === null ? 'everything' : `${sayNumber(after)} dB`} like this
      {before !== null && ` (${sayNumber(before)} dB as they were)`}.
    </Said>
  );
}

const Said = styled.p`font-size: 12px; color: var(--soft);`;
