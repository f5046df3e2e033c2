/** Which elements load or hold a stylesheet (HTML standard, "link type stylesheet"). */
import { attrOf, type Element } from './tree.js';

/** True for a link to a stylesheet that is in force: neither an alternate one nor disabled. */
export function isStylesheetLink(element: Element): boolean {
  if (element.tag !== 'link') return false;
  const rel = (attrOf(element, 'rel') ?? '').toLowerCase().split(/\s+/);
  return (
    rel.includes('stylesheet') &&
    !rel.includes('alternate') &&
    attrOf(element, 'disabled') === undefined &&
    isCss(element)
  );
}

/** True for what says that it holds CSS, or does not say what it holds. */
export function isCss(element: Element): boolean {
  return /^(text\/css)?\s*(;|$)/i.test(attrOf(element, 'type') ?? '');
}
