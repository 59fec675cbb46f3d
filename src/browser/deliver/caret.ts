import { privateParts } from '../capture/snapshot.ts';
import { isField } from './field.ts';

/** Where the caret last was: something that takes what is pasted, and where in it. */
export interface CaretPlace {
  readonly element: HTMLElement;
  /** Where in something that is edited as a page is. */
  readonly range?: StaticRange;
}

/** What can take a paste: fields, what is edited in place, and grids. */
const taking =
  'input:not([type="hidden"]):not([type="button"]):not([type="submit"]):not([type="reset"]):not([type="image"]), textarea, select, [contenteditable], [role="grid"], [role="treegrid"], [data-drawer="target"]';

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
  const now = placeOf(focusedIn(page));
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
    const isOurs = event.composedPath().some((each) => each instanceof Element && each.matches(privateParts));
    const place = isOurs ? undefined : placeOf(event.type === 'selectionchange' ? focusedIn(page) : target);
    if (place) following.place = place;
  };
  page.addEventListener('focusin', remember, true);
  page.addEventListener('focusout', remember, true);
  page.addEventListener('selectionchange', remember);
  const following: Following = {
    place: placeOf(focusedIn(page)),
    users: 0,
    stop: () => {
      page.removeEventListener('focusin', remember, true);
      page.removeEventListener('focusout', remember, true);
      page.removeEventListener('selectionchange', remember);
    },
  };
  followings.set(page, following);
  return following;
}

function focusedIn(page: Document): Element | null {
  let active = page.activeElement;
  while (active?.shadowRoot?.activeElement) active = active.shadowRoot.activeElement;
  return active;
}

export function placeOf(target: EventTarget | null | undefined): CaretPlace | undefined {
  if (!(target instanceof Element) || target.closest(privateParts)) return undefined;
  const taker = target.closest<HTMLElement>(taking);
  if (!taker) return undefined;
  // Within a grid it is what has the focus there: the grid hears of it all the same.
  if (!taker.isContentEditable) return { element: target instanceof HTMLElement && !isField(taker) ? target : taker };
  const element = editingHost(taker);
  const range = rangeWithin(element);
  return { element, ...(range && { range }) };
}

/** The outermost element that is edited as one. */
function editingHost(element: HTMLElement): HTMLElement {
  let host = element;
  while (host.parentElement?.isContentEditable) host = host.parentElement;
  return host;
}

function rangeWithin(host: HTMLElement): StaticRange | undefined {
  const root = host.getRootNode() as Document | ShadowRoot;
  const selection = ('getSelection' in root ? (root as Document).getSelection() : null) ?? document.getSelection();
  if (!selection || selection.rangeCount === 0) return undefined;
  const range = selection.getRangeAt(0);
  return host.contains(range.commonAncestorContainer) ? new StaticRange(range) : undefined;
}
