/** An element of our own in a page, whose content neither the page's styles nor its scripts reach. */

/** Puts it on top of all that the page shows. @returns the element, to be removed, and its closed shadow tree */
export function closedHost(styles: string): { host: HTMLElement; root: ShadowRoot } {
  const host = document.createElement('estrade-layer');
  // what the page says of any element does not hold for one that says otherwise itself
  host.style.cssText =
    'all: initial !important; position: fixed !important; inset: 0 !important; width: auto !important; height: auto !important; margin: 0 !important; border: 0 !important; padding: 0 !important; background: none !important; overflow: visible !important; pointer-events: none !important; z-index: 2147483647 !important; opacity: 1 !important; display: block !important';
  const root = host.attachShadow({ mode: 'closed' });
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(`:host > * { pointer-events: auto }\n${styles}`);
  root.adoptedStyleSheets = [sheet];
  document.documentElement.append(host);
  // the top layer is above dialogs too
  host.popover = 'manual';
  host.showPopover();
  return { host, root };
}
