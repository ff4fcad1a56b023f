import { parseArgs, type ParseArgsConfig } from 'node:util';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';

/** Reads a command's words. @throws Refusal when one is unknown */
export function readWords<Options extends NonNullable<ParseArgsConfig['options']>>(args: string[], options: Options) {
  try {
    const words = joinNegativeNumbers(args);
    const { tokens } = parseArgs({ args: words, options, allowPositionals: true, strict: true, tokens: true });
    const given = tokens.flatMap((token) => (token.kind === 'option' ? [token.name] : []));
    const twice = given.find((name, i) => !options[name].multiple && given.indexOf(name) < i);
    if (twice) throw new Refusal('bad-request', `--${twice} is given twice. Give it once.`);
    return parseArgs({ args: words, options, allowPositionals: true, strict: true });
  } catch (error) {
    if (error instanceof Refusal) throw error;
    const said = (error as Error).message.split('. ')[0].replace(/'/g, '');
    throw new Refusal('bad-request', `${said}. See --help.`);
  }
}

/** `--loudness -23` as `--loudness=-23`: a negative number is a value, not an option. */
function joinNegativeNumbers(args: string[]): string[] {
  const joined: string[] = [];
  for (const word of args) {
    const before = joined.at(-1);
    if (/^-[\d.]/.test(word) && before?.startsWith('--') && !before.includes('='))
      joined[joined.length - 1] = `${before}=${word}`;
    else joined.push(word);
  }
  return joined;
}

/** An option whose value may be left out: what follows it is its value only where it looks like one. */
export function withOptionalValue(args: string[], option: string, looks: RegExp, otherwise: string): string[] {
  return args.flatMap((word, i) => {
    if (args[i - 1] === option && looks.test(word)) return [];
    return word === option ? [`${option}=${looks.test(args[i + 1] ?? '') ? args[i + 1] : otherwise}`] : [word];
  });
}

/** A whole or decimal number with an optional sign. */
export function readNumber(text: string, option: string): number {
  const value = text.trim() === '' ? NaN : Number(text.replace('\u2212', '-'));
  if (Number.isFinite(value)) return value;
  throw new Refusal('bad-request', `${option} takes a number, not “${text}”.`);
}

export function readChannel(text: string, option: string): number {
  const value = readNumber(text, option);
  if (Number.isInteger(value) && value >= 1 && value <= 64) return value;
  throw new Refusal('bad-request', `${option} takes a channel from 1, not “${text}”.`);
}

/** N=VALUE */
export function readPair(text: string, option: string): { channel: number; value: number } {
  const [channel, value, surplus] = text.split('=');
  if (value === undefined || surplus !== undefined)
    throw new Refusal('bad-request', `${option} takes CHANNEL=NUMBER, not “${text}”.`);
  return { channel: readChannel(channel, option), value: readNumber(value, option) };
}
