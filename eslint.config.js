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

export default tseslint.config(
  {
    ignores: [
      'web/karma.conf.cjs',
      '**/dist/**',
      '**/node_modules/**',
      'samples/sluicekeeper/**',
      'samples/standards/**',
      'web/.angular/**',
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
    // A program is started in one place, where nothing that a project says can change what it runs.
    files: ['**/src/**/*.ts'],
    ignores: ['**/*.spec.ts', 'server/src/git/program.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        { paths: ['child_process', 'node:child_process'].map((name) => ({ name, message: 'See server/src/git.' })) },
      ],
    },
  },
);
