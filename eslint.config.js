import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

const ours = (name) => [`@pocket-twin/${name}`, `@pocket-twin/${name}/*`];

/** What a folder must not import. Everything else about a house is in docs/architecture.md. */
function walls(files, patterns, paths = []) {
  return {
    files,
    rules: { 'no-restricted-imports': ['error', { patterns: patterns.map((pattern) => ({ ...pattern })), paths }] },
  };
}
const deny = (group, message) => ({ group, message });

const noProcesses = ['node:child_process', 'child_process'].map((name) => ({
  name,
  message: 'Only media starts processes.',
}));
const coreRooms = {
  signal: ['pcm', 'riff', 'measure', 'outline', 'diagnose', 'repair', 'schema', 'kernels'],
  pcm: ['riff', 'measure', 'outline', 'diagnose', 'repair', 'kernels'],
  schema: ['riff', 'measure', 'outline', 'diagnose', 'repair', 'kernels'],
  measure: ['diagnose', 'repair', 'outline', 'riff'],
  outline: ['diagnose', 'repair', 'measure', 'riff'],
  diagnose: ['repair', 'riff', 'pcm', 'kernels'],
};
const coreOutside = [
  deny(
    ['node:*', 'fs', 'path', 'react', 'react-dom', 'react-*', 'express', 'sequelize'],
    'core runs anywhere: no DOM, no Node, no packages that need either.',
  ),
  deny(
    [...ours('media'), ...ours('server'), ...ours('web'), ...ours('demo'), ...ours('cli')],
    'core stands on its own.',
  ),
];

export default tseslint.config(
  {
    ignores: [
      '**/dist/',
      '**/node_modules/',
      '.pocket-twin/',
      '**/*.wasm.ts',
      '**/*.built.mjs',
      'core/kernels/**/*.as.ts',
    ],
  },
  ...tseslint.configs.recommended,
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': 'error',
      eqeqeq: 'error',
      'no-console': 'error',
    },
  },
  {
    // What knows types: every promise is waited for or goes through one function that logs, and a switch knows every case.
    files: ['**/*.{ts,tsx}'],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-floating-promises': ['error', { ignoreVoid: false }],
      '@typescript-eslint/switch-exhaustiveness-check': 'error',
    },
  },
  { files: ['scripts/**', 'demo/main.ts', 'bench/**', 'web/app/inBackground.ts'], rules: { 'no-console': 'off' } },
  {
    files: ['scripts/**/*.mjs', '**/*.mjs'],
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        fetch: 'readonly',
        setTimeout: 'readonly',
        clearTimeout: 'readonly',
        URL: 'readonly',
      },
    },
  },
  { files: ['web/**/*.{ts,tsx}'], plugins: { 'react-hooks': hooks }, rules: { 'react-hooks/rules-of-hooks': 'error' } },
  walls(['core/**/*.ts'], coreOutside),
  ...Object.entries(coreRooms).map(([room, forbidden]) =>
    walls(
      [`core/${room}/*.ts`],
      [
        ...coreOutside,
        deny(
          forbidden.map((other) => `../${other}/*`),
          `core/${room} lies below the rooms it is reaching for.`,
        ),
      ],
    ),
  ),
  walls(
    ['media/**/*.ts'],
    [
      deny(
        [...ours('server'), ...ours('web'), ...ours('cli'), ...ours('demo'), 'sequelize', 'express'],
        'media is files in and out.',
      ),
    ],
  ),
  walls(
    ['server/**/*.ts'],
    [
      deny([...ours('web'), ...ours('cli')], 'server does not know its clients.'),
      deny(['react', 'react-*'], 'No interface code on the server.'),
    ],
    noProcesses,
  ),
  walls(['server/http/**/*.ts'], [deny(['pg'], 'Only server/db talks to the database.')], noProcesses),
  walls(
    ['web/**/*.{ts,tsx}'],
    [deny([...ours('server'), ...ours('media'), ...ours('cli'), ...ours('demo'), 'node:*'], 'web knows core only.')],
  ),
  walls(
    ['cli/**/*.ts'],
    [deny([...ours('server'), ...ours('web'), ...ours('demo')], 'The terminal stands on core and media.')],
    noProcesses,
  ),
  {
    files: ['server/**/*.ts'],
    ignores: ['server/db/**'],
    rules: {
      '@typescript-eslint/no-restricted-imports': [
        'error',
        { paths: [{ name: 'sequelize', allowTypeImports: true, message: 'Only server/db knows Sequelize.' }] },
      ],
    },
  },
  { files: ['**/*.test.ts', 'e2e/**'], rules: { 'no-restricted-imports': 'off' } },
);
