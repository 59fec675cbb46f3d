import type { Filled, ReadTools, Slot, SlotValue, Source } from '../../format.ts';
import { checkUnsigned, PackageEdit } from '../../package/package-edit.ts';
import { writtenDate } from '../../slot-values.ts';
import { applyEdits } from '../../text-edits.ts';
import type { Extent } from '../../trace.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { scanXmlText } from '../../xml/scan-xml.ts';
import { escapeText } from '../../xml/write-xml.ts';
import { contentPart, namespaces, openOdf } from '../package.ts';

interface OdtSlot extends Extent {
  readonly slot: Slot;
}

/**
 * The placeholders, input fields and named bookmarks of a text (ISO/IEC 26300-1, 7.7.1, 7.4.9 and 6.2.1), and the form fields
 * that office programs keep of Word documents.
 */
export async function slotsOdt(source: Source, tools?: ReadTools): Promise<readonly Slot[]> {
  const edit = new PackageEdit(source, await openOdf(source, tools));
  await edit.load(contentPart);
  return readSlots(edit.findText(contentPart) ?? '').map(({ slot }) => slot);
}

/** Values take the place of what stood there; a placeholder is one no more. */
export async function fillOdt(
  source: Source,
  values: ReadonlyMap<string, SlotValue>,
  tools?: ReadTools,
): Promise<Filled> {
  const zip = await openOdf(source, tools);
  checkUnsigned(zip);
  const edit = new PackageEdit(source, zip, tools);
  await edit.load(contentPart);
  const text = edit.findText(contentPart) ?? '';
  const edits = readSlots(text).flatMap(({ slot, start, end }) => {
    const value = values.get(slot.key);
    return value === undefined ? [] : [{ start, end, replacement: wordsOf(slot, value) }];
  });
  edit.setText(contentPart, applyEdits(text, edits));
  return { bytes: await edit.bytes(), notes: [] };
}

function wordsOf({ kind }: Slot, value: SlotValue): string {
  if (typeof value === 'boolean') return value ? '☒' : '☐';
  const words = kind === 'date' && typeof value === 'string' ? writtenDate(value, undefined) : String(value);
  return words.split('\n').map(escapeText).join('<text:line-break/>');
}

function readSlots(text: string): OdtSlot[] {
  const reader = new SlotReader();
  scanXmlText(text, contentPart, namespaces, reader);
  return reader.slots.sort((one, other) => one.start - other.start);
}

class SlotReader implements XmlHandler {
  readonly slots: OdtSlot[] = [];
  readonly #bookmarks = new Map<
    string,
    { readonly start: number; readonly paragraph: number; readonly fields: number }
  >();
  /** How many fields were met: a bookmark around one must not be filled. */
  #fields = 0;
  #mark: { readonly name: string; readonly start: number; readonly paragraph: number } | undefined;
  readonly #keys = new Set<string>();
  #extent: Extent = { start: 0, end: 0 };
  #paragraph = 0;
  #field: { readonly start: number; readonly inner: number; readonly name: string; words: string } | undefined;

  at(start: number, end: number): void {
    this.#extent = { start, end };
  }

  open(name: string, a: Attributes): void {
    if (name === 'text:p' || name === 'text:h') this.#paragraph++;
    if (name === 'text:placeholder' || name === 'text:text-input')
      this.#field = {
        start: this.#extent.start,
        inner: this.#extent.end,
        name: a['text:description'] ?? '',
        words: '',
      };
    const mark = a['text:name'] ?? '';
    if (name.startsWith('field:') || name === 'text:text-input' || name === 'loext:content-control') this.#fields++;
    if (name === 'field:fieldmark-start')
      this.#mark = a['field:type']?.endsWith('FORMTEXT')
        ? { name: mark, start: this.#extent.end, paragraph: this.#paragraph }
        : undefined;
    if (name === 'field:fieldmark-end') this.#closeMark();
    if (name === 'text:bookmark-start')
      this.#bookmarks.set(mark, { start: this.#extent.end, paragraph: this.#paragraph, fields: this.#fields });
    if (name === 'text:bookmark-end') this.#closeBookmark(mark);
  }

  text(words: string): void {
    if (this.#field) this.#field.words += words;
  }

  close(name: string): void {
    const field = this.#field;
    if (name === 'field:fieldmark-start' && this.#mark) this.#mark = { ...this.#mark, start: this.#extent.end };
    if (!field || (name !== 'text:placeholder' && name !== 'text:text-input')) return;
    this.#field = undefined;
    const shown = field.words.replace(/^<|>$/g, '').trim();
    const names = [field.name, shown].filter((each) => each !== '');
    const isInput = name === 'text:text-input';
    if (names.length > 0)
      this.#add(names, {
        start: isInput ? field.inner : field.start,
        end: isInput ? this.#extent.start : this.#extent.end,
      });
  }

  /** Those that programs make for themselves begin with a low line; one that spans paragraphs is no field. */
  #closeBookmark(name: string): void {
    const bookmark = this.#bookmarks.get(name);
    if (bookmark?.fields !== this.#fields) return;
    if (bookmark.paragraph === this.#paragraph && !name.startsWith('_') && !name.startsWith('__'))
      this.#add([name], { start: bookmark.start, end: this.#extent.start });
  }

  /** The words between the marks of a form field; its parameters stand within the first of them. */
  #closeMark(): void {
    const mark = this.#mark;
    this.#mark = undefined;
    if (mark && mark.name !== '' && mark.paragraph === this.#paragraph)
      this.#add([mark.name], { start: mark.start, end: this.#extent.start });
  }

  #add(names: readonly string[], place: Extent): void {
    const base = names[0] ?? 'slot';
    let key = base;
    for (let number = 2; this.#keys.has(key); number++) key = `${base} ${number}`;
    this.#keys.add(key);
    this.slots.push({ slot: { key, names, kind: 'text' }, ...place });
  }
}
