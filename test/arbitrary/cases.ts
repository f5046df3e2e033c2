/** Some tests ask less of `npm test` than of `npm run test:deep`. */
export const isDeep = process.env.ESTRADE_DEEP === '1';

/** How many cases of a property are tried: all in a deep run, few in a usual one, and as many as ESTRADE_CASES says. */
export function cases(all: number): number {
  return Number(process.env.ESTRADE_CASES ?? (isDeep ? all : Math.max(5, Math.ceil(all / 8))));
}
