import type { Filled, ReadTools, Slot, SlotKind, SlotValue, Source } from '../../format.ts';
import { checkFits, writtenDate } from '../../slot-values.ts';
import { applyEdits, type TextEdit } from '../../text-edits.ts';
import type { Extent } from '../../trace.ts';
import { rootTag } from '../../xml/element.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { scanXmlText } from '../../xml/scan-xml.ts';
import { childOf, type SourceElement, SourceTree, tagPrefix } from '../../xml/source-tree.ts';
import { escapeText } from '../../xml/write-xml.ts';
import { namespaces, openPackage, readRelationships, relatedPart } from '../opc.ts';
import { OpcEdit } from '../package-edit.ts';
import { propertiesOf } from './properties.ts';
import { checkMayChange } from './read.ts';
import { codeOf } from './runs.ts';

/** The content controls, named bookmarks and form fields of a document. */
export async function slotsDocx(source: Source, tools?: ReadTools): Promise<readonly Slot[]> {
  const { zip, main } = await openPackage(source, tools);
  const edit = new OpcEdit(source, zip, tools);
  await edit.load(main);
  return readSlots(edit.findText(main) ?? '', main).map(({ slot }) => slot);
}

/** Fills fields; values take the look of the previous content, and placeholders are removed. */
export async function fillDocx(
  source: Source,
  values: ReadonlyMap<string, SlotValue>,
  tools?: ReadTools,
): Promise<Filled> {
  const opened = await openPackage(source, tools);
  await checkMayChange(opened, { fills: true });
  const { zip, main } = opened;
  const edit = new OpcEdit(source, zip, tools);
  const settings = relatedPart(zip, await readRelationships(zip, main), 'settings');
  await edit.load(main, settings);
  const text = edit.findText(main) ?? '';
  const edits = readSlots(text, main).flatMap((slot) => {
    const value = values.get(slot.slot.key);
    return value === undefined ? [] : slotEdits(text, slot, value);
  });
  edit.setText(main, applyEdits(text, edits));
  return { bytes: await edit.bytes(), notes: [] };
}

function slotEdits(
  text: string,
  { slot, start, end, format, language, checked, signs, placeholder, legacy }: DocumentSlot,
  value: SlotValue,
): TextEdit[] {
  checkFits(slot, value);
  if (legacy) return [legacyEdit(slot, legacy, value)];
  const edits: TextEdit[] = placeholder ? [{ ...placeholder, replacement: '' }] : [];
  if (slot.kind === 'check') {
    if (checked) edits.push({ ...checked, replacement: withTick(text, checked, value === true) });
    return [...edits, contentEdit(text, start, end, value ? signs[0] : signs[1])];
  }
  const words =
    slot.kind === 'date' && typeof value === 'string' ? writtenDate(value, format, language) : String(value);
  return [...edits, contentEdit(text, start, end, words)];
}

/** The element that says whether a check box is ticked; it is where it says nothing ([MS-DOCX], 2.6.2.8). */
function withTick(text: string, { start, end }: Extent, isTicked: boolean): string {
  const tree = new SourceTree(text.slice(start, end), 'document.xml', namespaces, { rootTag: rootTag(text) });
  return tree.edited(tree.root.children.map((each) => tree.setAttributes(each, { 'w14:val': isTicked ? '1' : '0' })));
}

/** Fills a check box or list of a legacy form: its value is in an element, and its field shows no words. */
function legacyEdit({ choices = [] }: Slot, { kind, at, isClosed, prefix }: LegacyValue, value: SlotValue): TextEdit {
  const written = kind === 'checked' ? (value ? '1' : '0') : String(choices.indexOf(String(value)));
  return { ...at, replacement: `<${prefix}${kind} ${prefix}val="${written}"${isClosed ? '/' : ''}>` };
}

/** Replaces a field's words with one run that looks like the first one, in the first paragraph if there are several. */
function contentEdit(text: string, start: number, end: number, words: string): TextEdit {
  const tree = new SourceTree(text.slice(start, end), 'document.xml', namespaces, { rootTag: rootTag(text) });
  const first = tree.all(['w:p', 'w:r'])[0];
  const paragraph = first?.name === 'w:p' ? first : undefined;
  const run = runOf(tree, tree.first('w:r'), words);
  if (!paragraph) return { start, end, replacement: run };
  const properties = childOf(paragraph, 'w:pPr');
  const own = properties ? tree.source(properties) : '';
  return { start, end, replacement: `${openTag(tree, paragraph)}${own}${run}</${tree.prefix('w', paragraph)}p>` };
}

