import type { Slot, SlotKind } from '../../format.ts';
import type { Extent } from '../../trace.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { scanXmlText } from '../../xml/scan-xml.ts';
import { namespaces } from '../namespaces.ts';
import { codeOf } from './symbols.ts';

/** A slot, and where what it holds stands in the source. */
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
}

/** The slots of a document's main part in reading order. */
export function readSlots(text: string, part: string): DocumentSlot[] {
  const reader = new SlotReader();
  scanXmlText(text, part, namespaces, reader);
  return reader.slots.sort((one, other) => one.start - other.start);
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
  /** Whether it holds rows or cells, which words cannot stand for, or other controls. */
  holdsMore: boolean;
}

interface OpenField {
  readonly names: string[];
  readonly kind: SlotKind;
  start: number;
  end: number;
}

/** Hears content controls (17.5.2), bookmarks (17.13.6) and the older form fields (17.16.17). */
class SlotReader implements XmlHandler {
  readonly slots: DocumentSlot[] = [];
  readonly #keys = new Set<string>();
  readonly #controls: OpenControl[] = [];
  readonly #bookmarks = new Map<
    string,
    { readonly name: string; readonly start: number; readonly paragraph: number }
  >();
  #extent: Extent = { start: 0, end: 0 };
  #paragraph = 0;
  #field: OpenField | undefined;
  #runStart = 0;
  #inProperties = false;
  #separated = false;

  at(start: number, end: number): void {
    this.#extent = { start, end };
  }

  open(name: string, a: Attributes): void {
    const control = this.#controls.at(-1);
    if (name === 'w:p') this.#paragraph++;
    if (name === 'w:r') this.#runStart = this.#extent.start;
    if (name === 'w:sdt') this.#openControl();
    else if (name === 'w:sdtPr') this.#inProperties = true;
    else if (this.#inProperties && control) this.#readProperty(control, name, a);
    else if (name === 'w:sdtContent' && control) control.start = this.#extent.end;
    else if ((name === 'w:tr' || name === 'w:tc') && control) control.holdsMore = true;
    else if (name === 'w:bookmarkStart') this.#openBookmark(a);
    else if (name === 'w:bookmarkEnd') this.#closeBookmark(a);
    else this.#readField(name, a);
  }

  close(name: string): void {
    const control = this.#controls.at(-1);
    if (name === 'w:sdtPr') this.#inProperties = false;
    if (name === 'w:sdtContent' && control) control.end = this.#extent.start;
    if (name === 'w:sdt') this.#closeControl();
    if (name === 'w:r' && this.#separated && this.#field && this.#field.start === 0)
      this.#field.start = this.#extent.end;
  }

  #openControl(): void {
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

  /** Those that programs make for themselves begin with a low line; one that spans paragraphs is no field. */
  #openBookmark(a: Attributes): void {
    const name = a['w:name'] ?? '';
    if (name !== '' && !name.startsWith('_'))
      this.#bookmarks.set(a['w:id'] ?? '', { name, start: this.#extent.end, paragraph: this.#paragraph });
  }

  #closeBookmark(a: Attributes): void {
    const bookmark = this.#bookmarks.get(a['w:id'] ?? '');
    if (!bookmark || bookmark.paragraph !== this.#paragraph || this.#controls.length > 0) return;
    this.#add({ names: [bookmark.name], kind: 'text' }, { start: bookmark.start, end: this.#extent.start });
  }

  #readField(name: string, a: Attributes): void {
    if (name === 'w:ffData') this.#field = { names: [], kind: 'text', start: 0, end: 0 };
    if (name === 'w:name' && this.#field && this.#field.start === 0 && a['w:val']) this.#field.names.push(a['w:val']);
    if (name !== 'w:fldChar') return;
    if (a['w:fldCharType'] === 'separate') this.#separated = true;
    if (a['w:fldCharType'] !== 'end') return;
    if (this.#field && this.#separated && this.#field.start > 0 && this.#field.names.length > 0)
      this.#add(
        { names: this.#field.names, kind: this.#field.kind },
        { start: this.#field.start, end: this.#runStart },
      );
    this.#field = undefined;
    this.#separated = false;
  }

  #add(slot: Omit<Slot, 'key'>, place: Extent & Partial<DocumentSlot>): void {
    const base = slot.names[1] ?? slot.names[0] ?? 'slot';
    let key = base;
    for (let number = 2; this.#keys.has(key); number++) key = `${base} ${number}`;
    this.#keys.add(key);
    const { start, end, format, language, checked, signs = ['☒', '☐'], placeholder } = place;
    this.slots.push({ slot: { key, ...slot }, start, end, format, language, checked, signs, placeholder });
  }
}
