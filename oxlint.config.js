import { defineConfig } from 'oxlint';

/** From the inside out: a folder of the core may import those before it, and none after. */
const CORE_ORDER = [
  'text',
  'links',
  'version',
  'manifest',
  'registry',
  'shape',
  'workspace',
  'bring-in',
  'resolve',
  'lock',
  'bisect',
  'install',
  'merge',
  'graph',
  'alignment',
  'edit',
  'scan',
  'findings',
  'draft',
  'upgrade',
  'answer',
];

/** Refuses imports whose path fits one of these patterns. */
const restricted = (...patterns) => ({ 'no-restricted-imports': ['error', { patterns }] });

const inwardArrows = CORE_ORDER.map((folder, i) => ({
  files: [`packages/core/src/${folder}/**/*.ts`],
  rules: restricted(
    ...[
      {
        group: CORE_ORDER.slice(i + 1).flatMap((outer) => [`../${outer}/**`, `../../${outer}/**`]),
        message: 'Arrows point inward: this folder must not know that one.',
      },
      {
        group: CORE_ORDER.slice(0, i).flatMap((inner) => [
          `../${inner}/**`,
          `../../${inner}/**`,
          `!../${inner}/index.js`,
          `!../../${inner}/index.js`,
          `!../${inner}/*.arbitrary.js`,
        ]),
        message: "Import the folder's face, index.js, not a file in it.",
      },
      {
        group: [
          'node:*',
          'node:*/**',
          'fs',
          'path',
          'crypto',
          '@deep-ledger/**',
          '@nestjs/**',
          'react',
        ],
        message: 'The core knows neither Node nor any of its users.',
      },
    ].filter(({ group }) => group.length > 0),
  ),
}));

export default defineConfig({
  plugins: ['typescript', 'react', 'oxc'],
  categories: { correctness: 'error' },
  ignorePatterns: [
    '**/dist/**',
    '.local/**',
    'demo/repository/**',
    'packages/web/src/api/generated/schema.d.ts',
  ],
  options: { reportUnusedDisableDirectives: 'error' },
  rules: {
    'no-case-declarations': 'error',
    'no-empty': 'error',
    'no-fallthrough': 'error',
    'no-prototype-builtins': 'error',
    'no-regex-spaces': 'error',
    'no-unexpected-multiline': 'error',
    'no-useless-assignment': 'error',
    'no-useless-constructor': 'error',
    'no-array-constructor': 'error',
    'no-var': 'error',
    'no-console': 'error',
    'prefer-const': 'error',
    'prefer-rest-params': 'error',
    'prefer-spread': 'error',
    'preserve-caught-error': 'error',
    eqeqeq: ['error', 'always', { null: 'ignore' }],
    'no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
    'typescript/ban-ts-comment': ['error', { minimumDescriptionLength: 10 }],
    'typescript/consistent-type-imports': ['error', { disallowTypeAnnotations: false }],
    'typescript/no-dynamic-delete': 'error',
    'typescript/no-empty-object-type': 'error',
    'typescript/no-explicit-any': 'error',
    'typescript/no-invalid-void-type': 'error',
    'typescript/no-namespace': 'error',
    'typescript/no-non-null-asserted-nullish-coalescing': 'error',
    'typescript/no-require-imports': 'error',
    'typescript/no-unnecessary-type-constraint': 'error',
    'typescript/no-unsafe-function-type': 'error',
    'typescript/prefer-literal-enum-member': 'error',
    'typescript/unified-signatures': 'error',
  },
  overrides: [
    // Decorators need the classes themselves at run time.
    {
      files: ['packages/server/**/*.ts'],
      rules: { 'typescript/consistent-type-imports': 'off' },
    },
    {
      files: ['packages/web/**/*.{ts,tsx}'],
      rules: {
        'react/rules-of-hooks': 'error',
        'react/unsupported-syntax': 'error',
        ...restricted({
          group: ['@deep-ledger/server', 'node:*', 'node:*/**'],
          message: 'The page speaks to the server over HTTP alone.',
        }),
      },
    },
    // The form that Node.js starts fastest.
    { files: ['**/*.cts'], rules: { 'typescript/no-require-imports': 'off' } },
    { files: ['e2e/**/*.ts'], rules: { 'no-empty-pattern': 'off' } },
    ...inwardArrows,
  ],
});
