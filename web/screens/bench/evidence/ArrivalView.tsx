import { Line } from 'react-chartjs-2';
import styled from 'styled-components';
import type { MatchEvidence } from '@pocket-twin/core/schema/evidence.ts';
import { sayNumber } from '@pocket-twin/core/signal/sayDecibels.ts';
import { Frame } from './BalanceView.tsx';
import { chartOptions, useChartLook } from './chartLook.ts';

const CLEAR = 7.5;
const NARROW_MS = 4;
const WIDE_MS = 50;
const LEAST_TURN_MS = 0.5;

/** Correlation against how much later the right side is, with the peak said in samples and milliseconds. */
export function ArrivalView({ match, sampleRate }: { match: MatchEvidence; sampleRate: number }) {
  const look = useChartLook();
  const { milliseconds, correlation } = match.arrival;
  const peakMs = (1000 * match.delaySamples) / sampleRate;
  const reach = Math.abs(peakMs) < NARROW_MS * 0.8 ? NARROW_MS : Math.abs(peakMs) < 16 ? 20 : WIDE_MS;
  const clear = match.prominence >= CLEAR;
  const data = milliseconds.map((x, i) => ({ x, y: correlation[i] })).filter(({ x }) => Math.abs(x) <= reach);
  const turns = takeTurns(match, sampleRate);
  const peakY = correlation.reduce((most, value) => (Math.abs(value) > Math.abs(most) ? value : most), 0);
  return (
    <>
      <Frame>
        <Line
          aria-label="Correlation of the two sides against delay"
          data={{
            datasets: [
              { label: 'correlation', data, borderColor: look.ink, borderWidth: 1.2, pointRadius: 0 },
              {
                label: 'peak',
                data: turns
                  ? turns.map((ms) => ({ x: ms, y: valueAt(match, ms) }))
                  : clear
                    ? [{ x: peakMs, y: peakY }]
                    : [],
                borderColor: look.difference,
                backgroundColor: look.difference,
                pointRadius: 5,
                showLine: false,
              },
            ],
          }}
          options={chartOptions(
            look,
            {
              title: 'right later by, ms',
              min: -reach,
              max: reach,
              step: reach / 2,
              ticks: (value) => sayNumber(value, 0),
            },
            { title: 'correlation', min: -1, max: 1, step: 0.5, ticks: (value) => sayNumber(value, 1) },
            false,
          )}
        />
      </Frame>
      <Said>
        {turns
          ? `When the left side is louder, sound reaches the right ${sayNumber(turns[0], 1)} ms later; when the right is, it reaches the left ${sayNumber(-turns[1], 1)} ms later: two microphones, each near its own person.`
          : clear
            ? saidOf(match.delaySamples, peakMs, match.polarity === 'inverted')
            : 'No peak stands out: the sides share nothing that one delay explains.'}
      </Said>
    </>
  );
}

/** Both arrivals in milliseconds where people take turns, each nearer to another microphone; else null. */
function takeTurns({ leaning: { left, right } }: MatchEvidence, sampleRate: number): [number, number] | null {
  const clear = [left, right].every(({ prominence, stretches }) => prominence >= CLEAR && stretches >= 2);
  const [a, b] = [left, right].map(({ delaySamples }) => (1000 * delaySamples) / sampleRate);
  return clear && a > LEAST_TURN_MS && b < -LEAST_TURN_MS ? [a, b] : null;
}

function valueAt({ arrival: { milliseconds, correlation } }: MatchEvidence, ms: number): number {
  const nearest = milliseconds.reduce(
    (best, x, i) => (Math.abs(x - ms) < Math.abs(milliseconds[best] - ms) ? i : best),
    0,
  );
  return correlation[nearest];
}

function saidOf(samples: number, peakMs: number, inverted: boolean): string {
  const turned = inverted ? ' and upside down' : '';
  if (Math.abs(samples) < 0.5) return `Both sides at once${turned}.`;
  return `The right side is ${sayNumber(Math.abs(samples), 2)} samples (${sayNumber(Math.abs(peakMs), 2)} ms) ${samples > 0 ? 'later' : 'earlier'}${turned}.`;
}

const Said = styled.p`font-size: 13px;`;
