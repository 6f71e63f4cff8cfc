import js from '@eslint/js'
import tseslint from 'typescript-eslint'
import reactHooks from 'eslint-plugin-react-hooks'
import jsxA11y from 'eslint-plugin-jsx-a11y'

export default tseslint.config(
  { ignores: ['bench/.*.mjs', 'dist', 'node_modules', 'test-results', 'playwright-report', '.cache', '*.cjs'] },
  js.configs.recommended,
  ...tseslint.configs.strict,
  {
    files: ['**/*.{ts,tsx}'],
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-invalid-void-type': 'off',
      'no-console': 'error',
    },
  },
  {
    files: ['web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': reactHooks, 'jsx-a11y': jsxA11y },
    rules: { ...reactHooks.configs.recommended.rules, ...jsxA11y.flatConfigs.recommended.rules },
  },
  {
    files: ['web/**/*.{ts,tsx}'],
    ignores: ['web/ui/address.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          name: 'react-router',
          importNames: ['useSearchParams'],
          message: 'Take useAddress of web/ui/address.ts: of two quick changes the router’s own loses the first.',
        },
      ],
    },
  },
  {
    files: ['**/*.{ts,tsx,mjs,js}'],
    rules: { complexity: ['error', 30], 'max-lines-per-function': ['error', { max: 150 }] },
  },
  {
    // Arrays and loops of the search, where a call in the innermost loop costs.
    files: ['core/netting/kernel/*.ts'],
    rules: { complexity: 'off' },
  },
  {
    // What is remembered between two counts belongs to whoever counts (`Memory`).
    files: ['core/**/*.ts'],
    ignores: ['**/*.test.ts', '**/*.test-data.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector:
            ':matches(Program, ExportNamedDeclaration) > VariableDeclaration > VariableDeclarator[id.typeAnnotation.typeAnnotation.typeName.name!=/^Readonly/] > NewExpression[callee.name=/^(Weak)?(Map|Set)$/][arguments.length=0]',
          message: 'No module keeps anything of its own: take a Memory, or let a value remember.',
        },
        {
          selector: ':matches(Program, ExportNamedDeclaration) > VariableDeclaration[kind=let]',
          message: 'No module has a state of its own.',
        },
      ],
    },
  },
  {
    files: ['bench/**', 'bin/**', 'server/**', 'e2e/**'],
    languageOptions: { globals: { process: 'readonly', console: 'readonly' } },
    rules: { 'no-console': 'off' },
  },
  {
    files: ['**/*.{mjs,js}'],
    languageOptions: { globals: { process: 'readonly', console: 'readonly' } },
    rules: { 'no-console': 'off' },
  },
)
