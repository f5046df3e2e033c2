/** What is told where stylesheets know hardly any of the class words, as those of a library that other servers keep. */
import type { Place } from '../errors.js';
import { isElsewhere } from '../page/url.js';
import { isStylesheetLink } from '../page/stylesheet-link.js';
import { attrOf } from '../page/tree.js';
import { placeAt } from '../page/parse.js';
import { isStyled, type Vocabulary } from '../words/vocabulary.js';
import type { Profile } from '../fragments/profile.js';
import type { Remark } from './types.js';

/** So many class words are enough to be told by their rules. */
const LEAST_WORDS = 10;
const MOST_SHOWN = 5;

/** A remark with the links to stylesheets on other servers, each where it stands first; nothing where most words are known. */
export function unstyledRemarks(profiles: Profile[], vocabulary: Vocabulary): Remark[] {
  if (vocabulary.size < LEAST_WORDS || isStyled(vocabulary.values())) return [];
  const placeOf = new Map<string, Place>();
  for (const { page, elements } of profiles)
    for (const element of elements) {
      const url = attrOf(element, 'href') ?? '';
      if (isStylesheetLink(element) && isElsewhere(url) && !placeOf.has(url))
        placeOf.set(url, placeAt(page, element.start));
    }
  const places = [...placeOf.values()].slice(0, MOST_SHOWN);
  const copies = places.length === 1 ? 'a copy of this one' : 'copies of these';
  const more = places.length === 0 ? ', and are told by how they are used' : `; ${copies} would tell more`;
  return [{ kind: 'unstyled', message: `most class words are in no stylesheet here${more}`, places }];
}
