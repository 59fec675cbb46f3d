import { type Flavours, flavoursOf } from '../../clipboard/index.ts';
import {
  asBlocks,
  type Block,
  type Content,
  DrawerError,
  type Media,
  noMedia,
  type PasteStyle,
  type Picture,
  picturesIn,
  plainText,
  restyle,
} from '../../content/index.ts';
import { isElement, isTag, windowOf } from '../dom.ts';
import { Arrival, tookNothing } from './arrival.ts';
import { type CaretPlace, lastPlace, placeOf } from './caret.ts';
import { fillField, isField, kindOf, nameOf, typeInto } from './field.ts';

/** Options of `deliver`. */
export interface DeliverOptions {
  /** Bytes of the pictures in the content; default: none. */
  readonly media?: Media;
  /** The target element; default: where the caret is or last was. */
  readonly into?: HTMLElement | undefined;
  /** The look: `local` (default) drops fonts, sizes and colours; `plain` drops everything but the words. */
  readonly style?: PasteStyle | undefined;
  /** The language of dates in the content, a BCP 47 tag; default: the page's. */
  readonly language?: string;
}

/** The result of a delivery. */
export interface Delivered {
  readonly element: HTMLElement;
  /** The accessible name of the target; the empty string if it has none. */
  readonly name: string;
}

/**
 * Inserts content where the caret is or last was: into text fields like typing, into typed fields (date, number, check box, choice)
 * as a value, and into editors by the events of a paste, so that the editor's own undo reverts it in one step. The target has
 * the focus afterwards.
 * @throws DrawerError `not-found` if there is no target; `invalid` if a field does not accept the value; `refused` if nothing, or
 *   not everything, has arrived
 */
export async function deliver(content: Content, options: DeliverOptions = {}): Promise<Delivered> {
  const place = options.into ? (placeOf(options.into) ?? { element: options.into }) : lastPlace();
  if (!place) throw new DrawerError('not-found/place-missing');
  const { element } = place;
  if (place.isForeign) throw outOfReach(nameOf(element));
  const page = element.ownerDocument;
  windowOf(element).focus();
  const styled = restyle(content, options.style ?? 'local');
  const language = options.language ?? (page.documentElement.lang || document.documentElement.lang || 'en-GB');
  if (isField(element)) {
    element.focus();
    if (!isTag(element, 'textarea') && kindOf(element) !== undefined)
      await fillField(element as HTMLInputElement | HTMLSelectElement, content, language);
    else typeInto(element as HTMLInputElement | HTMLTextAreaElement, plainText(styled));
  } else {
    const fitting = held(styled, element);
    const transfer = await transferOf(fitting, options.media ?? noMedia, options.style === 'plain');
    goTo(place);
    const whole = element.closest('[role="grid"], [role="treegrid"]') ?? element;
    const selection = page.getSelection();
    const selected = selection && selection.rangeCount > 0 ? selection.getRangeAt(0) : undefined;
    const arrival = new Arrival(whole, fitting, selected);
    if (!(await takes(whole, () => pasteInto(element, transfer), arrival))) throw tookNothing(nameOf(element));
    arrival.check(nameOf(element));
  }
  return { element, name: nameOf(element) };
}

const outOfReach = (name: string): DrawerError =>
  new DrawerError('refused/frame-out-of-reach', { frame: name || { kind: 'frame.any' } });

/** Adapts content to an editor. Quill's tables have no heading cells and would lose their words. */
const held = (content: Content, element: HTMLElement): Content =>
  element.closest('.ql-editor') && (content.shape === 'blocks' || content.shape === 'cells')
    ? { shape: 'blocks', blocks: asBlocks(content).map(withoutHeadingRows) }
    : content;

function withoutHeadingRows(block: Block): Block {
  if (block.type !== 'table') return block;
  const { headerRows: _, ...table } = block;
  return table;
}

/** Restores the focus and the caret. */
function goTo({ element, range }: CaretPlace): void {
  element.focus({ preventScroll: true });
  const selection = element.ownerDocument.getSelection();
  if (!range || !selection || !range.startContainer.isConnected || !range.endContainer.isConnected) return;
  const isThere =
    selection.rangeCount > 0 &&
    selection.anchorNode === range.startContainer &&
    selection.anchorOffset === range.startOffset &&
    selection.focusNode === range.endContainer &&
    selection.focusOffset === range.endOffset;
  if (!isThere)
    selection.setBaseAndExtent(range.startContainer, range.startOffset, range.endContainer, range.endOffset);
}

/**
 * Whether an attempt changes the element, at once or within a second, since some editors take their time. An empty paragraph that an
 * editor creates is no change.
 */
async function takes(whole: Element, attempt: () => boolean, arrival: Arrival): Promise<boolean> {
  const wasBlank = isBlank(whole);
  let isTouched = false;
  const hasChanged = (): boolean => isTouched && !(wasBlank && isBlank(whole));
  const watcher = new MutationObserver(() => {
    isTouched = true;
  });
  watcher.observe(whole, {
    childList: true,
    subtree: true,
    characterData: true,
    attributes: true,
  });
  try {
    if (!attempt()) return false;
    // A timer, because frames pause in a hidden window.
    for (let turn = 0; turn < 60 && !(hasChanged() && arrival.isWhole); turn++)
      await new Promise((next) => setTimeout(next, 16));
    return hasChanged();
  } finally {
    watcher.disconnect();
  }
}

