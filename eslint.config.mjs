import reactHooks from 'eslint-plugin-react-hooks';
import regexp from 'eslint-plugin-regexp';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['**/dist/**', '**/node_modules/**', '**/.expo/**', 'data/**', '.tmp/**', 'test-results/**'] },
  {
    files: ['**/*.ts', '**/*.tsx'],
    extends: [...tseslint.configs.recommended],
    linterOptions: { reportUnusedDisableDirectives: 'error' },
    rules: {
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', ignoreRestSiblings: true }],
      eqeqeq: ['error', 'always', { null: 'ignore' }],
      'no-control-regex': 'error',
      'no-console': 'error',
      'no-eval': 'error',
      'no-implied-eval': 'error',
      'prefer-const': 'error',
    },
  },
  {
    files: ['**/src/**/*.ts', '**/src/**/*.tsx'],
    plugins: { regexp },
    rules: {
      // What strangers send is matched in linear time.
      'regexp/no-super-linear-backtracking': ['error', { report: 'certain' }],
      'regexp/no-super-linear-move': ['error', { ignorePartial: false, ignoreSticky: false, report: 'certain' }],
    },
  },
  {
    files: ['app/**/*.tsx', 'app/**/*.ts', 'reader/**/*.tsx', 'ui/**/*.tsx'],
    ignores: ['ui/src/later.tsx'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          paths: [
            {
              name: 'react',
              importNames: ['lazy', 'Suspense'],
              message: 'What is fetched later is `later` of @under-lock/ui/later: it says why, and keeps its place.',
            },
          ],
        },
      ],
    },
  },
  {
    files: ['app/**/*.tsx', 'app/**/*.ts', 'reader/**/*.tsx', 'ui/**/*.tsx'],
    plugins: { 'react-hooks': reactHooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  {
    files: ['app/src/**/*.ts', 'app/src/**/*.tsx'],
    ignores: ['app/src/shell/from-here.ts', 'app/src/session/**'],
    rules: {
      'no-restricted-properties': [
        'error',
        {
          object: 'router',
          property: 'replace',
          message: 'What is done may have taken a while: go on with fromHere(), which takes nobody along who has left.',
        },
      ],
    },
  },
  {
    files: ['app/src/**/*.tsx', 'reader/src/**/*.tsx', 'ui/src/**/*.tsx'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector:
            'JSXOpeningElement:has(JSXAttribute[name.name="role"][value.value="link"]):has(JSXAttribute[name.name="onPress"])',
          message:
            'Enter does not press what only calls itself a link: use Link or LinkArea, which lead there themselves.',
        },
      ],
    },
  },
  {
    // A function fits on a screen of its own: what a component shows may be longer than what something does.
    files: ['**/src/**/*.ts', '**/src/**/*.tsx'],
    rules: {
      'max-depth': ['error', 4],
      'max-nested-callbacks': ['error', 4],
      'max-lines-per-function': ['error', { max: 50, skipBlankLines: true, skipComments: true }],
    },
  },
  {
    files: ['{app,reader,ui}/src/**/*.tsx'],
    rules: { 'max-lines-per-function': ['error', { max: 80, skipBlankLines: true, skipComments: true }] },
  },
);
