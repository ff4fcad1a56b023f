import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import { chromiumPath } from './chromium.mjs';
import { SetupProblem } from './setupProblem.mjs';

const POSTGRES_HOME = '/usr/lib/postgresql';

/** How each Debian package is known to be there. */
const PRESENT = {
  postgresql: () =>
    existsSync(POSTGRES_HOME) &&
    readdirSync(POSTGRES_HOME).some((version) => existsSync(`${POSTGRES_HOME}/${version}/bin/initdb`)),
  ffmpeg: () => existsSync('/usr/bin/ffmpeg') && existsSync('/usr/bin/ffprobe'),
  'chromium-headless-shell': () => chromiumPath() !== undefined,
};

/** Installs what is missing, where this user may; otherwise says the command that does. */
export function ensureDebianPackages(names) {
  const missing = names.filter((name) => !PRESENT[name]());
  if (missing.length === 0) return;
  const byHand = `sudo apt-get update && sudo apt-get install -y ${missing.join(' ')}`;
  const asRoot = process.getuid?.() === 0 ? [] : ['sudo', '-n'];
  if (asRoot.length > 0 && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status !== 0) {
    throw new SetupProblem(`Missing on this machine: ${missing.join(', ')}. Install it with: ${byHand}`);
  }
  console.log(`Installing ${missing.join(', ')} from Debian ...`);
  const apt = (...args) => {
    const [command, ...rest] = [...asRoot, 'env', 'DEBIAN_FRONTEND=noninteractive', 'apt-get', ...args];
    return spawnSync(command, rest, { stdio: ['ignore', 'ignore', 'inherit'] }).status === 0;
  };
  apt('update', '-qq');
  if (!apt('install', '-y', '-qq', '--no-install-recommends', ...missing) || names.some((name) => !PRESENT[name]())) {
    throw new SetupProblem(`${missing.join(', ')} could not be installed. Try by hand: ${byHand}`);
  }
}

/**
 * PostgreSQL's programs: initdb, pg_ctl, ...
 * @param version of the data they are for; the newest where there is none yet
 */
export function postgresBin(version) {
  const versions = readdirSync(POSTGRES_HOME)
    .filter((one) => existsSync(`${POSTGRES_HOME}/${one}/bin/initdb`))
    .sort((a, b) => Number(b) - Number(a));
  if (version !== undefined && !versions.includes(version)) {
    throw new SetupProblem(
      `The database was made by PostgreSQL ${version}, which is not installed any more. Install it with: sudo apt-get install -y postgresql-${version}`,
    );
  }
  return `${POSTGRES_HOME}/${version ?? versions[0]}/bin`;
}
