import { type Cell, isSafeHref, type Picture } from '../../../content/index.ts';
import type { Span } from '../../../places/index.ts';
import { Budget, bounds, checkBound } from '../../bounds.ts';
import { type Area, type FullArea, type SheetData, type SheetRow, UsedCells } from '../../sheets/area.ts';
import type { NamedPlace } from '../../sheets/places.ts';
import type { Extent } from '../../trace.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { FrameReader } from '../odt/frame.ts';
import type { StyleBook } from '../styles.ts';
import { a1Reference } from './addresses.ts';
import { type CellLook, CellLooks, plainCell, typedCell } from './cells.ts';

/** A picture, named by its part, and where its frame stands in the part read, when that is in memory as text. */
export interface FramedPicture {
  readonly picture: Picture;
  readonly extent: Extent;
}

/** One sheet as far as it was asked for. */
export interface OdsSheet extends SheetData {
  readonly name: string;
  readonly hidden: boolean;
  readonly rows: SheetRow[];
  readonly hiddenColumns: Span[];
  readonly columnWidths: Map<number, number>;
  readonly merges: FullArea[];
  readonly pictures: FramedPicture[];
  readonly last: { row: number; column: number };
  comments: number;
}

/** Which cells of which sheets are wanted, or only how far they reach; `undefined` passes the sheet over. */
export type SheetInterest = (name: string) => Interest | undefined;
export interface Interest extends Area {
  readonly onlyCorners?: boolean;
}

/** How many empty cells that say they are repeated still count as cells with a look. */
const mostEmptyRepeats = 256;

const everyColumn: Span = { from: 1, to: Number.POSITIVE_INFINITY };

interface OpenCell {
  readonly attributes: Attributes;
  readonly repeats: number;
  readonly covered: boolean;
  words: string;
  paragraphs: number;
  link: string | undefined;
}

/**
 * Hears the sheets of a spreadsheet (ISO/IEC 26300-1, section 9). A cell or row that says it is repeated is told once; rows
 * and cells that hold nothing cost nothing, however often they repeat.
 */
export class OdsReader implements XmlHandler {
  readonly sheets: OdsSheet[] = [];
  readonly names: NamedPlace[] = [];
  readonly #styles: StyleBook;
  readonly #looks: CellLooks;
  readonly #interest: SheetInterest;
  readonly #isEnough: ((sheet: OdsSheet) => boolean) | undefined;
  #extent: Extent = { start: 0, end: 0 };
  #frameStart = 0;
  #inBody = false;
  #sheet: OdsSheet | undefined;
  #area: Interest | undefined;
  #column = 0;
  #columnStyles: { readonly to: number; readonly style: string | undefined }[] = [];
  #rowNumber = 0;
  #rowRepeats = 1;
  #rowHidden = false;
  #rowStyle: string | undefined;
  #cells: Cell[] = [];
  #hasCells = false;
  #cell: OpenCell | undefined;
  #frame: FrameReader | undefined;
  #skipped = 0;
  #depth = 0;
  /** Filled and empty ones, from the first column on. */
  #count = 0;
  /** How many of them only repeat others. */
  #repeated = 0;
  readonly #budget = new Budget();
  #done = false;

  /** `isEnough` is asked when a sheet has been read as far as its area; then no more is. */
  constructor(styles: StyleBook, interest: SheetInterest, isEnough?: (sheet: OdsSheet) => boolean) {
    this.#styles = styles;
    this.#looks = new CellLooks(styles);
    this.#interest = interest;
    this.#isEnough = isEnough;
  }

  done(): boolean {
    return this.#done;
  }

  at(start: number, end: number): void {
    this.#extent = { start, end };
  }

