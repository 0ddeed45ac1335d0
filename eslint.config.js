import tseslint from 'typescript-eslint';

/** Rules that need types: for all of our TypeScript, specs included. */
const typed = {
  files: ['**/*.ts'],
  languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
  rules: {
    '@typescript-eslint/no-floating-promises': 'error',
    '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { arguments: false } }],
    '@typescript-eslint/await-thenable': 'error',
    '@typescript-eslint/no-unsafe-argument': 'error',
    '@typescript-eslint/no-unsafe-assignment': 'error',
    '@typescript-eslint/no-unsafe-call': 'error',
    '@typescript-eslint/no-unsafe-member-access': 'error',
    '@typescript-eslint/no-unsafe-return': 'error',
    '@typescript-eslint/no-unnecessary-type-assertion': 'error',
    '@typescript-eslint/switch-exhaustiveness-check': [
      'error',
      { considerDefaultExhaustiveForUnions: true, requireDefaultForNonUnion: false },
    ],
  },
};

const WRITING = [
  'appendFileSync',
  'copyFileSync',
  'cpSync',
  'createWriteStream',
  'linkSync',
  'renameSync',
  'rmSync',
  'symlinkSync',
  'truncateSync',
  'unlinkSync',
  'writeFile',
  'writeFileSync',
  'writeSync',
];

/** A program is started in one place, and files are written in one: where nothing that a project says decides what. */
const STARTING = { name: 'node:child_process', message: 'Programs are started in server/src/git/program.ts.' };
const TO_FILES = [
  { name: 'node:fs', importNames: WRITING, message: 'Files are written in server/src/writing/write.ts.' },
  { name: 'node:fs/promises', message: 'Files are written in server/src/writing/write.ts.' },
];
const restricted = (paths) => ({ 'no-restricted-imports': ['error', { paths }] });

export default tseslint.config(
  {
    ignores: [
      'web/karma.conf.cjs',
      '**/dist/**',
      '**/node_modules/**',
      'docs/examples/*.ts',
      'samples/sluicekeeper/**',
      'samples/standards/**',
      'web/.angular/**',
      '.glue/**',
    ],
  },
  ...tseslint.configs.recommended,
  {
    rules: {
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      eqeqeq: 'error',
      'prefer-const': 'error',
    },
  },
  typed,
  {
    // What must be there is read with helpers that say where it is not; specs fail by themselves.
    files: ['**/src/**/*.ts'],
    ignores: ['**/*.spec.ts', '**/testing/**'],
    rules: { '@typescript-eslint/no-non-null-assertion': 'error' },
  },
  {
    files: ['**/src/**/*.ts'],
    ignores: ['**/*.spec.ts', '**/testing/**', 'e2e/**'],
    rules: restricted([STARTING, ...TO_FILES]),
  },
  { files: ['server/src/git/program.ts'], rules: restricted(TO_FILES) },
  { files: ['server/src/writing/write.ts'], rules: restricted([STARTING]) },
);
