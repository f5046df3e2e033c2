/** The same site in a real browser: computed styles and pictures of every demo page before and after. */
import { afterAll, expect, test } from '@jest/globals';
import { rmSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { compareSites, liftCopy } from './computed.mjs';

const demo = fileURLToPath(new URL('../../demo/site', import.meta.url));
const folders: string[] = [];
afterAll(() => folders.forEach((folder) => rmSync(folder, { recursive: true })));

test('every element of every demo page computes the same styles, and no pixel differs', async () => {
  const { work, before, after, moved } = liftCopy(demo);
  folders.push(work);
  expect(moved).toBeGreaterThan(40);
  const { pages, styles, different, pictures, changed } = await compareSites(before, after);
  expect({ pages, pictures, different, changed }).toEqual({ pages: 15, pictures: 30, different: [], changed: [] });
  expect(styles).toBeGreaterThan(4000);
});
