import type { Extent } from '../../trace.ts';
import { rootTag } from '../../xml/element.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { scanXmlText } from '../../xml/scan-xml.ts';
import { SourceTree } from '../../xml/source-tree.ts';
import { namespaces } from '../opc.ts';
import type { Page } from './write-state.ts';

/** What the cells of a table look like, told on themselves, as some programs do in place of a table's style. */
export interface CellLook {
  readonly borders: string;
  readonly shading: string;
  readonly bold: boolean;
}

export interface TableLook {
  readonly head: CellLook;
  readonly body: CellLook;
  /** The margins inside cells. */
  readonly margins: string;
}

/** The page of a section, and where the section's properties begin. */
export interface Section {
  readonly start: number;
  readonly page: Page | undefined;
}

/** Extents of a table's cells and of the margins in them. */
interface TablePlaces {
  first: string | undefined;
  last: string;
  margins: string;
  hasBorders: boolean;
}

/** What inserting has to know of the main part of a document as a whole, heard in one pass over it. */
export class BodyFacts implements XmlHandler {
  /** How many paragraphs have each instance of a numbering (ISO/IEC 29500-1, 17.9.18). */
  readonly numberingUses = new Map<string, number>();
  /** How many tables have each style. */
  readonly tableStyles = new Map<string, number>();
  readonly sections: Section[] = [];
  /** The highest id of a drawing, and of a change, comment or bookmark: ids have to differ. */
  lastDrawing = 0;
  lastChange = 0;
  /** Where the marks of bookmarks are, by their ids, and the ids by their names (17.13.6). */
  readonly bookmarks = new Map<string, Extent[]>();
  readonly bookmarkIds = new Map<string, string>();
  /** In front of the properties of the last section, or of the end of the body (17.2.2). */
  bodyEnd: number;
  readonly #text: string;
  readonly #rootTag: string;
  readonly #open: { readonly name: string; readonly start: number; readonly attributes: Attributes }[] = [];
  #start = 0;
  #end = 0;
  #table: TablePlaces | undefined;
  #look: TablePlaces | undefined;
  #section: Record<string, Attributes> | undefined;

  constructor(text: string, part: string) {
    this.#text = text;
    this.#rootTag = rootTag(text);
    this.bodyEnd = text.length;
    scanXmlText(text, part, namespaces, this);
  }

  /** The table style that most tables of the document have. */
  get tableStyle(): string | undefined {
    return [...this.tableStyles].sort((one, other) => other[1] - one[1])[0]?.[0];
  }

  /** The look of the first table whose cells tell theirs. */
  get tableLook(): TableLook | undefined {
    const { first, last = '', margins = '' } = this.#look ?? {};
    const head = first === undefined ? undefined : this.#cellLook(first);
    return head && head.borders !== '' ? { head, body: this.#cellLook(last), margins } : undefined;
  }

  /** The source of an element of the part as a tree. */
  fragment(source: string): SourceTree {
    return new SourceTree(source, 'document.xml', namespaces, { rootTag: this.#rootTag });
  }

  #noteBookmark(attributes: Attributes, start: number): void {
    const id = attributes['w:id'] ?? '';
    this.bookmarks.set(id, [...(this.bookmarks.get(id) ?? []), { start, end: this.#end }]);
  }

  #cellLook(cell: string): CellLook {
    const tree = this.fragment(cell);
    const properties = tree.first('w:tcPr');
    const source = (name: string): string => {
      const element = properties && tree.first(name, properties);
      return element ? tree.source(element) : '';
    };
    const bold = tree.all('w:b').some(({ attributes }) => !/^(?:0|false|off)$/.test(attributes['w:val'] ?? ''));
    return { borders: source('w:tcBorders'), shading: source('w:shd'), bold };
  }

  at(start: number, end: number): void {
    this.#start = start;
    this.#end = end;
  }

  open(name: string, a: Attributes): void {
    const around = this.#open.at(-1)?.name;
    this.#open.push({ name, start: this.#start, attributes: a });
    this.lastChange = Math.max(this.lastChange, idOf(a['w:id']));
    const value = a['w:val'];
    if (name === 'w:numId' && value !== undefined) count(this.numberingUses, value);
    if (name === 'w:tblStyle' && value !== undefined) count(this.tableStyles, value);
    if (name === 'w:bookmarkStart' && a['w:name'] !== undefined) this.bookmarkIds.set(a['w:name'], a['w:id'] ?? '');
    if (name === 'wp:docPr') this.lastDrawing = Math.max(this.lastDrawing, idOf(a.id));
    if (name === 'w:tbl') this.#table ??= { first: undefined, last: '', margins: '', hasBorders: false };
    if (name === 'w:tcBorders' && this.#table) this.#table.hasBorders = true;
    if (name === 'w:sectPr') this.#section = {};
    else if (this.#section && around === 'w:sectPr') this.#section[name] = a;
    // Content ends before the section properties, unless something invalid follows them.
    if (around === 'w:body') this.bodyEnd = name === 'w:sectPr' ? this.#start : Number.POSITIVE_INFINITY;
  }

  close(name: string): void {
    const { start = 0, attributes = {} } = this.#open.pop() ?? {};
    const source = (): string => this.#text.slice(start, this.#end);
    if (name === 'w:bookmarkStart' || name === 'w:bookmarkEnd') this.#noteBookmark(attributes, start);
    if (name === 'w:body') this.bodyEnd = Math.min(this.bodyEnd, this.#start);
    if (name === 'w:sectPr') {
      this.sections.push({ start, page: pageOf(this.#section ?? {}) });
      this.#section = undefined;
    }
    if (!this.#table) return;
    const isOutermost = !this.#open.some((each) => each.name === 'w:tbl');
    if (name === 'w:tc' && this.#open.filter((each) => each.name === 'w:tbl').length === 1) {
      this.#table.first ??= source();
      this.#table.last = source();
    }
    if (name === 'w:tblCellMar' && this.#table.margins === '') this.#table.margins = source();
    if (name !== 'w:tbl' || !isOutermost) return;
    if (this.#table.hasBorders) this.#look ??= this.#table;
    this.#table = undefined;
  }
}

const idOf = (value: string | undefined): number =>
  value !== undefined && /^\d{1,9}$/.test(value) ? Number(value) : 0;
const count = (uses: Map<string, number>, key: string): unknown => uses.set(key, (uses.get(key) ?? 0) + 1);

/** The room on a section's page: of its columns, if it has several (17.6.17, 17.6.4). */
function pageOf(section: Readonly<Record<string, Attributes>>): Page | undefined {
  const points = (element: string, name: string): number =>
    (Number.parseInt(section[element]?.[`w:${name}`] ?? '0', 10) || 0) / 20;
  const [width, height] = [points('w:pgSz', 'w'), points('w:pgSz', 'h')];
  const margin = (points('w:pgMar', 'left') + points('w:pgMar', 'right')) / 2;
  const columns = Math.max(1, Number.parseInt(section['w:cols']?.['w:num'] ?? '1', 10) || 1);
  if (width < 100) return undefined;
  return columns === 1 ? { width, height, margin } : { width: (width - 2 * margin) / columns - 18, height, margin: 0 };
}
