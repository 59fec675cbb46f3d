import { parse } from 'parse5';
import {
  type Filled,
  type ReadTools,
  readWhole,
  type Slot,
  type SlotKind,
  type SlotValue,
  type Source,
} from '../format.ts';
import { decodeExactly, encodeText } from '../text/encoding.ts';
import { applyEdits, type TextEdit } from '../text-edits.ts';
import { nullPrototype } from '../xml/element.ts';
import { escapeAttribute, escapeText } from '../xml/write-xml.ts';
import { attribute, type Element, elementsIn, isElement, isText, textOf } from './dom.ts';
import { encodingOfPage } from './read.ts';

/** A field of a page's form (HTML, section 4.10), and where it stands. */
interface Field {
  readonly slot: Slot;
  readonly element: Element;
}

export async function slotsHtml(source: Source, _tools?: ReadTools): Promise<readonly Slot[]> {
  const bytes = await readWhole(source, 'text');
  return fieldsOf(decodeExactly(bytes, encodingOfPage(bytes)).text).map(({ slot }) => slot);
}

export async function fillHtml(
  source: Source,
  values: ReadonlyMap<string, SlotValue>,
  _tools?: ReadTools,
): Promise<Filled> {
  const bytes = await readWhole(source, 'text');
  const decoded = decodeExactly(bytes, encodingOfPage(bytes));
  const edits = fieldsOf(decoded.text).flatMap(({ slot, element }) => {
    const value = values.get(slot.key);
    return value === undefined ? [] : fieldEdits(decoded.text, element, slot, value);
  });
  return { bytes: encodeText(applyEdits(decoded.text, edits), decoded), notes: [] };
}

const kinds: Readonly<Record<string, SlotKind>> = nullPrototype({
  text: 'text',
  search: 'text',
  date: 'date',
  number: 'number',
  email: 'email',
  url: 'url',
  tel: 'phone',
  checkbox: 'check',
});

function fieldsOf(text: string): Field[] {
  const elements = [...elementsIn(parse(text, { sourceCodeLocationInfo: true }).childNodes)];
  const labels = elements.filter(({ tagName }) => tagName === 'label');
  return elements.flatMap((element, index): Field[] => {
    const kind = kindOf(element);
    if (!kind) return [];
    const name = attribute(element, 'name') ?? attribute(element, 'id') ?? `field ${index + 1}`;
    const names = [
      labelOf(element, labels),
      attribute(element, 'aria-label'),
      name,
      attribute(element, 'placeholder'),
    ].filter((each): each is string => each !== undefined && each.trim() !== '');
    const choices = kind === 'choice' ? optionsOf(element).map((option) => textOf(option).trim()) : undefined;
    return [{ slot: { key: name, names, kind, ...(choices && { choices }) }, element }];
  });
}

function kindOf(element: Element): SlotKind | undefined {
  if (attribute(element, 'disabled') !== undefined || attribute(element, 'readonly') !== undefined) return undefined;
  if (element.tagName === 'textarea') return 'text';
  if (element.tagName === 'select') return 'choice';
  return element.tagName === 'input' ? kinds[(attribute(element, 'type') ?? 'text').toLowerCase()] : undefined;
}

/** The label around a field, or the one that names it. */
function labelOf(element: Element, labels: readonly Element[]): string | undefined {
  const id = attribute(element, 'id');
  const label = labels.find(
    (each) => (id !== undefined && attribute(each, 'for') === id) || [...elementsIn(each.childNodes)].includes(element),
  );
  if (!label) return undefined;
  return labelWords(label).replace(/\s+/g, ' ').trim();
}

/** The words of a label, without those of the field in it. */
const labelWords = (label: Element): string =>
  label.childNodes
    .map((node) =>
      isText(node)
        ? node.value
        : isElement(node) && !['select', 'textarea'].includes(node.tagName)
          ? labelWords(node)
          : '',
    )
    .join('');

const optionsOf = (select: Element): Element[] =>
  [...elementsIn(select.childNodes)].filter(({ tagName }) => tagName === 'option');

function fieldEdits(text: string, element: Element, { kind }: Slot, value: SlotValue): TextEdit[] {
  if (kind === 'check') return [flagEdit(text, element, 'checked', value === true)];
  if (kind === 'choice')
    return optionsOf(element).map((option) => flagEdit(text, option, 'selected', textOf(option).trim() === value));
  const place = element.sourceCodeLocation;
  if (element.tagName === 'textarea' && place?.startTag && place.endTag)
    return [{ start: place.startTag.endOffset, end: place.endTag.startOffset, replacement: escapeText(String(value)) }];
  return tagEdit(text, element, (tag) => {
    const bare = tag.replace(/\svalue\s*=\s*(?:"[^"]*"|'[^']*'|[^\s>]+)/i, '');
    return bare.replace(
      /\s*(\/?>)$/,
      (_, end) => ` value="${escapeAttribute(String(value).replace(/\s*\n\s*/g, ' '))}"${end}`,
    );
  });
}

/** Sets or takes away an attribute without a value. */
function flagEdit(text: string, element: Element, name: string, isOn: boolean): TextEdit {
  const [edit] = tagEdit(text, element, (tag) => {
    const bare = tag.replace(new RegExp(`\\s${name}(?:\\s*=\\s*(?:"[^"]*"|'[^']*'|[^\\s>]+))?(?=[\\s/>])`, 'i'), '');
    return isOn ? bare.replace(/\s*(\/?>)$/, ` ${name}$1`) : bare;
  });
  return edit ?? { start: 0, end: 0, replacement: '' };
}

function tagEdit(text: string, element: Element, change: (tag: string) => string): TextEdit[] {
  const place = element.sourceCodeLocation;
  if (!place) return [];
  const start = place.startOffset;
  const end = place.startTag?.endOffset ?? place.endOffset;
  return [{ start, end, replacement: change(text.slice(start, end)) }];
}
