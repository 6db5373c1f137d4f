import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import globals from 'globals';
import tseslint from 'typescript-eslint';

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

const inwardArrows = CORE_ORDER.map((folder, i) => ({
  files: [`packages/core/src/${folder}/**/*.ts`],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          {
            group: CORE_ORDER.slice(i + 1).flatMap((outer) => [
              `../${outer}/*`,
              `../../${outer}/*`,
            ]),
            message: 'Arrows point inward: this folder must not know that one.',
          },
          {
            group: CORE_ORDER.slice(0, i).flatMap((inner) => [
              `../${inner}/*`,
              `../../${inner}/*`,
              `!../${inner}/index.js`,
              `!../../${inner}/index.js`,
              `!../${inner}/*.arbitrary.js`,
            ]),
            message: "Import the folder's face, index.js, not a file in it.",
          },
          {
            group: ['node:*', 'fs', 'path', 'crypto', '@deep-ledger/*', '@nestjs/*', 'react'],
            message: 'The core knows neither Node nor any of its users.',
          },
        ].filter(({ group }) => group.length > 0),
      },
    ],
  },
}));

export default tseslint.config(
  {
    ignores: [
      '**/dist/**',
      '**/node_modules/**',
      '.local/**',
      'demo/repository/**',
      'packages/web/src/api/generated/schema.d.ts',
    ],
  },
  js.configs.recommended,
  ...tseslint.configs.strict,
  {
    rules: {
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_' },
      ],
      // An index that a loop's bound or a check just before proves is asserted, as the house style shows.
      '@typescript-eslint/no-non-null-assertion': 'off',
      // Nest's modules are classes that hold nothing.
      '@typescript-eslint/no-extraneous-class': 'off',
      '@typescript-eslint/consistent-type-imports': ['error', { disallowTypeAnnotations: false }],
      eqeqeq: ['error', 'always', { null: 'ignore' }],
      'no-console': 'error',
    },
  },
  // Decorators need the classes themselves at run time.
  {
    files: ['packages/server/**/*.ts'],
    rules: { '@typescript-eslint/consistent-type-imports': 'off' },
  },
  { files: ['**/*.js'], languageOptions: { globals: globals.node } },
  {
    files: ['packages/web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: {
      ...hooks.configs.recommended.rules,
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: ['@deep-ledger/server', 'node:*'],
              message: 'The page speaks to the server over HTTP alone.',
            },
          ],
        },
      ],
    },
  },
  { files: ['e2e/**/*.ts'], rules: { 'no-empty-pattern': 'off' } },
  ...inwardArrows,
);
