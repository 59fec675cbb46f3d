import { privateParts } from '../capture/snapshot.ts';
import {
  activeElement,
  inEachFrame,
  isElement,
  isForeignFrame,
  isHtmlElement,
  isWithinAny,
  pageInFrame,
  windowOf,
} from '../dom.ts';
import { isField } from './field.ts';

/** The last position of the caret: an element that accepts pastes, and the range in it. */
export interface CaretPlace {
  readonly element: HTMLElement;
  /** The range, if the element is editable content. */
  readonly range?: StaticRange;
  /** Whether it is a frame of another site, which is out of reach. */
  readonly isForeign?: true;
}

/** Elements that accept pastes: fields, editable content and grids. */
const taking =
  'input:not([type="hidden"]):not([type="button"]):not([type="submit"]):not([type="reset"]):not([type="image"]), textarea, select, [contenteditable]:not([contenteditable="false"]), [role="grid"], [role="treegrid"], [data-drawer="target"]';

interface Following {
  place: CaretPlace | undefined;
  users: number;
  stop(): void;
}

const followings = new WeakMap<Document, Following>();

/**
 * Follows the caret in a document, so that its position is known after the focus has moved to a panel. Several callers share one
 * record. Returns a function that stops following.
 */
export function followCaret(page: Document = document): () => void {
  const following = followings.get(page) ?? startFollowing(page);
  following.users++;
  let isEnded = false;
  return () => {
    if (isEnded) return;
    isEnded = true;
    following.users--;
    if (following.users > 0) return;
    following.stop();
    followings.delete(page);
  };
}

/** The current or last position of the caret; `undefined` if it was nowhere that accepts pastes, or that is gone. */
export function lastPlace(page: Document = document): CaretPlace | undefined {
  const now = placeOf(activeElement(page));
  const place = now ?? followings.get(page)?.place;
  return place?.element.isConnected ? place : undefined;
}

/** Makes an element the target of the next delivery, as if it had the caret. */
export function setPlace(element: HTMLElement, page: Document = document): void {
  const following = followings.get(page);
  const place = placeOf(element);
  if (following && place) following.place = place;
}

function startFollowing(page: Document): Following {
  const remember = (event: Event): void => {
    const [target] = event.composedPath();
    const isOurs = event.composedPath().some((each) => isElement(each) && each.matches(privateParts));
    const isOfPage = event.type === 'selectionchange' || event.type === 'blur';
    const place = isOurs ? undefined : placeOf(isOfPage ? activeElement(page) : target);
    if (place) following.place = place;
  };
  const ending = new AbortController();
  const listen = (part: Document | Element | ShadowRoot, signal: AbortSignal): void => {
    part.addEventListener('focusin', remember, { capture: true, signal });
    part.addEventListener('focusout', remember, { capture: true, signal });
    part.addEventListener('selectionchange', remember, { signal });
    // The focus may have moved into a frame.
    windowOf(part).addEventListener('blur', remember, { signal });
  };
  const following: Following = { place: placeOf(activeElement(page)), users: 0, stop: () => ending.abort() };
  inEachFrame(page, listen, ending.signal);
  followings.set(page, following);
  return following;
}

export function placeOf(target: EventTarget | null | undefined): CaretPlace | undefined {
  if (!isElement(target) || isWithinAny(target, privateParts)) return undefined;
  if (isForeignFrame(target)) return { element: target as HTMLElement, isForeign: true };
  if (pageInFrame(target)) return undefined; // the frame's own focus tells the position
  const taker = target.closest<HTMLElement>(taking) ?? editedPage(target.ownerDocument);
  if (!taker) return undefined;
  // In a grid, the focused element is the target; its events reach the grid.
  if (!taker.isContentEditable) return { element: isHtmlElement(target) && !isField(taker) ? target : taker };
  const element = editingHost(taker);
  const range = rangeWithin(element);
  return { element, ...(range && { range }) };
}

/** The body of a page in design mode (HTML, section 6.8.5). */
const editedPage = (page: Document): HTMLElement | undefined => (page.designMode === 'on' ? page.body : undefined);

/** The outermost editable element around an element. */
function editingHost(element: HTMLElement): HTMLElement {
  let host = element;
  while (host.parentElement?.isContentEditable && host !== host.ownerDocument.body) host = host.parentElement;
  return host;
}

function rangeWithin(host: HTMLElement): StaticRange | undefined {
  const root = host.getRootNode() as Document | ShadowRoot;
  const selection =
    ('getSelection' in root ? (root as Document).getSelection() : null) ?? host.ownerDocument.getSelection();
  if (!selection || selection.rangeCount === 0) return undefined;
  const range = selection.getRangeAt(0);
  return host.contains(range.commonAncestorContainer) ? new StaticRange(range) : undefined;
}
