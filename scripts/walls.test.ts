import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';

// The walls hold: each forbidden import, in a house of its own, is found by the same command that `npm run check` runs.

const ROOT = new URL('..', import.meta.url).pathname;

/** Who imports what, and the wall in the way. */
const FORBIDDEN: [from: string, what: string, wall: string][] = [
  ['core/signal/decibels.ts', '../measure/measurement.ts', 'core-time-signal-knows-nothing-above'],
  ['core/measure/measurement.ts', '../diagnose/verdict.ts', 'core-measure-knows-nothing-above'],
  ['core/diagnose/verdict.ts', '../repair/router.ts', 'core-diagnose-knows-nothing-above'],
  ['core/schema/clip.ts', '../measure/measurement.ts', 'core-kernels-pcm-schema-knows-nothing-above'],
  ['core/contract/jobs.ts', '../measure/measurement.ts', 'core-riff-contract-knows-nothing-above'],
  ['core/outline/builder.ts', '../repair/router.ts', 'core-outline-knows-nothing-above'],
  ['core/repair/router.ts', '../setups/setupClip.ts', 'core-repair-knows-nothing-above'],
  ['core/repair/router.ts', '../../media/ffmpeg/run.ts', 'core-stands-alone'],
  ['core/repair/plan.ts', 'node:fs', 'core-needs-no-platform'],
  ['core/outline/outline.ts', 'react', 'core-packages'],
  ['media/read/wav.ts', '../../core/synth/noise.ts', 'made-up-sound-is-for-tests'],
  ['media/read/coded.ts', 'node:child_process', 'only-media-starts-processes'],
  ['media/read/facts.ts', '../../server/rows.ts', 'media-is-files'],
  ['server/rows.ts', '../web/parts/Button.tsx', 'server-knows-no-client'],
  ['server/clips/actions.ts', '../platform/changes.ts', 'only-actions-announce'],
  ['cli/main.ts', '../server/rows.ts', 'cli-is-thin'],
  ['web/state/api.ts', '../../server/rows.ts', 'web-knows-core-only'],
  ['web/parts/Button.tsx', '../state/api.ts', 'parts-know-no-server'],
  ['web/ribbon/draw.ts', '../screens/bench/Bench.tsx', 'state-knows-no-screen'],
  ['web/screens/lineup/Lineup.tsx', '../bench/Bench.tsx', 'screens-stand-apart'],
];

let house: string;
beforeAll(() => {
  house = mkdtempSync(join(tmpdir(), 'pocket-twin-walls-'));
  for (const [from] of FORBIDDEN) put(from, '');
  for (const path of [
    'core/synth/noise.ts',
    'core/setups/setupClip.ts',
    'media/ffmpeg/run.ts',
    'web/screens/bench/Bench.tsx',
    'server/platform/changes.ts',
    'tsconfig.json',
  ])
    put(path, path.endsWith('.json') ? '{}' : '');
  put('package.json', '{"dependencies":{"react":"*"}}');
  symlinkSync(join(ROOT, 'node_modules'), join(house, 'node_modules'));
});
afterAll(() => rmSync(house, { recursive: true, force: true }));

function put(path: string, text: string): void {
  mkdirSync(dirname(join(house, path)), { recursive: true });
  writeFileSync(join(house, path), `${text}\nexport const here = '${path}';\n`.replace(/^\{.*/s, text));
}

function found(): string[] {
  const { stdout } = spawnSync(
    process.execPath,
    [
      join(ROOT, 'node_modules/dependency-cruiser/bin/dependency-cruise.mjs'),
      ...['--config', join(ROOT, '.dependency-cruiser.cjs'), '--output-type', 'json'],
      ...['core', 'media', 'server', 'web', 'cli'],
    ],
    { cwd: house, encoding: 'utf8', maxBuffer: 1 << 28 },
  );
  const { summary } = JSON.parse(stdout) as { summary: { violations: { from: string; rule: { name: string } }[] } };
  return summary.violations.map(({ from, rule }) => `${from}: ${rule.name}`);
}

test('a house without forbidden imports stands', () => {
  expect(found()).toEqual([]);
});

test('every forbidden import runs into its wall', () => {
  const forbiddenFrom = new Map<string, string[]>();
  for (const [from, what] of FORBIDDEN)
    forbiddenFrom.set(from, [...(forbiddenFrom.get(from) ?? []), `import '${what}';`]);
  for (const [from, imports] of forbiddenFrom) put(from, imports.join('\n'));
  const complaints = found();
  expect(complaints).toEqual(expect.arrayContaining(FORBIDDEN.map(([from, , wall]) => `${from}: ${wall}`)));
});

test('a circle is found, through types as well', () => {
  put('cli/main.ts', "import type { there } from './other.ts';\nexport const one: typeof there = 1;");
  put('cli/other.ts', "import type { one } from './main.ts';\nexport const there: typeof one = 1;");
  expect(found()).toContain('cli/main.ts: no-circles');
});
