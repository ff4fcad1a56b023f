import { Line } from 'react-chartjs-2';
import styled from 'styled-components';
import type { Evidence } from '@pocket-twin/core/schema/evidence.ts';
import { sayNumber } from '@pocket-twin/core/signal/sayDecibels.ts';
import { sayTime } from '@pocket-twin/core/time/sayTime.ts';
import { chartOptions, useChartLook } from './chartLook.ts';

const LOWEST_DB = -90;

/** Levels of both sides over time. */
export function BalanceView({
  evidence: { balance, startSeconds, endSeconds },
  names,
}: {
  evidence: Evidence;
  names: string[];
}) {
  const look = useChartLook();
  const points = (levels: (number | null)[]): { x: number; y: number }[] =>
    levels.map((db, i) => ({
      x: startSeconds + (i + 0.5) * balance.stepSeconds,
      y: Math.max(LOWEST_DB, db ?? LOWEST_DB),
    }));
  const line = (label: string, levels: (number | null)[], borderColor: string) => ({
    label,
    data: points(levels),
    borderColor,
    borderWidth: 1.5,
    pointRadius: 0,
  });
  return (
    <Frame>
      <Line
        aria-label={`Levels over time of ${names.join(' and ')}`}
        data={{ datasets: [line(names[0], balance.leftDb, look.left), line(names[1], balance.rightDb, look.right)] }}
        options={chartOptions(
          look,
          { title: 'time', min: startSeconds, max: endSeconds, ticks: (seconds) => sayTime(seconds) },
          { title: 'dBFS', min: LOWEST_DB, max: 0, step: 30, ticks: (db) => sayNumber(db, 0) },
          true,
        )}
      />
    </Frame>
  );
}

export const Frame = styled.div`height: 170px; position: relative; min-width: 0;`;
