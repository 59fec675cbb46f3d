import type { Element } from 'xast';
import { columnLetters } from '../../../places/index.ts';
import type { ReadTools, Source } from '../../format.ts';
import { PackageEdit } from '../../package/package-edit.ts';
import type { CellsOf } from '../../sheets/sheet-format.ts';
import { applyEdits, type TextEdit } from '../../text-edits.ts';
import type { Extent } from '../../trace.ts';
import { Declarations } from '../../xml/element.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { scanXmlText } from '../../xml/scan-xml.ts';
import { xmlSource } from '../../xml/write-xml.ts';
import { contentPart, namespaces, openOdf, writingNamespaces } from '../package.ts';

/** Defines a name for cells (ISO/IEC 26300-1, 9.4.12), or moves an existing name to them. */
export async function nameOdsCells(
  source: Source,
  name: string,
  { sheet, rows, columns }: CellsOf,
  tools: ReadTools,
): Promise<Uint8Array> {
  const edit = new PackageEdit(source, await openOdf(source, tools), tools);
  await edit.load(contentPart);
  const text = edit.findText(contentPart) ?? '';
  const names = new NamesReader(text, name);
  scanXmlText(text, contentPart, namespaces, names);
  const first = `$'${sheet.replaceAll("'", "''")}'.$${columnLetters(columns.from)}$${rows.from}`;
  const attributes = {
    'table:name': name,
    'table:base-cell-address': first,
    'table:cell-range-address': `${first}:.$${columnLetters(columns.to)}$${rows.to}`,
  };
  edit.setText(contentPart, applyEdits(text, [withName(text, names, attributes)]));
  return edit.bytes();
}

function withName(text: string, { known, listEnd, place }: NamesReader, attributes: Attributes): TextEdit {
  const range = { type: 'element', name: 'table:named-range', attributes, children: [] } satisfies Element;
  const list = { type: 'element', name: listName, attributes: {}, children: [range] } satisfies Element;
  const isInList = known !== undefined || listEnd !== undefined;
  const at =
    listEnd === undefined ? (place ?? { start: text.length, end: text.length }) : { start: listEnd, end: listEnd };
  const replacement = new Declarations(text, writingNamespaces).on(xmlSource([isInList ? range : list]));
  return { ...(known ?? at), replacement };
}

const listName = 'table:named-expressions';

/** The elements that follow the names of a spreadsheet (3.7, `table-functions`). */
const behindNames: ReadonlySet<string> = new Set([
  'table:database-ranges',
  'table:data-pilot-tables',
  'table:consolidation',
  'table:dde-links',
]);

/** Finds the names that apply to the whole spreadsheet; a sheet may define its own. */
class NamesReader implements XmlHandler {
  /** The position of the name, if it is defined. */
  known: Extent | undefined;
  /** The start of the end tag of the list of names, if there is one. */
  listEnd: number | undefined;
  /** The position of an empty list of names, or of a new list. */
  place: Extent | undefined;
  readonly #text: string;
  readonly #name: string;
  readonly #path: string[] = [];
  #extent: Extent = { start: 0, end: 0 };
  /** The start of the name while it is open. */
  #begun: number | undefined;

  constructor(text: string, name: string) {
    this.#text = text;
    this.#name = name.toLowerCase();
  }

  at(start: number, end: number): void {
    this.#extent = { start, end };
  }

  open(name: string, attributes: Attributes): void {
    const [above, upper] = [this.#path.at(-1), this.#path.at(-2)];
    this.#path.push(name);
    const { start, end } = this.#extent;
    if (above === 'office:spreadsheet') {
      if (behindNames.has(name)) this.place ??= { start, end: start };
      if (name === listName && this.#text[end - 2] === '/') this.place = this.#extent;
    }
    const isOfAll = above === listName && upper === 'office:spreadsheet';
    if (name === 'table:named-range' && isOfAll && attributes['table:name']?.toLowerCase() === this.#name)
      this.#begun = start;
  }

  close(name: string): void {
    this.#path.pop();
    const { start, end } = this.#extent;
    if (name === 'office:spreadsheet') this.place ??= { start, end: start };
    if (name === listName && this.#path.at(-1) === 'office:spreadsheet' && this.place?.end !== end)
      this.listEnd = start;
    if (name === 'table:named-range' && this.#begun !== undefined) {
      this.known = { start: this.#begun, end };
      this.#begun = undefined;
    }
  }
}
