import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { EXIT } from './exit.ts';
import { GENERAL_HELP } from './help.ts';
import { sentenceOf, traceOf } from './trouble.ts';

/** Whoever reads what is put out has seen enough (`| head`): that is no fault of anybody's. What cannot be put out is one. */
function endWhenNobodyReads(error: NodeJS.ErrnoException): void {
  if (error.code === 'EPIPE') process.exit(EXIT.done);
  process.stderr.write(`The results can’t be written to where they go: ${sentenceOf(error, 'standard output')}\n`);
  process.exit(EXIT.off);
}

/** Each is read when it is called: the whole would take as long to start as a short clip takes to measure. */
const COMMANDS: Record<string, () => Promise<(words: string[]) => Promise<number>>> = {
  inspect: async () => (await import('./inspectCommand.ts')).inspectCommand,
  repair: async () => (await import('./repairCommand.ts')).repairCommand,
  join: async () => (await import('./joinCommand.ts')).joinCommand,
  handoff: async () => (await import('./handoffCommand.ts')).handoffCommand,
  verify: async () => (await import('./verifyCommand.ts')).verifyCommand,
  token: async () => (await import('./tokenCommand.ts')).tokenCommand,
};

/** @returns the exit status */
export async function main(words: string[]): Promise<number> {
  const [command, ...rest] = words;
  process.stdout.on('error', endWhenNobodyReads);
  try {
    if (command === undefined || command === '--help' || command === 'help') {
      process.stdout.write(GENERAL_HELP);
      return command === undefined ? EXIT.off : EXIT.done;
    }
    if (!Object.hasOwn(COMMANDS, command))
      throw new Refusal('bad-request', `There is no command “${command}”. Try: pocket-twin --help`);
    return await (
      await COMMANDS[command]()
    )(rest);
  } catch (error) {
    traceOf(error);
    process.stderr.write(`${sentenceOf(error, command ?? 'pocket-twin')}\n`);
    return EXIT.off;
  }
}
