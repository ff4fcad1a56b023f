import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { EXIT } from './exit.ts';
import { GENERAL_HELP } from './help.ts';
import { handoffCommand } from './handoffCommand.ts';
import { inspectCommand } from './inspectCommand.ts';
import { joinCommand } from './joinCommand.ts';
import { repairCommand } from './repairCommand.ts';
import { tokenCommand } from './tokenCommand.ts';
import { verifyCommand } from './verifyCommand.ts';

/** Whoever reads what is put out has seen enough (`| head`): that is no fault of anybody's. */
function endWhenNobodyReads(error: NodeJS.ErrnoException): void {
  if (error.code !== 'EPIPE') throw error;
  process.exit(EXIT.done);
}

/** @returns the exit status */
export async function main(words: string[]): Promise<number> {
  const [command, ...rest] = words;
  process.stdout.on('error', endWhenNobodyReads);
  try {
    if (command === 'inspect') return await inspectCommand(rest);
    if (command === 'repair') return await repairCommand(rest);
    if (command === 'join') return await joinCommand(rest);
    if (command === 'handoff') return await handoffCommand(rest);
    if (command === 'verify') return await verifyCommand(rest);
    if (command === 'token') return await tokenCommand(rest);
    if (command === undefined || command === '--help' || command === 'help') {
      process.stdout.write(GENERAL_HELP);
      return command === undefined ? EXIT.off : EXIT.done;
    }
    throw new Refusal('bad-request', `There is no command “${command}”. Try: pocket-twin --help`);
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    process.stderr.write(`${error.message}\n`);
    return EXIT.off;
  }
}
