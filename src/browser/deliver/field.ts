import { type Content, DrawerError, plainText } from '../../content/index.ts';
import { loadDateFinder } from '../../drawer/index.ts';
import { frameAround, isElement, isTag, isText } from '../dom.ts';

export type Field = HTMLInputElement | HTMLTextAreaElement | HTMLSelectElement;

export const isField = (element: Element): element is Field =>
  isTag(element, 'input') || isTag(element, 'textarea') || isTag(element, 'select');

/** Inputs whose value is one thing of their own kind, and not words at a caret (HTML, section 4.10.5.1). */
const kinds: Readonly<Record<string, 'date' | 'number' | 'email' | 'url' | 'phone' | 'check' | 'text'>> = {
  date: 'date',
  'datetime-local': 'date',
  month: 'date',
  week: 'date',
  number: 'number',
  range: 'number',
  email: 'email',
  checkbox: 'check',
  time: 'text',
  color: 'text',
};

/** What a field takes as a whole; `undefined` for words at a caret. */
export const kindOf = (field: Field): string | undefined =>
  isTag(field, 'select')
    ? 'choice'
    : isTag(field, 'input')
      ? field.type === 'radio'
        ? 'choice'
        : kinds[field.type]
      : undefined;

/** What people call a field or another place: its label, or else its name; that of the grid for a place within one. */
export function nameOf(element: Element): string {
  const grid = isField(element) ? null : element.closest('[role="grid"], [role="treegrid"], [data-drawer="target"]');
  const own = ownName(element) || (grid && grid !== element ? ownName(grid) : '');
  const frame = own === '' ? frameAround(element) : undefined;
  return frame ? nameOf(frame) : own;
}

/** What a label says, less what stands in the fields within it. */
const wordsOfLabel = (node: Node): string =>
  isText(node) ? node.data : isElement(node) && isField(node) ? '' : [...node.childNodes].map(wordsOfLabel).join('');

function ownName(element: Element): string {
  const labelledBy = element
    .getAttribute('aria-labelledby')
    ?.split(/\s+/)
    .map((id) => (element.getRootNode() as Document).getElementById(id)?.textContent ?? '')
    .join(' ');
  const label = isField(element) ? [...(element.labels ?? [])].map(wordsOfLabel).join(' ') : '';
  const words =
    element.getAttribute('aria-label') ||
    labelledBy ||
    label ||
    element.getAttribute('placeholder') ||
    element.getAttribute('title') ||
    element.getAttribute('name');
  return (
    words
      ?.replace(/\s+/g, ' ')
      .replace(/\s*[:*]\s*$/, '')
      .trim() ?? ''
  );
}

/**
 * Puts a value of the field's own kind into it, with the events that typing makes.
 * @throws DrawerError `invalid` when the content holds none; the field stays as it was.
 */
export async function fillField(
  field: HTMLInputElement | HTMLSelectElement,
  content: Content,
  language: string,
): Promise<void> {
  checkWritable(field);
  const value = await valueFor(field, content, language);
  if (value === undefined) throw doesNotFit(field, content);
  if (isTag(field, 'input') && (field.type === 'checkbox' || field.type === 'radio')) return tick(field, value);
  const before = field.value;
  setNative(field, String(value));
  // A field takes no value that is not of its kind: it is empty then, or says that it is not valid.
  if (field.value === '' || (isTag(field, 'input') && !field.validity.valid && !field.validity.valueMissing)) {
    setNative(field, before);
    throw doesNotFit(field, content);
  }
  tell(field);
}

/** Puts a value into any field, in the place of what is there. @throws DrawerError as `fillField` does */
export async function fillWhole(field: Field, content: Content, language: string): Promise<void> {
  if (!isTag(field, 'textarea') && kindOf(field) !== undefined)
    return fillField(field as HTMLInputElement | HTMLSelectElement, content, language);
  checkWritable(field);
  const words = plainText(content).trim();
  const typed = isTag(field, 'textarea') ? words : words.replace(/\s*\n\s*/g, ' ');
  if ('maxLength' in field && field.maxLength >= 0 && typed.length > field.maxLength)
    throw tooLong(field, field.maxLength);
  setNative(field, typed);
  tell(field);
}

async function valueFor(
  field: HTMLInputElement | HTMLSelectElement,
  content: Content,
  language: string,
): Promise<string | number | boolean | undefined> {
  const [{ slotValue }, findDate] = await Promise.all([import('../../compose/index.ts'), loadDateFinder(language)]);
  const slot = { key: field.name || field.id, names: [nameOf(field)] };
  if (isTag(field, 'select')) {
    const options = [...field.options];
    const by = (words: (option: HTMLOptionElement) => string): string | undefined => {
      const chosen = slotValue({ ...slot, kind: 'choice', choices: options.map(words) }, content, findDate);
      return options.find((option) => words(option) === chosen)?.value;
    };
    return by(({ text }) => text) ?? by(({ value }) => value);
  }
  if (field.type === 'radio')
    return radioFor(field, (choices) => slotValue({ ...slot, kind: 'choice', choices }, content, findDate));
  const value = slotValue({ ...slot, kind: kinds[field.type] ?? 'text' }, content, findDate);
  return typeof value === 'string' && kinds[field.type] === 'date' ? dateFor(field.type, value, content) : value;
}