/** Its start tag, which a paragraph without words may not have. */
const openTag = (tree: SourceTree, element: SourceElement): string => tree.tag(element).replace(/\s*\/>$/, '>');

/** The look of the words that held the place is not that of the value. */
function runOf(tree: SourceTree, first: SourceElement | undefined, words: string): string {
  const prefix = tree.prefix('w', first ?? tree.root);
  const properties = childOf(first, 'w:rPr');
  const isPlaceholder = childOf(properties, 'w:rStyle')?.attributes['w:val']?.startsWith('Placeholder') === true;
  const kept = propertiesOf(tree, properties).filter(
    ({ name }) => name !== 'rStyle' && !(isPlaceholder && name === 'color'),
  );
  const look = kept.length > 0 ? `<${prefix}rPr>${kept.map(({ source }) => source).join('')}</${prefix}rPr>` : '';
  const lines = words.split('\n').map((line) => `<${prefix}t xml:space="preserve">${escapeText(line)}</${prefix}t>`);
  return `<${prefix}r>${look}${lines.join(`<${prefix}br/>`)}</${prefix}r>`;
}

/** A field, with the source range of its content. */
export interface DocumentSlot extends Extent {
  readonly slot: Slot;
  /** How dates are written in it (ISO/IEC 29500-1, 17.5.2.8), and in which language. */
  readonly format: string | undefined;
  readonly language: string | undefined;
  /** Of a check box: the element that says whether it is ticked, and its signs. */
  readonly checked: Extent | undefined;
  readonly signs: readonly [ticked: string, unticked: string];
  /** The mark of words that only hold the place. */
  readonly placeholder: Extent | undefined;
  /** For a legacy form field: the element with its value. */
  readonly legacy?: LegacyValue | undefined;
}

/** The position of a legacy form field's value (17.16.7, 17.16.9): its own element, or the element to insert it after. */
export interface LegacyValue {
  readonly kind: 'checked' | 'result';
  readonly at: Extent;
  /** Whether the element is one tag. */
  readonly isClosed: boolean;
  /** The prefix of the elements around, with its colon. */
  readonly prefix: string;
}

/** The slots of a document's main part in reading order. */
export function readSlots(text: string, part: string): DocumentSlot[] {
  const reader = new SlotReader(text);
  scanXmlText(text, part, namespaces, reader);
  const placeOf = ({ start, legacy }: DocumentSlot): number => legacy?.at.start ?? start;
  return reader.slots.sort((one, other) => placeOf(one) - placeOf(other));
}

interface OpenControl {
  readonly names: string[];
  kind: SlotKind;
  readonly choices: string[];
  format: string | undefined;
  language: string | undefined;
  checked: Extent | undefined;
  signs: [string, string];
  placeholder: Extent | undefined;
  start: number;
  end: number;
  /** Whether it contains rows, cells or other controls, which words cannot replace. */
  holdsMore: boolean;
}

/** An open complex field (17.16.18); only those with form data are form fields. */
interface OpenField {
  readonly names: string[];
  readonly choices: string[];
  isForm: boolean;
  kind: SlotKind;
  legacy: LegacyValue | undefined;
  /** The element around the run of its separator. */
  parent: object | undefined;
  isSeparated: boolean;
  /** Behind the run of its separator. */
  start: number;
  /** Whether another field begins in it, which words must not replace. */
  holdsMore: boolean;
}

