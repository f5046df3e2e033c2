import js from '@eslint/js';
import { createNodeResolver, importX } from 'eslint-plugin-import-x';
import ts from 'typescript-eslint';

// The rooms: imports run downwards only (commands → operations → workspace, terminal → core), and the core knows neither
// files, terminal, command line nor validation.
const outside = [
  'node:*',
  'fs',
  'path',
  'process',
  'commander',
  'joi',
  'picocolors',
  'tinyglobby',
  'iconv-lite',
  'string-width',
];
const room = (files, rooms, packages = []) => ({
  files,
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          {
            group: rooms.flatMap((name) => [`**/${name}/*`, `**/${name}/**`]),
            message: 'Imports run downwards only: see docs/architecture.md.',
          },
          ...(packages.length > 0
            ? [{ group: packages, message: 'This room is kept free of it: see docs/architecture.md.' }]
            : []),
        ],
      },
    ],
  },
});

// The rooms of the core, each of which may import from those before it.
const CORE = [
  'page',
  'component',
  'style',
  'library',
  'words',
  'fragments',
  'template',
  'match',
  'survey',
  'lift',
  'emit',
];
const above = ['workspace', 'verify', 'preview', 'terminal', 'report', 'operations', 'commands'];

export default ts.config(
  { ignores: ['dist/', 'demo/', 'node_modules/', 'coverage/'] },
  js.configs.recommended,
  {
    files: ['**/*.ts'],
    extends: [ts.configs.strictTypeChecked, ts.configs.stylisticTypeChecked],
    languageOptions: {
      parserOptions: { project: ['tsconfig.json', 'src/browser/tsconfig.json'], tsconfigRootDir: import.meta.dirname },
    },
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-confusing-void-expression': [
        'error',
        { ignoreArrowShorthand: true, ignoreVoidReturningFunctions: true },
      ],
      '@typescript-eslint/no-invalid-void-type': 'off',
      // each takes an eighth of the time; there are no enums, and classes are told apart by what they do
      '@typescript-eslint/no-unsafe-enum-assignment': 'off',
      '@typescript-eslint/no-unsafe-class-instance-assignment': 'off',
      'max-lines': ['error', 400],
    },
  },
  {
    files: ['**/*.mjs', '**/*.cjs'],
    languageOptions: {
      globals: {
        console: 'readonly',
        process: 'readonly',
        performance: 'readonly',
        URL: 'readonly',
        Buffer: 'readonly',
      },
    },
  },
  {
    files: ['src/**/*.ts'],
    plugins: { 'import-x': importX },
    settings: {
      'import-x/resolver-next': [createNodeResolver({ extensionAlias: { '.js': ['.ts', '.js'] } })],
      'import-x/extensions': ['.ts'],
      'import-x/parsers': { '@typescript-eslint/parser': ['.ts'] },
    },
    rules: { 'import-x/no-cycle': ['error', { ignoreExternal: true }] },
  },
  room(['src/core/*.ts'], above, outside),
  ...CORE.map((name, i) => room([`src/core/${name}/**`], [...above, ...CORE.slice(i + 1)], outside)),
  room(
    ['src/terminal/**', 'src/report/**'],
    ['workspace', 'verify', 'preview', 'operations', 'commands'],
    ['commander', 'joi'],
  ),
  room(['src/workspace/**'], ['verify', 'preview', 'terminal', 'report', 'operations', 'commands'], ['commander']),
  room(['src/verify/**', 'src/preview/**'], ['terminal', 'report', 'operations', 'commands'], ['commander']),
  room(['src/operations/**'], ['preview', 'report', 'commands'], ['commander']),
  {
    files: ['src/operations/**'],
    rules: {
      'no-restricted-properties': [
        'error',
        { object: 'process', property: 'stdout', message: 'Operations print nothing: commands do.' },
      ],
    },
  },
  room(['src/browser/**'], above, outside),
);
