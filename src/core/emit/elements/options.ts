/** What a team decides about its elements. */
export interface ElementsOptions {
  /** whether pages have the content of elements in them, so that it shows without script */
  prerender: boolean;
}

export const DEFAULT_ELEMENTS: ElementsOptions = { prerender: false };
