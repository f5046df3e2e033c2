/** Pages with uses in the place of fragments, and each use compared with its fragment. */
import type { Registry } from '../component/model.js';
import type { Poured } from '../template/pattern.js';
import { needsTemplateForm } from '../template/form.js';
import { firstNotBefore } from '../search.js';
import { compareUse, type UseVerdict } from '../match/prove.js';
import { movedIndent, movedSource } from '../page/indent.js';
import { indentAt, type Page } from '../page/parse.js';
import type { Element } from '../page/tree.js';
import type { Finding, FindingProp } from '../survey/types.js';
import { keepFor, type Keeping, placeOfUse, pouredAt, useText, valuesAt, type WriteRange } from '../template/use.js';

/** A finding as it is lifted together with others. */
export interface Lifted {
  finding: Finding;
  file: string;
  props: FindingProp[];
  slots: Poured[];
  /** elements in whose place its template uses another component */
  covered: ReadonlySet<Element>;
  keeping: Keeping;
  /** how uses compare with their fragments, by occurrence and form: known once all components are */
  verdicts: Map<string, UseVerdict>;
}

/** One fragment to be replaced. */
export interface Replacement {
  lifted: Lifted;
  /** which of the finding's occurrences */
  index: number;
  element: Element;
  /** where the replaced source ends */
  end: number;
  form: 'tag' | 'template';
}

export function formAt({ finding, slots }: Lifted, index: number): Replacement['form'] {
  return needsTemplateForm(finding.occurrences[index]!.element, slots) ? 'template' : 'tag';
}

interface Written {
  text: string;
  /** where each replacement stands in the text */
  spans: { each: Replacement; from: number; to: number }[];
}

/** The page with uses for the replacements, those in slots of others too, and where each came to stand. */
export function rewrite(page: Page, replacements: Replacement[]): Written {
  const sorted = [...replacements].sort((a, b) => a.element.start - b.element.start || b.end - a.end);
  const write = ([start, end]: [number, number], base: string, to: string): Written => {
    const written: Written = { text: '', spans: [] };
    const copyTo = (offset: number) => {
      written.text += movedSource(page, [at, offset], base, to);
      at = offset;
    };
    let at = start;
    const first = firstNotBefore(sorted, (each) => each.element.start < start);
    for (let i = first; i < sorted.length && sorted[i]!.element.start <= end; i++) {
      const each = sorted[i]!;
      if (each.element.start < at || each.end > end) continue;
      copyTo(each.element.start);
      const poured: Written[] = [];
      const indent = movedIndent(indentAt(page, each.element.start), base, to);
      const use = useAt(each, indent, (...range) => {
        poured.push(write(...range));
        return poured.at(-1)!.text;
      });
      const from = written.text.length;
      written.spans.push({ each, from, to: from + use.length });
      for (const { text, spans } of poured) {
        if (spans.length === 0) continue;
        const shift = from + use.lastIndexOf(text);
        for (const span of spans) written.spans.push({ each: span.each, from: span.from + shift, to: span.to + shift });
      }
      written.text += use;
      at = each.end;
    }
    copyTo(end);
    return written;
  };
  return write([0, page.source.length], '', '');
}

/**
 * The source of a use.
 * @param indent of its line
 * @param write makes what is poured into it of a range: the source as it is by itself
 */
export function useAt({ lifted, index, form }: Replacement, indent?: string, write?: WriteRange): string {
  const { finding, props, slots, keeping } = lifted;
  const occurrence = finding.occurrences[index]!;
  const content = { values: valuesAt(props, index), slots: pouredAt(slots, occurrence, index, write) };
  const place = placeOfUse(occurrence);
  return useText(finding.name, props, content, form, {
    ...place,
    indent: indent ?? place.indent,
    keep: keepFor(occurrence, keeping),
  });
}

/** Compares a fragment, the uses in it expanded, with what its own use expands to; both by themselves, and once. */
export function compareAlone(
  lifted: Lifted,
  index: number,
  before: Registry,
  after: Registry,
  form = formAt(lifted, index),
): UseVerdict {
  const key = `${index} ${form}`;
  const known = lifted.verdicts.get(key) ?? compareAnew(lifted, index, before, after, form);
  lifted.verdicts.set(key, known);
  return known;
}

function compareAnew(
  lifted: Lifted,
  index: number,
  before: Registry,
  after: Registry,
  form: Replacement['form'],
): UseVerdict {
  const occurrence = lifted.finding.occurrences[index]!;
  const { element, end } = occurrence;
  return compareUse(occurrence, useAt({ lifted, index, element, end, form }), before, after);
}
