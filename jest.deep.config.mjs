// All cases of every property, and every step of what is killed.
import usual from './jest.config.mjs';

process.env.ESTRADE_DEEP = '1';

export default {
  ...usual,
  testMatch: ['core/**/*', 'encodings', 'cli/kill'].map((name) => `<rootDir>/test/${name}.test.ts`),
};
