import type { Repair } from '@pocket-twin/core/schema/repair.ts';

/** What an output channel is called: on its mark, and in words. */
export interface OutputName {
  short: string;
  long: string;
}

// ITU-R BS.775, in the order of WAVE.
const SURROUND: OutputName[] = [
  { short: 'L', long: 'Left' },
  { short: 'R', long: 'Right' },
  { short: 'C', long: 'Centre' },
  { short: 'LFE', long: 'Low effects' },
  { short: 'Ls', long: 'Left surround' },
  { short: 'Rs', long: 'Right surround' },
];

/** One name for each output channel, over all files. */
export function outputNames({ outputs }: Repair): OutputName[] {
  return outputs.flatMap(({ layout, routes }, file) => {
    if (layout === '5.1') return SURROUND;
    if (routes.length === 1)
      return [
        outputs.length === 1 ? { short: 'M', long: 'Mono' } : { short: `M${file + 1}`, long: `Mono ${file + 1}` },
      ];
    if (routes.length === 2) return SURROUND.slice(0, 2);
    return routes.map((_, i) => ({ short: String(i + 1), long: `Channel ${i + 1}` }));
  });
}
