import js from '@eslint/js';
import globals from 'globals';
import hooks from 'eslint-plugin-react-hooks';
import typescript from 'typescript-eslint';

export default typescript.config(
  { ignores: ['dist/**', '.under-lamp*/**', 'coverage/**'] },
  js.configs.recommended,
  ...typescript.configs.recommendedTypeChecked,
  {
    languageOptions: {
      parserOptions: {
        projectService: {
          allowDefaultProject: ['*.mjs', '*.cjs', 'scripts/*.mjs', 'scripts/lib/*.mjs', 'cli/bin/*.mjs'],
        },
      },
    },
    rules: {
      '@typescript-eslint/switch-exhaustiveness-check': [
        'error',
        { considerDefaultExhaustiveForUnions: true },
      ],
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      eqeqeq: ['error', 'always', { null: 'ignore' }],
      'no-restricted-syntax': [
        'error',
        {
          selector: 'ExportAllDeclaration',
          message: 'Barrels tie files into circles: export by name, at package edges only.',
        },
      ],
    },
  },
  {
    // Statements are named, and stand in the sql.ts of their subject. Those whose tables are only known as they run stay.
    files: ['server/**/*.ts'],
    ignores: [
      '**/*.test.ts',
      '**/sql.ts',
      '**/*-sql.ts',
      'server/db/**',
      'server/tests/**',
      'server/*/tests/**',
      'server/app.ts',
      'server/derived/check.ts',
      'server/derived/compact-counts.ts',
      'server/sources/retention.ts',
    ],
    rules: {
      'no-restricted-syntax': [
        'error',
        ...['Literal[value', 'TemplateElement[value.raw'].map((what) => ({
          selector: `${what}=/^\\s*(SELECT|INSERT INTO|UPDATE|DELETE FROM|WITH) /]`,
          message: 'Name this statement in the sql.ts of its subject.',
        })),
      ],
    },
  },
  {
    files: ['web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    languageOptions: { globals: globals.browser },
    rules: hooks.configs.recommended.rules,
  },
  {
    // What clicks and submits start is awaited by nobody.
    files: ['web/**/*.tsx'],
    rules: {
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }],
    },
  },
  {
    // Tests read answers of the server as the loose JSON they are; what they expect of it is their check.
    files: ['**/*.test.{ts,tsx}', '**/tests/**', 'e2e/**'],
    rules: {
      '@typescript-eslint/no-explicit-any': 'off',
      '@typescript-eslint/no-unsafe-assignment': 'off',
      '@typescript-eslint/no-unsafe-member-access': 'off',
      '@typescript-eslint/no-unsafe-argument': 'off',
      '@typescript-eslint/no-unsafe-call': 'off',
      '@typescript-eslint/no-unsafe-return': 'off',
    },
  },
  {
    files: ['**/*.{mjs,cjs}'],
    ...typescript.configs.disableTypeChecked,
    languageOptions: { globals: globals.node },
  },
);
