import { verifyFolder } from '@pocket-twin/media/handoff/verifyFolder.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { EXIT } from './exit.ts';
import { VERIFY_HELP } from './help.ts';
import { progressBar } from './progress.ts';
import { readWords } from './words.ts';

/** Is what was handed off still what it was? */
export async function verifyCommand(args: string[]): Promise<number> {
  const { values, positionals } = readWords(args, { json: { type: 'boolean' }, help: { type: 'boolean' } });
  if (values.help) {
    process.stdout.write(VERIFY_HELP);
    return EXIT.done;
  }
  const [folder, ...more] = positionals;
  if (folder === undefined || more.length > 0)
    throw new Refusal('bad-request', 'Name the one folder that was handed off. See --help.');
  const bar = progressBar(folder);
  const verified = await verifyFolder(folder, (share) => bar.show(share)).finally(() => bar.done());
  const handedOff = verified.filter(({ state }) => state !== 'not named');
  const unnamed = verified.filter(({ state }) => state === 'not named');
  const off = handedOff.filter(({ state }) => state !== 'as handed off');
  if (values.json) process.stdout.write(verified.map((file) => `${JSON.stringify(file)}\n`).join(''));
  else {
    for (const { path, state } of off) process.stdout.write(`${path}: ${state}\n`);
    process.stdout.write(
      off.length === 0
        ? `All ${handedOff.length} files are as they were handed off.\n`
        : `${off.length} of ${handedOff.length} files are not as they were handed off.\n`,
    );
    if (unnamed.length > 0)
      process.stdout.write(`Not part of any handoff there: ${unnamed.map(({ path }) => path).join(', ')}.\n`);
  }
  return off.length === 0 ? EXIT.done : EXIT.found;
}