const isBlank = (element: Element): boolean =>
  element.textContent?.trim() === '' &&
  element.querySelector('img, table, hr, li, svg, canvas, video, object') === null;

/** Pastes as the browser does: first the events (UI Events; Clipboard API, section 8), then the default insertion. */
function pasteInto(element: HTMLElement, transfer: DataTransfer): boolean {
  const page = element.ownerDocument;
  const caret = page.getSelection()?.anchorNode;
  const within = caret && element.contains(caret) && isElement(caret) ? caret : (caret?.parentElement ?? element);
  const target = element.isContentEditable && element.contains(within) ? within : element;
  // An editor in a frame expects events of its own window.
  const { ClipboardEvent, InputEvent, KeyboardEvent } = windowOf(element);
  // The editor may have missed the release of Shift, and would paste plain text.
  target.dispatchEvent(new KeyboardEvent('keyup', { key: 'Shift', code: 'ShiftLeft', keyCode: 16, bubbles: true }));
  const paste = new ClipboardEvent('paste', {
    clipboardData: transfer,
    bubbles: true,
    cancelable: true,
    composed: true,
  });
  if (!target.dispatchEvent(paste)) return true;
  if (!element.isContentEditable) return false;
  const input = new InputEvent('beforeinput', {
    inputType: 'insertFromPaste',
    dataTransfer: transfer,
    bubbles: true,
    cancelable: true,
    composed: true,
  });
  if (!target.dispatchEvent(input)) return true;
  const markup = transfer.getData('text/html');
  return element.contentEditable === 'plaintext-only' || markup === ''
    ? page.execCommand('insertText', false, transfer.getData('text/plain'))
    : page.execCommand('insertHTML', false, trusted(markup));
}

/** Wraps markup for pages that require Trusted Types. The markup is made from content only. */
function trusted(markup: string): string {
  policy ??= (globalThis as { trustedTypes?: TrustedTypes }).trustedTypes?.createPolicy('drawer', {
    createHTML: (made) => made,
  });
  return policy ? (policy.createHTML(markup) as unknown as string) : markup;
}

interface TrustedTypes {
  createPolicy(name: string, rules: { createHTML(markup: string): string }): { createHTML(markup: string): unknown };
}
let policy: ReturnType<TrustedTypes['createPolicy']> | undefined;

/** Content as a `DataTransfer` with every flavour; a single picture also as a file, as browsers do. */
export async function transferOf(content: Content, media: Media, isPlain = false): Promise<DataTransfer> {
  const transfer = new DataTransfer();
  const flavours: Flavours = isPlain ? new Map([['text/plain', plainText(content)]]) : await flavoursOf(content, media);
  for (const [type, words] of flavours) if (words !== '') transfer.setData(type, words);
  const file = content.shape === 'picture' ? pictureFile(content.picture, media) : undefined;
  if (file) transfer.items.add(file);
  return transfer;
}

function pictureFile(picture: Picture, media: Media): File | undefined {
  const bytes = media.get(picture.media);
  const name = `picture.${picture.mediaType.replace(/^image\/|\+xml$/g, '')}`;
  return bytes && new File([bytes as Uint8Array<ArrayBuffer>], name, { type: picture.mediaType });
}

/**
 * Puts content on the system clipboard in all flavours (Clipboard API, section 7); a single picture also as an image. Browsers
 * require a key press or click just before.
 */
export async function toClipboard(content: Content, media: Media): Promise<void> {
  const flavours = await flavoursOf(content, media);
  const parts = new Map<string, Blob>();
  for (const [type, words] of flavours) {
    const name = /^text\/(?:plain|html)$/.test(type) ? type : `web ${type}`;
    if (!('supports' in ClipboardItem) || ClipboardItem.supports(name)) parts.set(name, new Blob([words], { type }));
  }
  const [only] = content.shape === 'picture' ? picturesIn(content) : [];
  const image = only && (await asPng(only, media));
  if (image) parts.set('image/png', image);
  await navigator.clipboard.write([new ClipboardItem(Object.fromEntries(parts))]);
}

/** Converts a picture to PNG, the only image type of the clipboard; `undefined` if the browser cannot. */
async function asPng(picture: Picture, media: Media): Promise<Blob | undefined> {
  const bytes = media.get(picture.media);
  if (!bytes) return undefined;
  const blob = new Blob([bytes as Uint8Array<ArrayBuffer>], { type: picture.mediaType });
  if (picture.mediaType === 'image/png') return blob;
  try {
    const bitmap = await createImageBitmap(blob);
    const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
    canvas.getContext('2d')?.drawImage(bitmap, 0, 0);
    return await canvas.convertToBlob({ type: 'image/png' });
  } catch {
    return undefined; // the browser cannot draw it; text and markup remain
  }
}
