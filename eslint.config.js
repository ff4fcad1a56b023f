import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

// What may import what is held by .dependency-cruiser.cjs.
export default tseslint.config(
  {
    ignores: [
      '**/dist/',
      '**/node_modules/',
      '.pocket-twin/',
      '**/*.wasm.ts',
      '**/*.built.mjs',
      'core/kernels/**/*.as.ts',
      'core/everywhere.d.ts',
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
    languageOptions: { parserOptions: { project: 'tsconfig.json', tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-floating-promises': ['error', { ignoreVoid: false }],
      '@typescript-eslint/switch-exhaustiveness-check': 'error',
    },
  },
  { files: ['scripts/**', 'demo/main.ts', 'bench/**', 'web/parts/inBackground.ts'], rules: { 'no-console': 'off' } },
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
  {
    // V8 keeps variables that were declared by taking a list apart away from its registers: loops beside them take three times as long (measured).
    files: ['core/**/*.ts'],
    ignores: ['**/*.test.ts', 'core/test/**'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector: "VariableDeclarator[id.type='ArrayPattern'][init.type='ArrayExpression']",
          message: 'One declaration each: loops beside variables from a list are three times slower.',
        },
      ],
    },
  },
  { files: ['web/**/*.{ts,tsx}'], plugins: { 'react-hooks': hooks }, rules: { 'react-hooks/rules-of-hooks': 'error' } },
  {
    files: ['server/**/routes.ts', 'server/http/**/*.ts', 'server/*.ts'],
    ignores: ['server/openRows.ts'],
    rules: {
      '@typescript-eslint/no-restricted-imports': [
        'error',
        {
          paths: [{ name: 'sequelize', allowTypeImports: true, message: 'Rows, queries and actions know Sequelize.' }],
        },
      ],
    },
  },
);
