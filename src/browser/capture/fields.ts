import { isHtmlElement, isTag } from '../dom.ts';

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
