import { type Content, DrawerError, type Media, type Note } from '../../content/index.ts';
import { type Drawer, type KeepResult, type Origin, originOf } from '../../drawer/index.ts';
import type { Excerpt } from '../../formats/index.ts';
import { activeElement, inEachFrame, isElement, isInside, isShadowRoot, isWithinAny } from '../dom.ts';
import { isKey, type Key, parseKey } from '../keys.ts';
import { elementOf, privateParts, type Snapshot, secretParts, snapshot } from './snapshot.ts';
import { fieldSelection, isSensitive, isTextField, originOnPage } from './transfer.ts';

/** The commands for a selection, each with a key. */
export const captureKeys = { append: 'Alt+Shift+K', send: 'Alt+Shift+S' } as const;
/** A command of `capture` that has a key. */
export type CaptureKey = keyof typeof captureKeys;

/** The result of a copy, cut, append or send. */
export type Captured =
  | { readonly kind: 'kept'; readonly result: KeepResult; readonly notes: readonly Note[] }
  | { readonly kind: 'problem'; readonly error: unknown };

/** Options of `capture`. */
export interface CaptureOptions {
  /** Keys that replace the defaults, such as `{ append: 'Control+Shift+Y' }`; `null` for none. */
  readonly keys?: { readonly [K in CaptureKey]?: string | null };
  /** Receives every result and error; a panel's `report` shows it. */
  readonly report?: (captured: Captured) => void;
  /** Receives the content of `send`, after it was kept. Without it, the key does nothing. */
  readonly send?: (content: Content, media: Media) => Promise<unknown>;
  /** A CSS selector for parts of the page that are never gathered. */
  readonly privateParts?: string;
  /** Returns the origin of a selection, if the page knows a better one. */
  readonly origin?: (node: Node) => Origin;
}

/** Gathering that is under way, as `capture` starts it. */
export interface Capture {
  /** Gathers the current selection, like a copy; `undefined` if nothing is selected. */
  keepSelection(): Promise<KeepResult | undefined>;
  /** Removes every listener. */
  stop(): void;
}

/** The selection at the moment of a copy, not yet read. */
interface Selected {
  readonly origin: Origin;
  /** The document of the selection: the page's, or a frame's. */
  readonly page: Document;
  /** Whether it is inside a part marked as secret; marks within the selection are read with the content. */
  readonly isSecret?: boolean;
  read(): Promise<Excerpt>;
}

/**
 * Gathers whatever people copy and cut in a document, an element or a shadow root. The clipboard and the page's own handlers
 * stay untouched. Passwords, one-time codes and parts marked `data-drawer="private"` are never gathered; parts marked
 * `data-drawer="secret"` are kept as secrets. In a text editor without a selection, the current line or paragraph is gathered.
 */
export function capture(
  target: Document | Element | ShadowRoot,
  drawer: Drawer,
  options: CaptureOptions = {},
): Capture {
  const gatherer = new Gatherer(target, drawer, options);
  const ending = new AbortController();
  inEachFrame(target, (part, signal) => gatherer.listen(part, signal), ending.signal);
  return { keepSelection: () => gatherer.keepSelection(), stop: () => ending.abort() };
}

class Gatherer {
  readonly #target: Document | Element | ShadowRoot;
  readonly #drawer: Drawer;
  readonly #options: CaptureOptions;
  readonly #private: string;
  readonly #keys: readonly (readonly [CaptureKey, Key])[];
  /** Copies are kept in the order they were made, however long each takes to read. */
  #queue: Promise<unknown> = Promise.resolve();

