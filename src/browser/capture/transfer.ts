import { ownContent, ownFlavour } from '../../clipboard/index.ts';
import { type Media, noMedia } from '../../content/index.ts';
import { type Origin, originOf } from '../../drawer/index.ts';
import type { Excerpt } from '../../formats/index.ts';
import { frameAround, isHtmlElement, isTag } from '../dom.ts';
import { elementOf } from './snapshot.ts';

/** What a clipboard or a drop carries, not yet read; it is gone once the event is over. */
export interface Carried {
  readonly own: string;
  readonly markup: string;
  readonly words: string;
  readonly files: readonly File[];
}

/** Reads the forms of a copy or drop that a page offers, before its event ends. */
export const carriedBy = (transfer: DataTransfer): Carried => ({
  own: transfer.getData(ownFlavour),
  markup: transfer.getData('text/html'),
  words: transfer.getData('text/plain'),
  files: [...transfer.files],
});

/** What was carried, each file by itself. @throws DrawerError for files that cannot be read. */
export async function readCarried({
  own,
  markup,
  words,
  files,
}: Carried): Promise<readonly (Excerpt & { readonly file?: string })[]> {
  const content = own === '' ? undefined : ownContent(own);
  if (content) return [{ content, media: noMedia as Media, notes: [] }];
  const { readMarkup, readWords } = await import('./read.ts');
  if (markup !== '') return [await readMarkup(markup)];
  if (files.length === 0) return words === '' ? [] : [await readWords(words)];
  const { read } = await import('../../formats/index.ts');
  return Promise.all(files.map(async (file) => ({ ...(await read(file)), file: file.name })));
}

const headings = 'h1, h2, h3, h4, h5, h6, [role="heading"]';

/** The origin of a node: title and address of its page, without the fragment, and the nearest heading above it. */
export function originOnPage(node: Node): Origin {
  const { title, location } = node.ownerDocument ?? document;
  const url = /^https?:$/.test(location.protocol) ? location.href.replace(/#.*$/s, '') : undefined;
  const frame = frameAround(node);
  // The frame of an editor has no address of its own. Its content comes from the page around it.
  const around = frame && url === undefined ? originOnPage(frame) : {};
  return originOf({ ...around, ...originOf({ title: title.trim(), url, place: headingAbove(node) }) });
}

/** The words of the nearest heading in front of it, or that it lies in. */
export function headingAbove(node: Node): string | undefined {
  const element = elementOf(node);
  const inside = element?.closest(headings);
  if (inside) return wordsOf(inside);
  const root = node.getRootNode() as Document | ShadowRoot;
  const before = [...root.querySelectorAll(headings)].filter(
    (heading) => heading.compareDocumentPosition(node) & Node.DOCUMENT_POSITION_FOLLOWING && isShown(heading),
  );
  const last = before.at(-1);
  return last && wordsOf(last);
}

const isShown = (element: Element): boolean => element.getClientRects().length > 0;
const wordsOf = (element: Element): string | undefined =>
  element.textContent?.replace(/\s+/g, ' ').trim().slice(0, 200) || undefined;

/** What was marked in a field for typing, and how it stands there. */
export interface FieldSelection {
  readonly words: string;
  readonly field: HTMLInputElement | HTMLTextAreaElement;
  readonly from: number;
  readonly to: number;
  /** Nothing was marked, so it is the whole line. */
  readonly isLine: boolean;
}

/** Kinds of input whose words can be marked (HTML, section 4.10.5: where selection applies). */
const typed = new Set(['text', 'search', 'url', 'tel', '']);

/** Fields that hold what nobody should keep: passwords, one-time codes, card numbers and their like. */
const sensitive = /(?:^|\s)(?:current-password|new-password|one-time-code|cc-[a-z-]+)(?:\s|$)/i;

export const isSensitive = (element: Element): boolean =>
  element.closest('input[type="password"]') !== null ||
  sensitive.test(element.getAttribute('autocomplete') ?? '') ||
  // What is shown as dots is a password, whatever its field says.
  (isHtmlElement(element) &&
    /^(?:disc|circle|square)$/.test(getComputedStyle(element).getPropertyValue('-webkit-text-security')));

export const isTextField = (element: Element | null | undefined): element is HTMLInputElement | HTMLTextAreaElement =>
  isTag(element, 'textarea') || (isTag(element, 'input') && typed.has(element.type));

/** What is marked in a field; the caret's whole line when nothing is. */
export function fieldSelection(field: HTMLInputElement | HTMLTextAreaElement): FieldSelection {
  const [start, end] = [field.selectionStart ?? 0, field.selectionEnd ?? 0];
  if (start !== end) return { field, from: start, to: end, words: field.value.slice(start, end), isLine: false };
  const from = field.value.lastIndexOf('\n', start - 1) + 1;
  const next = field.value.indexOf('\n', start);
  const to = next < 0 ? field.value.length : next;
  return { field, from, to, words: field.value.slice(from, to), isLine: true };
}
