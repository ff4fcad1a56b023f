// The walls of the house (docs/architecture.md): imports run one way, without a circle. `scripts/setup/walls.test.mjs` sees that each holds.

const TESTS = '(\\.test\\.tsx?$|/test/|^core/synth/)';
const wall = (name, from, to, comment) => ({ name, severity: 'error', comment, from, to });

/** The rooms of core from the ground up: each may import those before it. */
const CORE = [
  ['time', 'signal'],
  ['kernels', 'pcm', 'schema'],
  ['riff', 'contract'],
  ['measure'],
  ['outline'],
  ['diagnose'],
  ['repair'],
  ['setups', 'lineup', 'join', 'edit', 'handoff'],
];
const above = (level) => CORE.slice(level + 1).flat();

module.exports = {
  forbidden: [
    wall('no-circles', {}, { circular: true }, 'Imports run one way.'),
    ...CORE.flatMap((rooms, level) =>
      above(level).length === 0
        ? []
        : [
            wall(
              `core-${rooms.join('-')}-knows-nothing-above`,
              { path: `^core/(${rooms.join('|')})/`, pathNot: TESTS },
              { path: `^core/(${above(level).join('|')})/` },
              'A room of core knows those below it.',
            ),
          ],
    ),
    wall(
      'core-stands-alone',
      { path: '^core/', pathNot: TESTS },
      { path: '^(media|server|web|cli|demo|bench|e2e|scripts)/' },
      'core runs anywhere.',
    ),
    wall(
      'core-needs-no-platform',
      { path: '^core/', pathNot: `${TESTS}|build\\.mjs$` },
      { dependencyTypes: ['core'] },
      'core runs in a browser, in a worklet and on the server: no module of Node.',
    ),
    wall(
      'core-packages',
      { path: '^core/', pathNot: `${TESTS}|build\\.mjs$` },
      {
        dependencyTypes: ['npm', 'npm-dev', 'npm-no-pkg', 'npm-unknown'],
        pathNot: 'node_modules/(zod|quickselect|fast-xml-parser|lossless-json)/',
      },
      'What core takes from elsewhere needs neither DOM nor Node.',
    ),
    wall(
      'made-up-sound-is-for-tests',
      { path: '^(core|media|server|web|cli)/', pathNot: TESTS },
      { path: '^core/synth/' },
      'No part of the product makes sound up.',
    ),
    wall('media-is-files', { path: '^media/' }, { path: '^(server|web|cli|demo)/' }, 'media is files in and out.'),
    wall(
      'only-media-starts-processes',
      { path: '^(core|server|web|cli|media)/', pathNot: `${TESTS}|^media/ffmpeg/|build\\.mjs$|^web/vite` },
      { path: '^(node:)?child_process$' },
      'Only media/ffmpeg starts a process.',
    ),
    wall(
      'server-knows-no-client',
      { path: '^server/', pathNot: '\\.test\\.ts$' },
      { path: '^(web|cli|bench|e2e)/|node_modules/react' },
      'The server does not know its clients.',
    ),
    wall(
      'only-actions-announce',
      {
        path: '^server/',
        pathNot:
          '\\.test\\.ts$|^server/(startServer|platform/action|clips/inspectClip|writings/writeRepair|handoffs/writeHandoffFile)\\.ts$',
      },
      { path: '^server/platform/changes\\.ts$' },
      'What has changed is said in the step that changes it; only how far a job is goes out by itself.',
    ),
    wall('cli-is-thin', { path: '^cli/' }, { path: '^(server|web|demo)/' }, 'The terminal stands on core and media.'),
    wall(
      'web-knows-core-only',
      { path: '^web/' },
      { path: '^(server|media|cli|demo)/', pathNot: '^media/test/' },
      'The page asks the server over HTTP.',
    ),
    wall(
      'parts-know-no-server',
      { path: '^web/parts/' },
      { path: '^web/(state|frame|screens|app|listen|ribbon)/' },
      'A control knows what it is given.',
    ),
    wall(
      'state-knows-no-screen',
      { path: '^web/(state|listen|ribbon|frame)/' },
      { path: '^web/(screens|app)/' },
      'What all screens share knows none of them.',
    ),
    wall(
      'screens-stand-apart',
      { path: '^web/screens/([^/]+)/' },
      { path: '^web/screens/', pathNot: '^web/screens/$1/' },
      'Screens share through web/state and web/frame.',
    ),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)dist/|\\.built\\.mjs$' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { extensions: ['.ts', '.tsx', '.mjs', '.js'] },
  },
};
