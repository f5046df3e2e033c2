/**
 * One seed for all property tests, so that a run tells about the code and not about the day. ESTRADE_SEED sets another
 * one, `random` a new one a run; together with ESTRADE_CASES that is how to look for what no run has met yet.
 */
import fc from 'fast-check';

const seed = process.env.ESTRADE_SEED ?? '20261123';
if (seed !== 'random') fc.configureGlobal({ seed: Number(seed) });
