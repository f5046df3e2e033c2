// More cases of every property, more steps of what is killed, and pictures of more pages.
import usual from './jest.config.mjs';

process.env.ESTRADE_DEEP = '1';

export default {
  ...usual,
  testMatch: ['core/**/*', 'encodings', 'cli/{kill,faults,pictures,emit,report}'].map(
    (name) => `<rootDir>/test/${name}.test.ts`,
  ),
};
