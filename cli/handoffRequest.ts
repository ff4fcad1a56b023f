import { checkPattern } from '@pocket-twin/core/handoff/names.ts';
import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { HandoffTracks, type HandoffBits } from '@pocket-twin/core/schema/handoff.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { readRepairRequest, type RepairRequest } from './repairRequest.ts';
import { readNumber, readWords } from './words.ts';

const OPTIONS = {
  auto: { type: 'boolean' },
  recipe: { type: 'string' },
  'as-is': { type: 'boolean' },
  tracks: { type: 'string' },
  markers: { type: 'boolean' },
  times: { type: 'boolean' },
  edit: { type: 'string' },
  name: { type: 'string' },
  'used-only': { type: 'boolean' },
  handles: { type: 'string' },
  format: { type: 'string' },
  bits: { type: 'string' },
  out: { type: 'string' },
  json: { type: 'boolean' },
  help: { type: 'boolean' },
} as const;

export interface HandoffRequest {
  inputs: string[];
  out: string;
  edit: string | null;
  recipe: string | null;
  name: string | null;
  /** Only what the edit uses, with so much before and after; null is all of it. */
  handlesSeconds: number | null;
  format: RepairRequest['format'];
  bits: HandoffBits;
  tracks: HandoffTracks | null;
  /** What was found and done comes as markers in the edit. */
  markers: boolean;
  keepsTimes: boolean;
  /** What is done to every recording, as one text: a call like it goes on with one that was cut short. */
  key: string;
  decide: RepairRequest['decide'];
  json: boolean;
  help: boolean;
}

/** @throws Refusal where the words of the call are off */
export async function readHandoffRequest(args: string[]): Promise<HandoffRequest> {
  const { values, positionals: inputs } = readWords(args, OPTIONS);
  const json = values.json ?? false;
  if (values.help)
    return {
      ...{
        inputs,
        out: '',
        edit: null,
        recipe: null,
        name: null,
        handlesSeconds: null,
        format: 'same',
        bits: 'same',
        tracks: null,
        markers: false,
        keepsTimes: false,
        key: '',
        json,
        help: true,
      },
      decide: () => Promise.resolve({ leftAlone: '', mustDecide: false }),
    };
  if (inputs.length === 0) throw new Refusal('bad-request', 'Name the files or folders to hand off. See --help.');
  if (!values.out) throw new Refusal('bad-request', 'Say where the files go: --out DIR.');
  const chosen = (['auto', 'recipe', 'as-is'] as const).filter((name) => values[name] !== undefined);
  if (chosen.length > 1) throw new Refusal('bad-request', 'Say only one of --auto, --recipe, --as-is. See --help.');
  if (values['used-only'] && values.edit === undefined)
    throw new Refusal('bad-request', '--used-only needs the edit that says what is used: --edit FILE.');
  if (values.handles !== undefined && !values['used-only'])
    throw new Refusal('bad-request', '--handles goes with --used-only.');
  const handles = values.handles === undefined ? 0 : readNumber(values.handles, '--handles');
  if (handles < 0) throw new Refusal('bad-request', `--handles takes seconds from 0, not “${values.handles}”.`);
  if (values.name !== undefined) checkPattern(values.name);
  // What is done to a clip is what `repair` would do: one place reads those words.
  const asRepair = await readRepairRequest([
    'any',
    ...['--out', values.out],
    ...(values.recipe === undefined ? ['--auto'] : ['--recipe', values.recipe]),
    ...(values.format === undefined ? [] : ['--format', values.format]),
    ...(values.bits === undefined ? [] : ['--bits', values.bits]),
  ]);
  const { bits } = asRepair;
  const { tracks } = values;
  if (tracks !== undefined && !HandoffTracks.options.includes(tracks as HandoffTracks))
    throw new Refusal('bad-request', `--tracks takes one of same, repaired, not “${tracks}”.`);
  if (values.markers && values.edit === undefined)
    throw new Refusal('bad-request', '--markers needs the edit that they are written into: --edit FILE.');
  return {
    ...{
      inputs,
      out: values.out,
      edit: values.edit ?? null,
      recipe: values.recipe ?? null,
      name: values.name ?? null,
      json,
      help: false,
    },
    handlesSeconds: values['used-only'] ? handles : null,
    format: asRepair.format,
    bits: bits ?? 'same',
    tracks: (tracks as HandoffTracks | undefined) ?? null,
    markers: values.markers ?? false,
    keepsTimes: values.times ?? false,
    key: await keyOf(values, [values.edit, values.recipe]),
    decide: values['as-is'] ? () => Promise.resolve({ leftAlone: '', mustDecide: false }) : asRepair.decide,
  };
}

/** The words of a call and what the files hold that it names. */
async function keyOf(values: Record<string, unknown>, files: readonly (string | undefined)[]): Promise<string> {
  const does = Object.entries(values).filter(([name]) => name !== 'out' && name !== 'json');
  const hash = createHash('sha256').update(JSON.stringify(does.sort()));
  for (const file of files) if (file !== undefined) hash.update(await readFile(file).catch(() => ''));
  return hash.digest('hex');
}
