import { Line } from 'react-chartjs-2';
import type { MatchEvidence } from '@pocket-twin/core/schema/evidence.ts';
import { sayNumber } from '@pocket-twin/core/signal/sayDecibels.ts';
import { Frame } from './BalanceView.tsx';
import { chartOptions, useChartLook } from './chartLook.ts';

const LABELLED_HZ: Record<number, string> = {
  100: '100',
  200: '200',
  500: '500',
  1000: '1k',
  2000: '2k',
  5000: '5k',
  10000: '10k',
  20000: '20k',
};

/** The two sides' spectra and how coherent they are. */
export function SpectrumView({ match: { spectrum }, names }: { match: MatchEvidence; names: string[] }) {
  const look = useChartLook();
  const points = (values: number[]): { x: number; y: number }[] => values.map((y, i) => ({ x: spectrum.hz[i], y }));
  return (
    <Frame>
      <Line
        aria-label="Spectra of both sides and their coherence over frequency"
        data={{
          datasets: [
            {
              label: names[0],
              data: points(spectrum.leftDb),
              borderColor: look.left,
              borderWidth: 1.5,
              pointRadius: 0,
            },
            {
              label: names[1],
              data: points(spectrum.rightDb),
              borderColor: look.right,
              borderWidth: 1.5,
              pointRadius: 0,
            },
            {
              label: 'coherence',
              data: points(spectrum.coherence),
              yAxisID: 'beside',
              borderColor: look.soft,
              backgroundColor: `${look.soft}33`,
              fill: 'origin',
              borderWidth: 1,
              pointRadius: 0,
            },
          ],
        }}
        options={chartOptions(
          look,
          { title: 'Hz', logarithmic: true, min: 60, max: spectrum.hz.at(-1), ticks: (hz) => LABELLED_HZ[hz] ?? null },
          { title: 'dB', min: -80, max: 0, step: 20, ticks: (db) => sayNumber(db, 0) },
          true,
          { title: 'coherence', min: 0, max: 1, step: 0.5, ticks: (value) => value.toFixed(1) },
        )}
      />
    </Frame>
  );
}
