export default {
  testEnvironment: 'node',
  roots: ['<rootDir>/test'],
  testMatch: ['**/*.test.ts'],
  extensionsToTreatAsEsm: ['.ts'],
  moduleNameMapper: {
    '^(\\.{1,2}/.*)\\.js$': '$1',
    // one file of it, as the program is built with, in place of two hundred
    '^css-tree$': 'css-tree/dist/csstree.esm',
  },
  transform: {
    '^.+\\.ts$': [
      '@swc/jest',
      { jsc: { target: 'es2022', parser: { syntax: 'typescript' } }, module: { type: 'es6' } },
    ],
  },
  testTimeout: 600_000,
  maxWorkers: '100%',
  reporters: ['default', '<rootDir>/test/slowest.mjs'],
};
