import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['dist/', '.state/', '.cache/', 'node_modules/', '**/*.cjs', '**/*.mjs', 'docs/'] },
  ...tseslint.configs.recommendedTypeChecked,
  { languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } } },
  {
    rules: {
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/switch-exhaustiveness-check': 'off',
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true },
      ],
      'no-console': 'error',
      // More than four that only their order tells apart are mistaken for each other.
      'max-params': 'off',
      '@typescript-eslint/max-params': ['error', { max: 4 }],
      // Prettier lays out the code; what it leaves long is words: sentences, queries, the names of looks.
      'max-len': [
        'error',
        { code: 120, ignoreStrings: true, ignoreTemplateLiterals: true, ignoreRegExpLiterals: true },
      ],
    },
  },
  {
    files: ['core/src/**/*.ts', 'server/src/**/*.ts'],
    rules: { '@typescript-eslint/explicit-module-boundary-types': 'error' },
  },
  { files: ['web/src/**/*.tsx', 'web/src/**/*.ts'], ...hooks.configs.flat['recommended-latest'] },
  {
    files: ['web/src/**/*.tsx'],
    rules: {
      'no-restricted-syntax': [
        'error',
        { selector: "JSXOpeningElement[name.name='select']", message: 'A choice is the Select of ui/select.tsx.' },
      ],
    },
  },
  {
    files: ['**/*.test.ts', 'e2e/**/*.ts'],
    rules: {
      // What a property is asked of comes as it comes.
      '@typescript-eslint/max-params': 'off',
      '@typescript-eslint/explicit-module-boundary-types': 'off',
      '@typescript-eslint/no-unsafe-assignment': 'off',
    },
  },
);