/** Hears content controls (17.5.2), bookmarks (17.13.6) and the older form fields (17.16.17). */
class SlotReader implements XmlHandler {
  readonly slots: DocumentSlot[] = [];
  readonly #keys = new Set<string>();
  readonly #controls: OpenControl[] = [];
  readonly #bookmarks = new Map<
    string,
    { readonly name: string; readonly start: number; readonly parent: object | undefined; readonly marks: number }
  >();
  #extent: Extent = { start: 0, end: 0 };
  readonly #fields: OpenField[] = [];
  /** How many marks of fields were met: a bookmark around one must not be filled. */
  #marks = 0;
  #runStart = 0;
  #inProperties = false;
  /** The elements around what is read: words are replaced only between two of the same element, inside a paragraph. */
  readonly #around: { readonly name: string }[] = [];
  /** The element around the run that is read. */
  #runParent: object | undefined;
  readonly #text: string;

  constructor(text: string) {
    this.#text = text;
  }

  at(start: number, end: number): void {
    this.#extent = { start, end };
  }

  open(name: string, a: Attributes): void {
    const control = this.#controls.at(-1);
    if (name === 'w:r') {
      this.#runStart = this.#extent.start;
      this.#runParent = this.#parent;
    }
    if (name === 'w:sdt') this.#openControl();
    else if (name === 'w:sdtPr') this.#inProperties = true;
    else if (this.#inProperties && control) this.#readProperty(control, name, a);
    else if (name === 'w:sdtContent' && control) control.start = this.#extent.end;
    else if ((name === 'w:tr' || name === 'w:tc') && control) control.holdsMore = true;
    else if (name === 'w:bookmarkStart') this.#openBookmark(a);
    else if (name === 'w:bookmarkEnd') this.#closeBookmark(a);
    else this.#readField(name, a);
    this.#around.push({ name });
  }

  /** The element that what is read lies in; `undefined` outside paragraphs. */
  get #parent(): object | undefined {
    return this.#around.some(({ name }) => name === 'w:p') ? this.#around.at(-1) : undefined;
  }

  close(name: string): void {
    this.#around.pop();
    const control = this.#controls.at(-1);
    if (name === 'w:sdtPr') this.#inProperties = false;
    if (name === 'w:sdtContent' && control) control.end = this.#extent.start;
    if (name === 'w:sdt') this.#closeControl();
    const field = this.#fields.at(-1);
    if (name === 'w:r' && field?.isSeparated && field.start === 0) field.start = this.#extent.end;
  }

