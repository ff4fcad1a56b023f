import type { ColumnData, ColumnSource } from './columns.ts';
import { drawRibbon, type RibbonColours, type RibbonScene } from './drawRibbon.ts';
import { heightOf } from './heightScale.ts';

const COLOURS: RibbonColours = {
  sheet: 'sheet',
  line: 'line',
  ink: 'ink',
  soft: 'soft',
  left: 'left',
  right: 'right',
  mono: 'mono',
  difference: 'difference',
};
const [WIDTH, HEIGHT] = [300, 200];

interface Bar {
  colour: string;
  x: number;
  top: number;
  bottom: number;
}

/** What of a canvas a ribbon uses, keeping what was drawn. */
class Recorder {
  fillStyle = '';
  strokeStyle = '';
  globalAlpha = 1;
  font = '';
  textAlign = '';
  bars: Bar[] = [];
  texts: string[] = [];
  points: { colour: string; x: number; y: number }[] = [];
  clearRect(): void {
    this.bars = [];
  }
  fillRect(x: number, y: number, width: number, height: number): void {
    if (height > 0 && width < WIDTH) this.bars.push({ colour: this.fillStyle, x, top: y, bottom: y + height });
  }
  fillText(text: string): void {
    this.texts.push(text);
  }
  measureText(text: string): { width: number } {
    return { width: 7 * text.length };
  }
  beginPath(): void {
    /* points speak for themselves */
  }
  lineTo(x: number, y: number): void {
    this.points.push({ colour: this.strokeStyle, x, y });
  }
  stroke(): void {
    /* as above */
  }
  arc(): void {
    /* as above */
  }
  fill(): void {
    /* as above */
  }

  /** How far a colour reaches, top and bottom. */
  reach(colour: string): { top: number; bottom: number } | null {
    const own = this.bars.filter((bar) => bar.colour === colour);
    return own.length === 0
      ? null
      : { top: Math.min(...own.map(({ top }) => top)), bottom: Math.max(...own.map(({ bottom }) => bottom)) };
  }
}

/** Lanes that stand at one peak, with half of it as RMS. */
function drawn(peaks: number[], channels: number, more: Partial<RibbonScene> = {}): Recorder {
  const source = {
    columns: (_view: unknown, count: number): ColumnData[] =>
      peaks.map((peak) => ({
        min: new Float32Array(count).fill(-peak),
        max: new Float32Array(count).fill(peak / 2),
        rms: new Float32Array(count).fill(peak / 2),
      })),
    samples: (_first: number, count: number): Float32Array[] =>
      peaks
        .slice(0, channels)
        .map((peak) => Float32Array.from({ length: count }, (_, i) => (i % 2 === 0 ? peak : -peak))),
  } as unknown as ColumnSource;
  const canvas = new Recorder();
  drawRibbon(canvas as unknown as CanvasRenderingContext2D, {
    source,
    channels,
    view: { startFrame: 0, endFrame: 48000 },
    scale: 'linear',
    folded: [],
    colours: COLOURS,
    width: WIDTH,
    height: HEIGHT,
    ...more,
  });
  return canvas;
}

test('left rises above the seam, right hangs below it, the difference has a lane of its own, each as high as it is loud', () => {
  const canvas = drawn([0.5, 0.25, 0.75], 2);
  const [left, right, difference] = ['left', 'right', 'difference'].map((colour) => canvas.reach(colour)!);
  expect(left.bottom).toBe(right.top);
  expect(left.bottom - left.top).toBeCloseTo(2 * (right.bottom - right.top), 6);
  expect(difference.top).toBeGreaterThan(right.bottom);
  expect(difference.bottom).toBeLessThanOrEqual(HEIGHT);
  // Twice as high as the body within: the peak stands out of the RMS.
  const heights = new Set(
    canvas.bars.filter(({ colour }) => colour === 'left').map(({ top, bottom }) => Math.round(bottom - top)),
  );
  expect(heights.size).toBe(2);
});

test('silence draws nothing, faint sound at least a line, full scale no further than its half', () => {
  expect(drawn([0.5, 0, 0.5], 2).reach('right')).toBeNull();
  const faint = drawn([0.5, 1e-5, 0.5], 2).reach('right')!;
  expect(faint.bottom - faint.top).toBe(1);
  const loud = drawn([1, 1, 1], 2);
  expect(loud.reach('left')!.top).toBeGreaterThanOrEqual(0);
  expect(loud.reach('right')!.bottom).toBeLessThanOrEqual(loud.reach('difference')!.top);
});

test('what has not come yet is left empty', () => {
  expect(drawn([NaN, 0.5, NaN], 2).reach('left')).toBeNull();
  expect(drawn([NaN, 0.5, NaN], 2).reach('right')).not.toBeNull();
});

test('one channel has the whole height, four make two ribbons of which neither reaches into the other', () => {
  const mono = drawn([1], 1).reach('mono')!;
  expect(mono.bottom - mono.top).toBeGreaterThan(HEIGHT - 10);
  const bars = drawn([1, 1, 1, 1, 0, 0], 4).bars;
  for (const colour of ['left', 'right']) {
    const own = bars.filter((bar) => bar.colour === colour);
    const [upper, lower] = [
      own.filter(({ bottom }) => bottom <= HEIGHT / 2),
      own.filter(({ top }) => top >= HEIGHT / 2),
    ];
    expect(upper.length).toBeGreaterThan(0);
    expect(lower.length).toBe(upper.length);
    expect(upper.length + lower.length).toBe(own.length);
  }
});

test('levels are marked in dBFS where they lie', () => {
  expect(drawn([0.5, 0.5, 0], 2).texts).toEqual(['0 dBFS', '0 dBFS', '−6', '−6', '−12', '−12']);
  expect(drawn([0.5, 0.5, 0], 2, { scale: 'db' }).texts).toContain('−48');
  expect(heightOf(0.5, 'linear')).toBe(0.5);
  expect(heightOf(10 ** (-36 / 20), 'db')).toBeCloseTo(0.5, 9);
  expect([heightOf(0, 'db'), heightOf(2, 'db'), heightOf(2, 'linear')]).toEqual([0, 1, 1]);
});

test('close up, single samples stand at their place in time, with their sign, as high as the loudest', () => {
  const { points, texts } = drawn([0.5, 0.25], 2, { view: { startFrame: 1000, endFrame: 1030 } });
  const left = points.filter(({ colour }) => colour === 'left');
  expect(left.slice(0, 3).map(({ x }) => x)).toEqual([0, WIDTH / 30, (2 * WIDTH) / 30]);
  expect(left[0].y).toBeLessThan(left[1].y);
  const right = points.filter(({ colour }) => colour === 'right');
  expect(left[1].y - left[0].y).toBeCloseTo(2 * (right[1].y - right[0].y), 6);
  expect(Math.min(...right.map(({ y }) => y))).toBeGreaterThan(Math.max(...left.map(({ y }) => y)));
  expect(texts.at(-1)).toBe('linear, edge at −6.0 dBFS');
});
