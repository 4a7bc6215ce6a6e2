import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import a11y from 'eslint-plugin-jsx-a11y';
import hooks from 'eslint-plugin-react-hooks';
import globals from 'globals';
import ts from 'typescript-eslint';

/** Folders of core that a folder of core may import, besides vector, problem and itself. Order is from the bottom up. */
const CORE = {
  vector: [],
  problem: [],
  tolerance: [],
  table: [],
  cause: [],
  quantity: ['problem'],
  material: [],
  solid: ['quantity', 'vector'],
  fit: ['vector'],
  kernel: ['fit', 'problem', 'quantity', 'solid', 'tolerance', 'vector'],
  mesh: ['fit', 'problem', 'quantity', 'solid', 'vector'],
  feature: ['fit', 'solid', 'tolerance', 'vector'],
  overlay: ['fit', 'mesh', 'problem', 'solid', 'vector'],
  outline: ['kernel', 'problem', 'quantity', 'solid', 'tolerance', 'vector'],
  recipe: ['cause', 'feature', 'fit', 'kernel', 'outline', 'problem', 'quantity', 'solid', 'tolerance', 'vector'],
  check: ['feature', 'fit', 'material', 'problem', 'quantity', 'recipe', 'solid', 'tolerance', 'vector'],
  exercise: ['cause', 'check', 'material', 'problem', 'quantity', 'recipe'],
  model: ['exercise', 'feature', 'kernel', 'mesh', 'overlay', 'problem', 'quantity', 'recipe', 'solid', 'vector'],
  buildlog: ['problem', 'recipe', 'table'],
  grade: [
    'buildlog',
    'cause',
    'check',
    'exercise',
    'material',
    'overlay',
    'problem',
    'quantity',
    'recipe',
    'solid',
    'vector',
  ],
  plan: ['chain', 'check', 'exercise', 'feature', 'grade', 'quantity', 'recipe', 'solid', 'tolerance', 'vector'],
  variant: [
    'exercise',
    'kernel',
    'material',
    'model',
    'plan',
    'problem',
    'quantity',
    'recipe',
    'solid',
    'table',
    'vector',
  ],
  chain: ['check', 'exercise', 'feature', 'fit', 'quantity', 'solid', 'tolerance', 'vector'],
  sheet: [
    'check',
    'exercise',
    'feature',
    'fit',
    'kernel',
    'problem',
    'quantity',
    'recipe',
    'solid',
    'tolerance',
    'vector',
  ],
  reconstruct: ['feature', 'kernel', 'problem', 'quantity', 'recipe', 'solid', 'tolerance', 'vector'],
  mistake: [
    'cause',
    'check',
    'exercise',
    'feature',
    'grade',
    'kernel',
    'material',
    'model',
    'plan',
    'problem',
    'quantity',
    'recipe',
    'reconstruct',
    'solid',
    'tolerance',
    'vector',
  ],
  attempt: [
    'chain',
    'check',
    'exercise',
    'grade',
    'kernel',
    'mistake',
    'model',
    'overlay',
    'plan',
    'problem',
    'quantity',
    'recipe',
    'sheet',
    'solid',
    'vector',
  ],
};

const restrict = (patterns) => ['error', { patterns }];
const outer = {
  regex: '^#(api|server|web|demo|runtime)(/|$)',
  message: 'core imports nothing of the program around it',
};
const pure = {
  regex: '^(node:|react|three|hono|better-sqlite3|piscina|pino)',
  message: 'core is pure TypeScript: no page, no Node, no input or output',
};
const climbing = {
  regex: '^(\\.\\./)+(core|server|web|cli|demo|api|runtime|print)/(?!.*/testing\\.ts$)',
  message: 'import another folder by its public face (#core/..., #server/...); tests may take its testing.ts',
};

const coreRules = Object.entries(CORE).map(([folder, allowed]) => ({
  files: [`core/${folder}/**/*.ts`],
  ignores: ['core/**/*.test.ts'],
  rules: {
    '@typescript-eslint/no-restricted-imports': restrict([
      outer,
      pure,
      climbing,
      {
        regex: `^#core/(?!(${allowed.join('|') || 'nothing'})$)`,
        message: `core/${folder} may import: ${allowed.join(', ') || 'no other folder'}`,
      },
      ...(folder === 'kernel' ? [] : [{ regex: '^replicad', message: 'only core/kernel touches the geometry kernel' }]),
    ]),
  },
}));

export default ts.config(
  { ignores: ['dist', 'data', 'data.new', 'node_modules', '.cache', 'docs'] },
  js.configs.recommended,
  ...ts.configs.strictTypeChecked,
  ...ts.configs.stylisticTypeChecked,
  {
    languageOptions: { parserOptions: { project: './tsconfig.lint.json', tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
      '@typescript-eslint/no-invalid-void-type': 'off',
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/prefer-nullish-coalescing': ['error', { ignorePrimitives: { string: true, boolean: true } }],
      '@typescript-eslint/consistent-type-definitions': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-restricted-imports': restrict([climbing]),
      eqeqeq: 'error',
      // Process variables and data attributes are index signatures, for which the compiler wants brackets.
      '@typescript-eslint/dot-notation': ['error', { allowIndexSignaturePropertyAccess: true }],
      '@typescript-eslint/no-empty-function': ['error', { allow: ['arrowFunctions', 'methods'] }],
    },
  },
  {
    files: ['server/**/*.ts'],
    ignores: ['server/testing/**', '**/*.test.ts'],
    rules: {
      '@typescript-eslint/no-restricted-imports': restrict([
        climbing,
        { regex: '^#(web|demo)(/|$)', message: 'the server knows neither the page nor the demo' },
      ]),
    },
  },
  {
    files: ['web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks, 'jsx-a11y': a11y },
    languageOptions: { globals: globals.browser },
    rules: {
      ...hooks.configs.recommended.rules,
      ...a11y.flatConfigs.recommended.rules,
      'jsx-a11y/no-noninteractive-tabindex': 'off',
      '@typescript-eslint/no-restricted-imports': restrict([
        climbing,
        { regex: '^#(server|demo|runtime)(/|$)', message: 'the page reaches the server over its API only' },
        { regex: '^(node:|replicad|better-sqlite3)', message: 'not in the page' },
      ]),
    },
  },
  {
    // Tests may take the demo's exercises as examples.
    files: ['web/**/*.test.ts'],
    rules: { '@typescript-eslint/no-restricted-imports': restrict([climbing]) },
  },
  {
    files: ['web/workshop/kernel.ts'],
    rules: { '@typescript-eslint/no-restricted-imports': restrict([climbing]) },
  },
  ...coreRules,
  {
    // Arithmetic over typed arrays and small matrices, with indices that are within by construction.
    files: ['core/fit/**/*.ts', 'core/mesh/**/*.ts'],
    rules: { '@typescript-eslint/no-non-null-assertion': 'off' },
  },
  {
    files: ['**/*.test.ts', 'e2e/**/*.ts'],
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      // Matchers such as expect.closeTo are of any type.
      '@typescript-eslint/no-unsafe-assignment': 'off',
      '@typescript-eslint/no-unsafe-return': 'off',
    },
  },
  {
    files: ['**/*.{js,mjs,cjs}'],
    extends: [ts.configs.disableTypeChecked],
    languageOptions: { globals: globals.node },
  },
  prettier,
);