/** The one of a group whose label or value is said. */
function radioFor(field: HTMLInputElement, choose: (choices: string[]) => unknown): string | undefined {
  const group = groupOf(field);
  for (const words of [(each: HTMLInputElement) => nameOf(each), (each: HTMLInputElement) => each.value]) {
    const chosen = choose(group.map(words));
    const found = group.find((each) => words(each) === chosen);
    if (chosen !== undefined && found) return found.value;
  }
  return undefined;
}

const groupOf = (field: HTMLInputElement): HTMLInputElement[] =>
  [
    ...(field.form ?? (field.getRootNode() as Document)).querySelectorAll<HTMLInputElement>('input[type="radio"]'),
  ].filter(({ name }) => name === field.name);

/** A day as an input of that type writes it (HTML, section 2.3.5). */
function dateFor(type: string, day: string, content: Content): string | undefined {
  const cell = content.shape === 'cells' ? content.rows[0]?.[0] : undefined;
  const time = cell?.type === 'date' ? /T(\d\d:\d\d)/.exec(cell.value)?.[1] : undefined;
  if (type === 'month') return day.slice(0, 7);
  if (type === 'datetime-local') return `${day}T${time ?? '00:00'}`;
  return type === 'week' ? weekOf(day) : day;
}

/** The week by ISO 8601: the one that has the year's first Thursday is the first. */
function weekOf(day: string): string {
  const date = new Date(`${day}T00:00:00Z`);
  date.setUTCDate(date.getUTCDate() + 4 - (date.getUTCDay() || 7));
  const start = Date.UTC(date.getUTCFullYear(), 0, 1);
  const week = Math.ceil(((date.getTime() - start) / 86_400_000 + 1) / 7);
  return `${date.getUTCFullYear()}-W${String(week).padStart(2, '0')}`;
}

function tick(field: HTMLInputElement, value: string | number | boolean): void {
  const box = field.type === 'radio' ? groupOf(field).find((each) => each.value === value) : field;
  // A click is what the page listens for, and what sets it.
  if (box && box.checked !== (field.type === 'radio' ? true : value)) box.click();
}

/** The platform's own setter: frameworks put theirs in front of it and would take the change for their own. */
function setNative(field: HTMLInputElement | HTMLSelectElement | HTMLTextAreaElement, value: string): void {
  const prototype = Object.getPrototypeOf(field) as object;
  Object.getOwnPropertyDescriptor(prototype, 'value')?.set?.call(field, value);
}

function tell(field: Element): void {
  field.dispatchEvent(new Event('input', { bubbles: true, composed: true }));
  field.dispatchEvent(new Event('change', { bubbles: true }));
}

/**
 * Puts words at the caret of a field, as typing does, so that the browser's own undo takes them back.
 * @throws DrawerError `refused` when it takes none; `too-large` when not all of them fit, and then none is put in.
 */
export function typeInto(field: HTMLInputElement | HTMLTextAreaElement, words: string): void {
  checkWritable(field);
  const typed = isTag(field, 'input') ? words.replace(/\s*\n\s*/g, ' ') : words;
  const marked = (field.selectionEnd ?? 0) - (field.selectionStart ?? 0);
  if (field.maxLength >= 0 && field.value.length - marked + typed.length > field.maxLength)
    throw tooLong(field, field.maxLength);
  const before = field.value;
  if (field.ownerDocument.execCommand('insertText', false, typed) && field.value !== before) return;
  field.setRangeText(typed, field.selectionStart ?? 0, field.selectionEnd ?? 0, 'end');
  field.dispatchEvent(
    new InputEvent('input', { bubbles: true, composed: true, inputType: 'insertFromPaste', data: typed }),
  );
}

function checkWritable(field: Field): void {
  const isReadOnly = !isTag(field, 'select') && field.readOnly;
  if (!field.disabled && !isReadOnly && !(isTag(field, 'input') && field.type === 'file')) return;
  throw new DrawerError('refused/field-refused', { field: nameOf(field) || { kind: 'field.any' } });
}

const tooLong = (field: Field, most: number): DrawerError =>
  new DrawerError('too-large/field-too-short', { field: nameOf(field) || { kind: 'field.any' }, most });

const doesNotFit = (field: Field, content: Content): DrawerError =>
  new DrawerError('invalid/field-value-refused', {
    value: plainText(content).replace(/\s+/g, ' ').slice(0, 60),
    field: nameOf(field) || { kind: 'field.any' },
  });