  #openControl(): void {
    this.#marks++;
    const around = this.#controls.at(-1);
    if (around) around.holdsMore = true;
    this.#controls.push({
      names: [],
      kind: 'text',
      choices: [],
      format: undefined,
      language: undefined,
      checked: undefined,
      signs: ['☒', '☐'],
      placeholder: undefined,
      start: 0,
      end: 0,
      holdsMore: false,
    });
  }

  #readProperty(control: OpenControl, name: string, a: Attributes): void {
    const value = a['w:val'] ?? a['w14:val'] ?? '';
    if (name === 'w:alias' || name === 'w:tag') control.names.push(value);
    if (name === 'w:date') control.kind = 'date';
    if (name === 'w:dateFormat') control.format = value;
    if (name === 'w:lid') control.language = value;
    if (name === 'w:dropDownList') control.kind = 'choice';
    if (name === 'w:listItem' && control.kind === 'choice')
      control.choices.push(a['w:displayText'] ?? a['w:value'] ?? '');
    if (name === 'w14:checkbox') control.kind = 'check';
    if (name === 'w14:checked') control.checked = this.#extent;
    const sign = (): string => String.fromCodePoint(codeOf(value) ?? 0x2612);
    if (name === 'w14:checkedState') control.signs[0] = sign();
    if (name === 'w14:uncheckedState') control.signs[1] = sign();
    if (name === 'w:showingPlcHdr') control.placeholder = this.#extent;
  }

  #closeControl(): void {
    const control = this.#controls.pop();
    if (!control || control.holdsMore || control.end === 0 || control.names.length === 0) return;
    const { names, kind, choices, ...place } = control;
    const shown = choices.filter((choice) => choice !== '');
    this.#add({ names, kind, ...(kind === 'choice' && { choices: shown }) }, place);
  }

  /** Opens a bookmark. Names that begin with an underscore are the program's own; a bookmark over several paragraphs is no field. */
  #openBookmark(a: Attributes): void {
    const name = a['w:name'] ?? '';
    if (name !== '' && !name.startsWith('_'))
      this.#bookmarks.set(a['w:id'] ?? '', {
        name,
        start: this.#extent.end,
        parent: this.#parent,
        marks: this.#marks,
      });
  }

  #closeBookmark(a: Attributes): void {
    const bookmark = this.#bookmarks.get(a['w:id'] ?? '');
    const holdsField = bookmark?.marks !== this.#marks || this.#fields.length > 0;
    const isWithin = bookmark?.parent !== undefined && bookmark.parent === this.#parent;
    if (!bookmark || !isWithin || this.#controls.length > 0 || holdsField) return;
    this.#add({ names: [bookmark.name], kind: 'text' }, { start: bookmark.start, end: this.#extent.start });
  }

  #readField(name: string, a: Attributes): void {
    if (name === 'w:fldChar') return this.#readMark(a['w:fldCharType']);
    const field = this.#fields.at(-1);
    if (name === 'w:ffData' && field) field.isForm = true;
    else if (field?.isForm && !field.isSeparated) this.#readFormData(field, name, a['w:val']);
  }

  get #isClosed(): boolean {
    return this.#text[this.#extent.end - 2] === '/';
  }

  /** Reads the data of a legacy form field (17.16.17): its name and, for a check box or list, the position of its value. */
  #readFormData(field: OpenField, name: string, value = ''): void {
    const legacy = (kind: LegacyValue['kind'], stands: boolean): void => {
      const { start, end } = this.#extent;
      const prefix = tagPrefix(this.#text.slice(start, end));
      field.legacy = { kind, isClosed: !stands || this.#isClosed, prefix, at: { start: stands ? start : end, end } };
    };
    if (name === 'w:name' && value !== '') field.names.push(value);
    if (name === 'w:type' && value === 'number') field.kind = 'number';
    if (name === 'w:type' && value === 'date') field.kind = 'date';
    if (name === 'w:checkBox' || name === 'w:ddList') {
      field.kind = name === 'w:checkBox' ? 'check' : 'choice';
      if (!this.#isClosed) legacy(name === 'w:checkBox' ? 'checked' : 'result', false);
    }
    // The value follows the size and the default.
    if (field.kind === 'check' && /^w:(?:size|sizeAuto|default)$/.test(name)) legacy('checked', false);
    if (field.kind === 'check' && name === 'w:checked') legacy('checked', true);
    if (field.kind === 'choice' && name === 'w:result') legacy('result', true);
    if (name === 'w:listEntry') field.choices.push(value);
  }

  #readMark(type: string | undefined): void {
    this.#marks++;
    for (const control of this.#controls) control.holdsMore = true;
    if (type === 'begin') {
      for (const field of this.#fields) field.holdsMore = true;
      this.#fields.push({
        names: [],
        choices: [],
        isForm: false,
        kind: 'text',
        legacy: undefined,
        parent: undefined,
        isSeparated: false,
        start: 0,
        holdsMore: false,
      });
    }
    const field = this.#fields.at(-1);
    if (type === 'separate' && field) {
      field.isSeparated = true;
      field.parent = this.#runParent;
    }
    if (type === 'end') this.#closeField(this.#fields.pop());
  }

  #closeField(field: OpenField | undefined): void {
    if (!field?.isForm || field.names.length === 0) return;
    const { names, kind, choices, legacy } = field;
    if (legacy) return this.#add({ names, kind, ...(kind === 'choice' && { choices }) }, { start: 0, end: 0, legacy });
    const isWords = field.start > 0 && field.start <= this.#runStart;
    if (isWords && !field.holdsMore && field.parent !== undefined && field.parent === this.#runParent)
      this.#add({ names, kind }, { start: field.start, end: this.#runStart });
  }

  #add(slot: Omit<Slot, 'key'>, place: Extent & Partial<DocumentSlot>): void {
    const base = slot.names[1] ?? slot.names[0] ?? 'slot';
    let key = base;
    for (let number = 2; this.#keys.has(key); number++) key = `${base} ${number}`;
    this.#keys.add(key);
    const { start, end, format, language, checked, signs = ['☒', '☐'], placeholder, legacy } = place;
    this.slots.push({ slot: { key, ...slot }, start, end, format, language, checked, signs, placeholder, legacy });
  }
}
