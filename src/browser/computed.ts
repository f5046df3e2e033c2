/** What elements compute to. */

/** What follows from how much room there is. */
export const USED_VALUES: ReadonlySet<string> = new Set(
  'block-size height inline-size width perspective-origin transform-origin top right bottom left inset-block-start inset-block-end inset-inline-start inset-inline-end grid-template-columns grid-template-rows'.split(
    ' ',
  ),
);

/** All properties that compute to something, custom ones that a rule names among them, in order. */
export function propertyNames(): string[] {
  const own = ruleTexts().match(/--[\w-]+(?=:)/g) ?? [];
  const names = Array.from(getComputedStyle(document.documentElement)).filter((name) => !name.startsWith('--'));
  return [...names, ...new Set(own)].sort();
}

/** Texts of all rules of the page's stylesheets. */
export function ruleTexts(): string {
  return Array.from(document.styleSheets)
    .flatMap((sheet) => {
      try {
        return Array.from(sheet.cssRules, ({ cssText }) => cssText);
      } catch {
        return []; // a sheet that is elsewhere, or not there
      }
    })
    .join(' ');
}

/** Those of the pseudo-elements that hold something before and after an element's content. */
export function drawnPseudos(element: Element): string[] {
  return ['::before', '::after'].filter((pseudo) => getComputedStyle(element, pseudo).content !== 'none');
}

/** A hash of 53 bits by multiplying and mixing two of 32. */
export function hashOf(text: string): number {
  let high = 0xdeadbeef;
  let low = 0x41c6ce57;
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    high = Math.imul(high ^ code, 0x9e3779b1);
    low = Math.imul(low ^ code, 0x5f356495);
  }
  high = Math.imul(high ^ (high >>> 16), 0x85ebca6b) ^ Math.imul(low ^ (low >>> 13), 0xc2b2ae35);
  low = Math.imul(low ^ (low >>> 16), 0x85ebca6b) ^ Math.imul(high ^ (high >>> 13), 0xc2b2ae35);
  return (high & 0x1fffff) * 0x100000000 + (low >>> 0);
}
