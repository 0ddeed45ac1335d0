import tseslint from 'typescript-eslint';

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
      '@typescript-eslint/no-non-null-assertion': 'off',
      eqeqeq: 'error',
      'prefer-const': 'error',
    },
  },
);
