/** Names that an element has already (DOM standard and HTML standard, the interfaces of `HTMLElement`). */
import { isReserved } from '../tsx/strings.js';
import { BASE_NAMES, OWN_MEMBERS } from './base.js';

const MEMBERS = new Set(
  `accessKey activeViewTransition addEventListener adoptedCallback after animate append appendChild assignedSlot
  attachInternals attachShadow attributeChangedCallback attributeStyleMap attributes autocapitalize autocorrect autofocus
  baseURI before blur checkVisibility childElementCount childNodes children classList className click clientHeight
  clientLeft clientTop clientWidth cloneNode closest compareDocumentPosition computedStyleMap connectedCallback
  connectedMoveCallback constructor contains contentEditable currentCSSZoom customElementRegistry dataset dir
  disconnectedCallback dispatchEvent draggable editContext elementTiming enterKeyHint firstChild firstElementChild focus
  focusGroup focusGroupStart getAnimations getAttribute getAttributeNS getAttributeNames getAttributeNode
  getAttributeNodeNS getBoundingClientRect getClientRects getElementsByClassName getElementsByTagName
  getElementsByTagNameNS getHTML getRootNode hasAttribute hasAttributeNS hasAttributes hasChildNodes hasOwnProperty
  hasPointerCapture hidden hidePopover id inert innerHTML innerText inputMode insertAdjacentElement insertAdjacentHTML
  insertAdjacentText insertBefore isConnected isContentEditable isDefaultNamespace isEqualNode isPrototypeOf isSameNode
  lang lastChild lastElementChild localName lookupNamespaceURI lookupPrefix matches moveBefore namespaceURI
  nextElementSibling nextSibling nodeName nodeType nodeValue nonce normalize offsetHeight offsetLeft offsetParent
  offsetTop offsetWidth outerHTML outerText ownerDocument parentElement parentNode part popover prefix prepend
  previousElementSibling previousSibling propertyIsEnumerable pseudo querySelector querySelectorAll
  releasePointerCapture remove removeAttribute removeAttributeNS removeAttributeNode removeChild removeEventListener
  replaceChild replaceChildren replaceWith requestFullscreen requestPointerLock role scroll scrollBy scrollHeight
  scrollIntoView scrollIntoViewIfNeeded scrollLeft scrollTo scrollTop scrollWidth setAttribute setAttributeNS
  setAttributeNode setAttributeNodeNS setHTML setHTMLUnsafe setPointerCapture shadowRoot showPopover slot spellcheck
  startViewTransition style tabIndex tagName textContent title toLocaleString toString toggleAttribute togglePopover
  translate valueOf virtualKeyboardPolicy webkitMatchesSelector webkitRequestFullScreen webkitRequestFullscreen when
  writingSuggestions`.split(/\s+/),
);

/** True for a name that no property of an element, and no variable of its module, may have. */
export function isTaken(name: string): boolean {
  return (
    MEMBERS.has(name) ||
    isReserved(name) ||
    name === 'slots' ||
    BASE_NAMES.includes(name) ||
    OWN_MEMBERS.includes(name) ||
    /^(on[a-z]+|aria[A-Z].*)$/.test(name)
  );
}
