import {
  Chart,
  Filler,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  LogarithmicScale,
  PointElement,
  type ChartOptions,
} from 'chart.js';
import { useMemo } from 'react';
import { useAppearanceKey } from '../useAppearanceKey.ts';

Chart.register(LineController, LineElement, PointElement, LinearScale, LogarithmicScale, Filler, Legend);

export interface ChartLook {
  /** Stands for the colours on the page. */
  appearance: string;
  left: string;
  right: string;
  ink: string;
  soft: string;
  line: string;
  difference: string;
}

/** The page's own colours, read again when they change. */
export function useChartLook(): ChartLook {
  const appearance = useAppearanceKey();
  return useMemo(() => {
    const style = getComputedStyle(document.documentElement);
    const colour = (name: string): string => style.getPropertyValue(`--${name}`).trim();
    return {
      appearance,
      left: colour('left'),
      right: colour('right'),
      ink: colour('ink'),
      soft: colour('soft'),
      line: colour('line'),
      difference: colour('difference'),
    };
  }, [appearance]);
}

interface Axis {
  title: string;
  min?: number;
  max?: number;
  logarithmic?: boolean;
  ticks?: (value: number) => string | null;
  step?: number;
}

/** Options shared by all charts: plain axes with their units, no animation, no hovering. */
export function chartOptions(look: ChartLook, x: Axis, y: Axis, legend: boolean, beside?: Axis): ChartOptions<'line'> {
  const font = { family: "'Spline Sans Mono Variable', monospace", size: 11 };
  const scale = (axis: Axis, more: object = {}): object => ({
    type: axis.logarithmic ? 'logarithmic' : 'linear',
    min: axis.min,
    max: axis.max,
    title: {
      display: true,
      text: axis.title,
      color: look.soft,
      font: { ...font, family: "'Instrument Sans Variable', sans-serif" },
    },
    grid: { color: look.line, drawTicks: false },
    border: { color: look.line },
    ticks: {
      color: look.soft,
      font,
      padding: 4,
      maxRotation: 0,
      autoSkipPadding: 12,
      // The end of a clip beside the last round time would be written over it.
      includeBounds: false,
      stepSize: axis.step,
      ...(axis.ticks ? { callback: (value: string | number) => axis.ticks!(Number(value)) } : {}),
    },
    ...more,
  });
  return {
    animation: false,
    responsive: true,
    maintainAspectRatio: false,
    events: [],
    parsing: false,
    normalized: true,
    plugins: {
      legend: {
        display: legend,
        labels: {
          color: look.ink,
          boxWidth: 14,
          boxHeight: 2,
          font: { size: 12, family: "'Instrument Sans Variable', sans-serif" },
        },
      },
    },
    scales: {
      x: scale(x),
      y: scale(y),
      ...(beside ? { beside: scale(beside, { position: 'right', grid: { display: false } }) } : {}),
    },
  } as ChartOptions<'line'>;
}