  open(name: string, a: Attributes): void {
    if (this.#done) return;
    if (!this.#inBody) {
      if (name === 'office:spreadsheet') this.#inBody = true;
      else this.#styles.open(name, a);
      return;
    }
    if (this.#skipped > 0 || skipped.has(name)) {
      if (this.#skipped++ === 0 && name === 'office:annotation' && this.#sheet) this.#sheet.comments++;
      return;
    }
    if (name === 'table:table') this.#openSheet(a);
    else if (name === 'table:named-range') this.#addName(a['table:name'], a['table:cell-range-address']);
    else if (name === 'table:database-range') this.#addName(a['table:name'], a['table:target-range-address']);
    else if (this.#sheet) this.#openInside(name, a);
  }

  take(text: string, at: number): number {
    if (!this.#inBody || this.#depth !== 1 || this.#skipped > 0 || this.#done || this.#cell || !this.#sheet) return -1;
    const plain = readPlainCell(text, at);
    if (!plain) return -1;
    const column = ++this.#column;
    this.#touch(column);
    const { number, style, words } = plain;
    if (this.#isRowWanted()) this.#put(plainCell(number, words, this.#lookOf(style, column)), column, 1);
    return plain.end;
  }

  close(name: string): void {
    if (this.#done) return;
    if (!this.#inBody) return this.#styles.close(name);
    if (this.#skipped > 0) {
      this.#skipped--;
      return;
    }
    switch (name) {
      case 'table:table':
        return this.#closeSheet();
      case 'table:table-row':
        return this.#closeRow();
      case 'table:table-cell':
      case 'table:covered-table-cell':
        return this.#closeCell();
      case 'draw:frame':
        return this.#closeFrame();
      case 'svg:title':
      case 'svg:desc':
        this.#frame?.closeCaption();
    }
  }

  text(words: string): void {
    if (!this.#inBody) this.#styles.text(words);
    else if (
      this.#skipped === 0 &&
      !this.#frame?.hears(words) &&
      this.#cell &&
      this.#cell.paragraphs > 0 &&
      !this.#frame
    )
      this.#cell.words += words.includes('\n') || words.includes('  ') ? words.replace(/[ \t\r\n]+/g, ' ') : words;
  }

  #addName(name: string | undefined, address: string | undefined): void {
    const formula = a1Reference(address ?? '');
    if (name !== undefined && formula !== undefined) this.names.push({ name, formula });
  }

  #openSheet(a: Attributes): void {
    if (this.#depth++ > 0) return; // a table inside a cell of a table
    const name = a['table:name'] ?? '';
    const sheet: OdsSheet = {
      name,
      hidden: this.#styles.find('table', a['table:style-name']).display === false,
      rows: [],
      used: new UsedCells(),
      hiddenColumns: [],
      columnWidths: new Map(),
      merges: [],
      pictures: [],
      last: { row: 0, column: 0 },
      comments: 0,
    };
    this.sheets.push(sheet);
    this.#sheet = sheet;
    this.#area = this.#interest(name);
    this.#column = 0;
    this.#columnStyles = [];
    this.#rowNumber = 0;
  }

  #closeSheet(): void {
    if (--this.#depth > 0) return;
    if (this.#sheet && this.#area && this.#isEnough?.(this.#sheet)) this.#done = true;
    this.#sheet = undefined;
  }

  #openInside(name: string, a: Attributes): void {
    switch (name) {
      case 'table:table-column':
        return this.#openColumn(a);
      case 'table:table-row':
        return this.#openRow(a);
      case 'table:table-cell':
        return this.#openCell(a, false);
      case 'table:covered-table-cell':
        return this.#openCell(a, true);
      case 'draw:frame':
        this.#frame = new FrameReader(a);
        this.#frameStart = this.#extent.start;
        return;
      case 'draw:image':
        return this.#frame?.addImage(a);
      case 'svg:title':
      case 'svg:desc':
        return this.#frame?.openCaption();
      default:
        if (this.#cell && !this.#frame) this.#openWords(this.#cell, name, a);
    }
  }

  #openWords(cell: OpenCell, name: string, a: Attributes): void {
    if (name === 'text:p') {
      if (cell.paragraphs++ > 0) cell.words += '\n';
    } else if (name === 'text:s') cell.words += ' '.repeat(Math.min(Number(a['text:c'] ?? 1) || 1, 10_000));
    else if (name === 'text:tab') cell.words += '\t';
    else if (name === 'text:line-break') cell.words += '\n';
    else if (name === 'text:a' && isSafeHref(a['xlink:href'] ?? '')) cell.link = a['xlink:href'];
  }

  #openColumn(a: Attributes): void {
    const repeats = repeatsOf(a['table:number-columns-repeated']);
    const span = { from: this.#column + 1, to: this.#column + repeats };
    this.#column = span.to;
    this.#columnStyles.push({ to: span.to, style: a['table:default-cell-style-name'] });
    if (isHidden(a)) this.#sheet?.hiddenColumns.push(span);
    const { width } = this.#styles.find('table-column', a['table:style-name']);
    if (width !== undefined)
      for (let column = span.from; column <= Math.min(span.to, span.from + 1023); column++)
        this.#sheet?.columnWidths.set(column, width);
  }

  #openRow(a: Attributes): void {
    this.#rowNumber++;
    this.#rowRepeats = repeatsOf(a['table:number-rows-repeated']);
    this.#rowHidden = isHidden(a);
    this.#rowStyle = a['table:default-cell-style-name'];
    this.#cells = [];
    this.#hasCells = false;
    this.#column = 0;
    const end = this.#area?.rows?.to;
    if (end === undefined || this.#rowNumber <= end || !this.#sheet || !this.#isEnough?.(this.#sheet)) return;
    if (this.#rowRepeats <= mostEmptyRepeats) this.#sheet.last.row = end; // there is more below
    this.#done = true;
  }

  #closeRow(): void {
    const first = this.#rowNumber;
    const last = first + this.#rowRepeats - 1;
    this.#rowNumber = last;
    if (!this.#hasCells || !this.#area || !this.#sheet) return;
    const rows = this.#area.rows ?? { from: 1, to: Number.POSITIVE_INFINITY };
    const from = Math.max(first, rows.from);
    const to = Math.min(last, rows.to);
    if (this.#area.onlyCorners) {
      for (const number of [from, to]) this.#use(number);
      return;
    }
    for (let number = from; number <= to; number++) {
      this.#sheet.rows.push({ number, cells: this.#cells, hidden: this.#rowHidden });
      this.#use(number, this.#budget);
      this.#count += this.#cells.length;
      if (number > first) this.#repeated += this.#cells.length;
      checkBound('places', Math.max(this.#repeated, this.#count - 20 * bounds.cells.most));
    }
  }

  #use(row: number, budget?: Budget): void {
    this.#cells.forEach(({ type }, column) => {
      if (type === 'empty') return;
      this.#sheet?.used.add(row, column);
      budget?.addCell();
    });
  }

  #openCell(a: Attributes, covered: boolean): void {
    this.#cell = {
      attributes: a,
      repeats: repeatsOf(a['table:number-columns-repeated']),
      covered,
      words: '',
      paragraphs: 0,
      link: undefined,
    };
  }

  #closeCell(): void {
    const open = this.#cell;
    this.#cell = undefined;
    if (!open) return;
    const start = this.#column + 1;
    this.#column += open.repeats;
    if (open.words !== '' || open.attributes['office:value-type'] !== undefined) this.#touch(start);
    if (!this.#isRowWanted() || open.covered) return;
    const look = this.#lookOf(open.attributes['table:style-name'], start);
    const cell = typedCell(open.attributes, open.words, look, open.link);
    this.#addMerge(open.attributes, start);
    if (cell.type === 'empty' && (open.repeats > mostEmptyRepeats || Object.keys(cell).length === 1)) return;
    this.#put(cell, start, open.repeats);
  }

  /** Something stands here, asked for or not. */
  #touch(column: number): void {
    const last = this.#sheet?.last;
    if (!last) return;
    last.row = Math.max(last.row, this.#rowNumber);
    last.column = Math.max(last.column, column);
  }

  #isRowWanted(): boolean {
    return this.#area !== undefined && this.#rowNumber + this.#rowRepeats > (this.#area.rows?.from ?? 1);
  }

  #lookOf(style: string | undefined, column: number): CellLook {
    return this.#looks.of(style ?? this.#rowStyle ?? this.#columnStyles.find(({ to }) => to >= column)?.style);
  }

  #put(cell: Cell, start: number, repeats: number): void {
    const { from, to } = this.#area?.columns ?? everyColumn;
    for (let column = Math.max(start, from); column <= Math.min(start + repeats - 1, to); column++)
      this.#cells[column] = cell;
    if (cell.type !== 'empty') this.#repeated += repeats - 1;
    this.#hasCells ||= cell.type !== 'empty' || (this.#cells.length > 0 && this.#rowRepeats <= mostEmptyRepeats);
    checkBound('columns', this.#cells.length);
  }

  #addMerge(a: Attributes, column: number): void {
    const columns = Number(a['table:number-columns-spanned'] ?? 1);
    const rows = Number(a['table:number-rows-spanned'] ?? 1);
    if (columns > 1 || rows > 1)
      this.#sheet?.merges.push({
        rows: { from: this.#rowNumber, to: this.#rowNumber + Math.max(1, rows) - 1 },
        columns: { from: column, to: column + Math.max(1, columns) - 1 },
      });
  }

  #closeFrame(): void {
    const inline = this.#frame?.finish();
    this.#frame = undefined;
    if (!inline) return;
    const { type: _, ...picture } = inline;
    this.#sheet?.pictures.push({ picture, extent: { start: this.#frameStart, end: this.#extent.end } });
  }
}