  constructor(target: Document | Element | ShadowRoot, drawer: Drawer, options: CaptureOptions) {
    this.#target = target;
    this.#drawer = drawer;
    this.#options = options;
    this.#private = [privateParts, options.privateParts].filter(Boolean).join(', ');
    this.#keys = Object.entries({ ...captureKeys, ...options.keys }).flatMap(([action, words]) =>
      words === null ? [] : [[action as CaptureKey, parseKey(words)] as const],
    );
  }

  listen(part: Document | Element | ShadowRoot, signal: AbortSignal): void {
    part.addEventListener('copy', this.#onClipboard, { signal });
    part.addEventListener('cut', this.#onClipboard, { signal });
    part.addEventListener('keydown', this.#onKey, { signal });
  }

  async keepSelection(): Promise<KeepResult | undefined> {
    const selected = this.#selectedBy(undefined);
    return selected && this.#gather(selected, 'keep');
  }

  readonly #onClipboard = (event: Event): void => {
    const selected = this.#selectedBy(event);
    if (selected) this.#gather(selected, 'keep').catch(() => {}); // reported
  };

  readonly #onKey = (event: Event): void => {
    if (!('key' in event) || event.defaultPrevented) return;
    const action = this.#keys.find(([, key]) => isKey(event as KeyboardEvent, key))?.[0];
    if (action === undefined || (action === 'send' && !this.#options.send)) return;
    event.preventDefault();
    const selected = this.#selectedBy(event);
    if (selected)
      this.#gather(selected, action).catch(() => {}); // reported
    else this.#report({ kind: 'problem', error: new DrawerError('usage/nothing-selected') });
  };

  #report(captured: Captured): void {
    this.#options.report?.(captured);
  }

  #selectedBy(event: Event | undefined): Selected | undefined {
    const path = event?.composedPath() ?? [];
    if (path.some((each) => isElement(each) && (each.matches(this.#private) || isSensitive(each)))) return undefined;
    // A page may leave unknown values empty.
    const originAt = (node: Node): Origin => originOf((this.#options.origin ?? originOnPage)(node));
    return selectedIn(this.#target, this.#private, event, originAt);
  }

  #gather(selected: Selected, action: 'keep' | CaptureKey): Promise<KeepResult | undefined> {
    const excerpt = selected.read();
    const turn = this.#queue.then(async () => this.#keep(selected, await excerpt, action));
    this.#queue = turn.catch((error: unknown) => this.#report({ kind: 'problem', error }));
    return turn;
  }

  async #keep(selected: Selected, taken: Excerpt, action: 'keep' | CaptureKey): Promise<KeepResult | undefined> {
    const { lang } = (selected.page.documentElement.lang ? selected.page : document).documentElement;
    const gathered = {
      content: taken.content,
      media: taken.media,
      origin: selected.origin,
      ...(lang && { language: lang }),
      ...((taken.secret || selected.isSecret) && { secret: true as const }),
    };
    const [result] = await (action === 'append' ? this.#drawer.append([gathered]) : this.#drawer.keep([gathered]));
    if (!result) return undefined;
    this.#report({ kind: 'kept', result, notes: taken.notes });
    if (action === 'send') await this.#options.send?.(taken.content, taken.media);
    return result;
  }
}

/** The HTML reader is large, so it is loaded with the first copy. */
const reading = () => import('./read.ts');

function selectedIn(
  target: Document | Element | ShadowRoot,
  isPrivate: string,
  event: Event | undefined,
  origin: (node: Node) => Origin,
): Selected | undefined {
  const path = event?.composedPath() ?? [];
  const focused = isElement(path[0]) ? path[0] : activeElement();
  if (focused && (isSensitive(focused) || isWithinAny(focused, isPrivate))) return undefined;
  const page = focused?.ownerDocument ?? document;
  if (isTextField(focused)) {
    const { words, isLine } = fieldSelection(focused);
    if (words === '' || (isLine && event?.type === 'cut')) return undefined;
    return {
      origin: origin(focused),
      page,
      isSecret: isSecret(focused),
      read: async () => (await reading()).readWords(words),
    };
  }
  const range = rangeIn(target, focused);
  const flavours =
    event && 'clipboardData' in event && event.defaultPrevented ? (event as ClipboardEvent).clipboardData : null;
  const [words, markup] = [flavours?.getData('text/plain') ?? '', flavours?.getData('text/html') ?? ''];
  const node = range?.startContainer ?? focused ?? page.body;
  const common = range && elementOf(range.commonAncestorContainer);
  const holdsPrivate = isPrivate !== '' && common?.querySelector(isPrivate) != null;
  // An editor's own clipboard content is authoritative: its display may differ, such as numbers for bullets.
  if ((words !== '' || markup !== '') && !holdsPrivate) {
    const line = words.replace(/\r?\n$/, '');
    const seen = range && !range.collapsed ? snapshot(range, isPrivate) : undefined;
    return {
      origin: origin(node),
      page,
      isSecret: isSecret(node),
      read: async () => {
        const { readEdited, readWords } = await reading();
        return markup === '' ? readWords(line) : readEdited(markup, seen);
      },
    };
  }
  if (!range) return undefined;
  const whole = range.collapsed ? lineAround(range, event) : range;
  if (!whole) return undefined;
  const seen: Snapshot = snapshot(whole, isPrivate);
  if (!seen.root.hasChildNodes()) return undefined;
  return { origin: origin(whole.startContainer), page, read: async () => (await reading()).readSnapshot(seen) };
}

/** Whether the page marks this part as secret. */
const isSecret = (node: Node): boolean => isWithinAny(node, secretParts);

/** The part of the selection within the target. */
function rangeIn(target: Document | Element | ShadowRoot, focused: Element | undefined): Range | undefined {
  const root = (isShadowRoot(target) ? target : focused?.getRootNode()) as Document | ShadowRoot | undefined;
  // Chromium's shadow roots have a selection of their own; elsewhere the document's may reach into them.
  const own = root && 'getSelection' in root ? (root as Document).getSelection() : null;
  const selection = own && own.rangeCount > 0 ? own : (focused?.ownerDocument ?? document).getSelection();
  if (!selection || selection.rangeCount === 0) return undefined;
  const range = composedRange(selection, root) ?? selection.getRangeAt(0);
  return isInside(range.commonAncestorContainer, target) ? range : undefined;
}

function composedRange(selection: Selection, root: Document | ShadowRoot | undefined): Range | undefined {
  if (!isShadowRoot(root) || !('getComposedRanges' in selection)) return undefined;
  const [composed] = (
    selection as Selection & { getComposedRanges(options: { shadowRoots: ShadowRoot[] }): StaticRange[] }
  ).getComposedRanges({ shadowRoots: [root] });
  if (!composed || composed.startContainer.getRootNode() !== root) return undefined;
  const range = root.ownerDocument.createRange();
  range.setStart(composed.startContainer, composed.startOffset);
  range.setEnd(composed.endContainer, composed.endOffset);
  return range;
}

/** The paragraph around the caret in an editable element. */
function lineAround(caret: Range, event: Event | undefined): Range | undefined {
  const element = elementOf(caret.startContainer);
  const editor = element?.closest<HTMLElement>('[contenteditable]');
  if (!element || !editor?.isContentEditable || event?.type === 'cut') return undefined;
  const paragraph = element.closest('p, h1, h2, h3, h4, h5, h6, li, td, th, pre, div');
  const range = element.ownerDocument.createRange();
  range.selectNodeContents(paragraph && editor.contains(paragraph) ? paragraph : editor);
  return range.toString().trim() === '' ? undefined : range;
}
