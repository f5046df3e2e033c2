/** Which element of a page is which: read from an attribute that is taken out before any script of the page runs. */

/**
 * Begins to read, while the page is parsed. The parser lets observers run before each script, so that none sees the
 * attribute.
 * @param attribute that has the offset of an element's start tag
 * @returns elements by the UTF-16 offset of their start tag
 */
export function readOffsets(attribute: string): ReadonlyMap<number, Element> {
  const elements = new Map<number, Element>();
  const take = (element: Element) => {
    const offset = element.getAttribute(attribute);
    if (offset === null) return;
    element.removeAttribute(attribute);
    // one tag may make several elements
    if (!elements.has(Number(offset))) elements.set(Number(offset), element);
  };
  const takeAll = () => {
    for (const element of document.querySelectorAll(`[${attribute}]`)) take(element);
  };
  takeAll();
  const observer = new MutationObserver((records) => {
    for (const { target, addedNodes } of records) {
      if (target instanceof Element) take(target);
      for (const node of addedNodes) {
        if (!(node instanceof Element)) continue;
        take(node);
        for (const each of node.querySelectorAll(`[${attribute}]`)) take(each);
      }
    }
  });
  observer.observe(document, { childList: true, subtree: true, attributes: true, attributeFilter: [attribute] });
  document.addEventListener(
    'DOMContentLoaded',
    () => {
      observer.disconnect();
      takeAll();
    },
    { once: true, capture: true },
  );
  return elements;
}
