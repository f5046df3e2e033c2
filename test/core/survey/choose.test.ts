/** What is chosen when some of it turns out not to be one part. */
import { expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { findCandidates } from '../../../src/core/fragments/candidates.js';
import { parsePage } from '../../../src/core/page/parse.js';
import type { Choice } from '../../../src/core/survey/choice.js';
import { choose } from '../../../src/core/survey/choose.js';
import { siteOf } from '../../../src/core/survey/survey.js';
import { sites } from '../../arbitrary/pages.js';
import { cases } from '../../arbitrary/cases.js';

/** Bytes that what is chosen is worth at least. */
const LEAST = 20;

test('nothing is passed over for the sake of what is not chosen, whatever turns out not to be one part', () => {
  fc.assert(
    fc.property(sites, fc.nat(7), (sources, salt) => {
      const site = siteOf(
        sources.map((source, i) => parsePage(`${i}.html`, source)),
        {},
      );
      const candidates = findCandidates(site, {
        minOccurrences: 2,
        minElements: 2,
        isSettled: () => false,
        covered: new Set(),
      });
      const isUnlike = ({ candidate }: Choice) => (candidate.places[0]! * 7 + candidate.places.length + salt) % 3 === 0;
      const { choices } = choose(candidates, site, LEAST, {
        unlikeAmong: (chosen) => new Set(chosen.filter(isUnlike)),
        savedBy: () => ({ components: 0, bytes: 0 }),
      });
      const chosen = new Set(choices.filter((choice) => choice.chosen).map(({ candidate }) => candidate));
      for (const choice of choices) {
        if (choice.chosen) expect(isUnlike(choice)).toBe(false);
        else if (choice.inTheWay !== null && choice.worth >= LEAST && !isUnlike(choice))
          expect(chosen).toContain(choice.inTheWay.candidate);
      }
    }),
    { numRuns: cases(600) },
  );
});
