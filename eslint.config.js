import prettier from 'eslint-config-prettier';
import regexp from 'eslint-plugin-regexp';
import vue from 'eslint-plugin-vue';
import globals from 'globals';
import ts from 'typescript-eslint';

const API_PATH = '/^\\u002fapi\\u002f[^:]+$/';
const USE_ADDRESS = 'Ask by the route of the contract: api(), address() and the like.';

export default ts.config(
  {
    ignores: [
      '**/dist/**',
      'data/**',
      '**/node_modules/**',
      'server/drizzle/**',
      'test-results/**',
      '**/.stryker-tmp/**',
      // Plain CommonJS, as the package it stands for.
      'vendor/**',
    ],
  },
  ...ts.configs.strict,
  ...vue.configs['flat/recommended'].map((part) => ({ ...part, files: part.files ?? ['web/**'] })),
  {
    // Foreign text must not decide how long an expression takes.
    ignores: ['**/test/**'],
    plugins: { regexp },
    rules: {
      'regexp/no-super-linear-backtracking': ['error', { report: 'potential' }],
      'regexp/no-super-linear-move': ['error', { report: 'potential' }],
    },
  },
  {
    languageOptions: { globals: { ...globals.node, ...globals.browser } },
    rules: {
      'no-console': ['error', { allow: ['log', 'error'] }],
      eqeqeq: 'error',
      '@typescript-eslint/no-explicit-any': 'error',
      // Array access is checked by the compiler already; the sign says that the place is known to be filled.
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_' },
      ],
      '@typescript-eslint/no-invalid-void-type': 'off',
    },
  },
  {
    files: ['web/**'],
    rules: { 'vue/multi-word-component-names': 'error', 'vue/require-default-prop': 'off' },
  },
  {
    // The compiler says so there (noUnusedLocals, noUnusedParameters).
    files: ['**/*.ts', '**/*.vue'],
    rules: { '@typescript-eslint/no-unused-vars': 'off' },
  },
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: ts.parser } },
  },
  {
    // Promises that nobody waits for hide their errors.
    files: ['{core,contract,server,demo,e2e,bench}/**/*.ts'],
    languageOptions: { parserOptions: { projectService: true } },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: false }],
      '@typescript-eslint/await-thenable': 'error',
    },
  },
  {
    // Paths of the API are typed once, in the contract.
    files: ['web/src/**'],
    rules: {
      'no-restricted-syntax': [
        'error',
        { selector: `Literal[value=${API_PATH}]`, message: USE_ADDRESS },
        { selector: `TemplateElement[value.raw=${API_PATH}]`, message: USE_ADDRESS },
      ],
      'vue/no-restricted-syntax': [
        'error',
        { selector: `VLiteral[value=${API_PATH}]`, message: USE_ADDRESS },
      ],
    },
  },
  {
    files: ['server/src/features/**'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector:
            "CallExpression[callee.object.name='app'][callee.property.name=/^(?:get|head|post|put|patch|delete|route)$/]",
          message: 'Routes are registered from the contract, by registerRoutes or registerScoped.',
        },
      ],
    },
  },
  prettier,
);
