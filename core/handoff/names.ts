import { Refusal } from '../schema/refusal.ts';

/** What can stand in a pattern, and what each is for one file. Empty where nothing is known. */
export interface NameFacts {
  name: string;
  setup: string;
  scene: string;
  take: string;
  role: string;
  channel: string;
  date: string;
}

const TOKENS = ['name', 'setup', 'scene', 'take', 'role', 'channel', 'date'] as const;
// Bytes of a name on Linux and of UTF-16 units on Windows and macOS are 255; a number and an ending must still fit.
const LONGEST_BYTES = 200;
// What Windows forbids holds everywhere: the folder may go there.
const FORBIDDEN = /[<>:"/\\|?*\u0000-\u001f\u007f]/g;
const RESERVED = /^(con|prn|aux|nul|com\d|lpt\d)$/i;

/** @throws Refusal where a pattern names something that is not known */
export function checkPattern(pattern: string): void {
  const bare = pattern.replace(/\{[^{}]*\}/g, '');
  if (/[{}]/.test(bare))
    throw new Refusal('bad-request', `The pattern “${pattern}” has a brace without its other one.`);
  if (/[\\/]/.test(bare))
    throw new Refusal('bad-request', `The pattern “${pattern}” names a folder: it is for names of files alone.`);
  if (bare.search(FORBIDDEN) >= 0)
    throw new Refusal('bad-request', `The pattern “${pattern}” has a sign that some systems refuse in names.`);
  if (pattern.trim().startsWith('.'))
    throw new Refusal('bad-request', `The pattern “${pattern}” begins with a dot: such files are hidden.`);
  const unknown = [...pattern.matchAll(/\{([^}]*)\}/g)].find(([, token]) => !TOKENS.includes(token as 'name'));
  if (unknown)
    throw new Refusal(
      'bad-request',
      `A name’s pattern has no “{${unknown[1]}}”. It has ${TOKENS.map((token) => `{${token}}`).join(' ')}.`,
    );
  if (!/\{/.test(pattern))
    throw new Refusal('bad-request', 'A pattern without {name} or another of its words would call all files the same.');
}

/** The name, without its ending, that a pattern gives a file; what no file system takes is replaced, what is empty leaves no gap. */
export function nameFrom(pattern: string, facts: NameFacts): string {
  const filled = pattern.replace(/\{(\w+)\}/g, (_, token: string) => facts[token as 'name'] ?? '');
  const joined = filled.replace(/([-_ .])(?:[-_ .])+/g, '$1').replace(/^[-_ ]+|[-_ ]+$/g, '');
  return safeName(joined === '' ? facts.name : joined);
}

/** A name that Windows, macOS and Linux all take. */
export function safeName(name: string): string {
  const clean = cut(name.normalize('NFC').replace(FORBIDDEN, '_'), LONGEST_BYTES).replace(/[. ]+$/, '');
  if (clean === '') return '_';
  return RESERVED.test(clean.split('.')[0]) ? `_${clean}` : clean;
}

/** Gives each path a name of its own, whatever a file system makes of upper and lower case: the second of one name gets " (2)". */
export class FreeNames {
  private readonly taken = new Set<string>();

  /** @param path with its ending, relative to the handoff's folder */
  claim(path: string): string {
    const [free] = this.free(path);
    this.take(free);
    return free;
  }

  /** The names that nothing has, best first, without end. */
  *free(path: string): Generator<string, never> {
    const dot = path.lastIndexOf('.');
    const [stem, ending] = dot > path.lastIndexOf('/') + 1 ? [path.slice(0, dot), path.slice(dot)] : [path, ''];
    for (let n = 1; ; n++) {
      const free = n === 1 ? path : `${stem} (${n})${ending}`;
      if (!this.taken.has(keyOf(free))) yield free;
    }
  }

  take(path: string): void {
    this.taken.add(keyOf(path));
  }
}

/** However a disk writes accents and upper case. */
function keyOf(path: string): string {
  return path.normalize('NFC').toLowerCase();
}

/** Never in the middle of a letter. */
function cut(text: string, bytes: number): string {
  const room = new Uint8Array(bytes);
  const { read } = new TextEncoder().encodeInto(text, room);
  return text.slice(0, read);
}