const skipped = new Set([
  'office:annotation',
  'office:forms',
  'table:content-validations',
  'table:calculation-settings',
  'table:tracked-changes',
  'table:label-ranges',
  'table:data-pilot-tables',
  'table:scenario',
  'office:event-listeners',
  'office:binary-data',
  'text:ruby-text',
]);

/** How many rows or columns an element stands for. */
export const repeatsOf = (value: string | undefined): number =>
  Math.min(Math.max(Math.floor(Number(value ?? 1)) || 1, 1), 1_048_576);

export const isHidden = (a: Attributes): boolean => ['collapse', 'filter'].includes(a['table:visibility'] ?? '');

const _smallerRange = 'Name a smaller range, such as #Sheet1!A1:H200';

/** A cell of words or a number without repeats, spans, formula or marks of its own: most of what large sheets hold. */
export interface PlainCell {
  /** `undefined` where it holds words. */
  readonly number: number | undefined;
  readonly style: string | undefined;
  readonly words: string;
  /** Behind its end tag. */
  readonly end: number;
}

/** As office programs write them; one search of the engine's own takes a fraction of a look at each sign. */
const plain =
  /<table:table-cell(?: table:style-name="([^"&<]*)")? office:value-type="(?:string|float" office:value="([^"<]+))"(?: calcext:value-type="(?:string|float)")?><text:p>([^<&\t\r\n]+)<\/text:p><\/table:table-cell>/y;

/**
 * The cell that begins here, when it is written as office programs write the commonest ones (ISO/IEC 26300-1, 9.1.4);
 * `undefined` when it is any other, or not whole.
 */
export function readPlainCell(text: string, start: number): PlainCell | undefined {
  plain.lastIndex = start;
  const match = plain.exec(text);
  if (!match) return undefined;
  const [, style, value, words = ''] = match;
  const number = value === undefined ? undefined : Number(value);
  if ((number !== undefined && !Number.isFinite(number)) || words.includes('  ')) return undefined;
  return { number, style, words, end: plain.lastIndex };
}
