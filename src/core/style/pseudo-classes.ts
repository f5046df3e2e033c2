/** Pseudo-classes and pseudo-elements by what decides them (Selectors Level 4). */

export const STRUCTURAL = new Set(
  'first-child last-child only-child first-of-type last-of-type only-of-type nth-child nth-last-child nth-of-type nth-last-of-type empty'.split(
    ' ',
  ),
);
export const LISTS = new Set(['is', 'where', 'not', 'has', 'matches', '-webkit-any', '-moz-any']);
/** Pseudo-elements that one colon may introduce. */
export const OLD_ELEMENTS = new Set(['before', 'after', 'first-line', 'first-letter']);
/** What depends on the user, the page's scripts, its language or its address: met, as far as we can tell. */
export const RUNNING = new Set(
  `active any-link autofill blank buffering checked current default defined dir disabled enabled focus focus-visible
  focus-within fullscreen future hover in-range indeterminate invalid lang link local-link modal muted open optional
  out-of-range past paused picture-in-picture placeholder-shown playing popover-open read-only read-write required seeking
  stalled state target target-within user-invalid user-valid valid visited volume-locked active-view-transition
  interest-source interest-target xr-overlay heading first left right`.split(/\s+/),
);
export const NOWHERE = new Set(['host', 'host-context', 'slotted', 'part']);
