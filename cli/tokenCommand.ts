import { readFile } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { EXIT } from './exit.ts';
import { TOKEN_HELP } from './help.ts';
import { readWords } from './words.ts';

const TOKEN = '?token=';

/** Prints the address by which a browser is let in, of the application that runs in this home. */
export async function tokenCommand(args: string[]): Promise<number> {
  const { values } = readWords(args, { help: { type: 'boolean' } });
  if (values.help) {
    process.stdout.write(TOKEN_HELP);
    return EXIT.done;
  }
  const home = resolve(process.env.POCKET_TWIN_HOME ?? '.pocket-twin');
  const address = await readFile(join(home, 'start-address'), 'utf8').catch(() => {
    throw new Refusal(
      'not-found',
      `Pocket Twin does not run in ${home}. Start it with npm start, or name its folder with POCKET_TWIN_HOME.`,
    );
  });
  // Changed since, as somebody wished, the token counts as it is now.
  const token = address.includes(TOKEN) ? await readFile(join(home, 'start-token'), 'utf8') : '';
  process.stdout.write(`${token ? address.slice(0, address.indexOf(TOKEN)) + TOKEN + token.trim() : address}\n`);
  return EXIT.done;
}
