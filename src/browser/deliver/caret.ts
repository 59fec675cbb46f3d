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

/** Where the caret last was: something that takes what is pasted, and where in it. */
export interface CaretPlace {
  readonly element: HTMLElement;
  /** Where in something that is edited as a page is. */
  readonly range?: StaticRange;
  /** It is a frame with another site's page: nothing can be put there. */
  readonly isForeign?: true;
}

/** What can take a paste: fields, what is edited in place, and grids. */
const taking =
  'input:not([type="hidden"]):not([type="button"]):not([type="submit"]):not([type="reset"]):not([type="image"]), textarea, select, [contenteditable]:not([contenteditable="false"]), [role="grid"], [role="treegrid"], [data-drawer="target"]';

interface Following {
  place: CaretPlace | undefined;
  users: number;
  stop(): void;
}

const followings = new WeakMap<Document, Following>();

/**
 * Remembers where the caret is in a document, so that it is still known when the focus has gone to a panel. The result ends
 * it; several callers share one memory.
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

/** Where the caret is or last was; `undefined` when it was in nothing that takes a paste, or that is gone. */
export function lastPlace(page: Document = document): CaretPlace | undefined {
  const now = placeOf(activeElement(page));
  const place = now ?? followings.get(page)?.place;
  return place?.element.isConnected ? place : undefined;
}

/** Makes an element the place where the next delivery lands, as if the caret were in it. */
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
    // The focus may have gone into a frame.
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
  if (pageInFrame(target)) return undefined; // what has the focus in it tells its place
  const taker = target.closest<HTMLElement>(taking) ?? editedPage(target.ownerDocument);
  if (!taker) return undefined;
  // Within a grid it is what has the focus there: the grid hears of it all the same.
  if (!taker.isContentEditable) return { element: isHtmlElement(target) && !isField(taker) ? target : taker };
  const element = editingHost(taker);
  const range = rangeWithin(element);
  return { element, ...(range && { range }) };
}

/** The body of a page that is edited as a whole (HTML, section 6.8.5). */
const editedPage = (page: Document): HTMLElement | undefined => (page.designMode === 'on' ? page.body : undefined);

/** The outermost element that is edited as one. */
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
