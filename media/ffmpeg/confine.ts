import { spawnSync } from 'node:child_process';

// What FFmpeg may use. Its memory, so that a hostile file cannot take the machine's; the size of a file it writes; no core dumps.
const MEMORY_BYTES = 4 * 1024 ** 3;
/** The most that one file or stream may unfold to: as much as may be brought in. */
export const MOST_DECODED_BYTES = 64 * 1024 ** 3;

// Debian's programs, by their whole names: the environment that could point elsewhere is not passed on.
const PRLIMIT = '/usr/bin/prlimit';
const SETPRIV = '/usr/bin/setpriv';
const NOBODY = 65534;
const ONLY_READING = '-all,+dac_read_search';

/** From strict to lenient; the first that works on this machine is taken. */
const WAYS: { owner: number | null; args: string[] }[] = [
  // Nobody, who may read what root may (the recording that was asked for) and write nothing but what was given to him.
  {
    owner: NOBODY,
    args: [
      `--reuid=${NOBODY}`,
      `--regid=${NOBODY}`,
      '--clear-groups',
      `--inh-caps=${ONLY_READING}`,
      `--ambient-caps=${ONLY_READING}`,
      `--bounding-set=${ONLY_READING}`,
    ],
  },
  // Where a container's root has not that right: root without any.
  { owner: null, args: ['--inh-caps=-all', '--bounding-set=-all'] },
];

interface Way {
  /** Who owns what FFmpeg is to write into; null is who we are. */
  owner: number | null;
  args: string[];
}

let chosen: Way | null = null;

/** How FFmpeg is run by this user. Root gives up what makes it root; others have nothing to give up but getting more. */
function way(): Way {
  chosen ??= (process.getuid?.() === 0 &&
    WAYS.find(
      ({ args }) => spawnSync(SETPRIV, ['--no-new-privs', ...args, '/bin/true'], { env: {} }).status === 0,
    )) || { owner: null, args: [] };
  return chosen;
}

/** The user who must own a folder that a confined program writes into; null where that is us. */
export function confinedOwner(): number | null {
  return way().owner;
}

/** A command that runs with limits, without rights and without our environment. @param program its whole path */
export function confined(program: string, args: string[]): { command: string; args: string[] } {
  return {
    command: PRLIMIT,
    args: [
      `--as=${MEMORY_BYTES}`,
      `--fsize=${MOST_DECODED_BYTES}`,
      '--core=0',
      SETPRIV,
      '--no-new-privs',
      ...way().args,
      program,
      ...args,
    ],
  };
}
