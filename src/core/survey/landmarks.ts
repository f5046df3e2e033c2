/** Parts that are a page’s own even where a layout holds them all (HTML-AAM, "landmark roles"); its content, `main`, is none of them. */
export const LANDMARKS: ReadonlySet<string> = new Set(['header', 'nav', 'aside', 'footer']);
