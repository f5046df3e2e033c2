import { test } from '@jest/globals';

/** Some tests ask less of `npm test` than of `npm run test:deep`. */
export const isDeep = process.env.ESTRADE_DEEP === '1';

/** A test that asks the same in both, and is left out of a deep run. */
export const usualTest: typeof test = isDeep ? (test.skip as typeof test) : test;

/** Of all cases of a property, so many are tried. */
const SHARE = isDeep ? 1 / 3 : 1 / 10;

/** How many cases of a property are tried: some of all, more in a deep run; as many as ESTRADE_CASES says where it is set. */
export function cases(all: number): number {
  return Number(process.env.ESTRADE_CASES ?? Math.max(5, Math.ceil(all * SHARE)));
}
