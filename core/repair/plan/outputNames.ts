import type { Repair, RepairOutput } from '../../schema/repair.ts';

const LONGEST_SUFFIX = 40;

/** The names of a written file's channels: each is called by what feeds it, a mix by all of it; null where a source has no name. */
export function outputChannelNames(
  { routes }: RepairOutput,
  inputNames: readonly (string | null)[],
): (string | null)[] {
  return routes.map((route) => {
    const names = route.map(({ from }) => inputNames[from - 1] ?? null);
    return names.length > 0 && names.every((name) => name !== null) ? [...new Set(names)].join(' + ') : null;
  });
}

/**
 * What is added to a clip's name for each written file. A file of one channel is called by that channel's own name where it has one
 * that tells it from the others, else as the repair says.
 */
export function outputSuffixes({ outputs }: Repair, inputNames: readonly (string | null)[]): string[] {
  if (outputs.length < 2) return outputs.map(({ suffix }) => suffix);
  const named = outputs.map((output) =>
    output.routes.length === 1 ? suffixOf(outputChannelNames(output, inputNames)[0]) : '',
  );
  const count = (suffix: string): number =>
    named.filter((other) => other.toLowerCase() === suffix.toLowerCase()).length;
  return outputs.map(({ suffix }, i) =>
    named[i] !== '' && count(named[i]) === 1
      ? named[i]
      : named[i] !== ''
        ? `${named[i]}${suffix}`.slice(0, LONGEST_SUFFIX)
        : suffix,
  );
}

/**
 * What the files of a repair are called, so that none of them is taken for its original: a single one says that it is repaired, or a copy; several
 * are called by their channels. An original that was no WAV keeps its ending in the name, as others may differ from it in nothing else.
 */
export function writtenNames(repair: Repair, originalName: string, inputNames: readonly (string | null)[]): string[] {
  const dot = originalName.lastIndexOf('.');
  const [stem, ending] = dot > 0 ? [originalName.slice(0, dot), originalName.slice(dot + 1)] : [originalName, ''];
  const base = ending === '' || /^wave?$/i.test(ending) ? stem : `${stem}-${ending}`;
  if (repair.outputs.length === 1)
    return [
      `${base}${repair.outputs[0].suffix}-${repair.action === 'leave' && repair.level === null ? 'copy' : 'repaired'}.wav`,
    ];
  return outputSuffixes(repair, inputNames).map((suffix) => `${base}${suffix}.wav`);
}

/** "-boom" of "Boom?": only what every file system takes. */
function suffixOf(name: string | null): string {
  const clean = (name ?? '')
    .replace(/[^\p{L}\p{N} _-]+/gu, ' ')
    .trim()
    .replace(/\s+/g, ' ')
    .slice(0, LONGEST_SUFFIX - 1)
    .trim();
  return clean === '' ? '' : `-${clean}`;
}
