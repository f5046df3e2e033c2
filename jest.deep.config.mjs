// All cases of every property, every step of what is killed, and pictures of every page.
import usual from './jest.config.mjs';

process.env.ESTRADE_DEEP = '1';

export default {
  ...usual,
  testMatch: ['core/**/*', 'encodings', 'cli/{kill,faults,pictures,emit,report}'].map(
    (name) => `<rootDir>/test/${name}.test.ts`,
  ),
};
