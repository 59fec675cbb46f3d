import type { CellsFragment, Span } from '../../../places/index.ts';
import { findAddress, findRange, maxColumns, maxRows } from '../../../places/index.ts';
import type { Zip } from '../../package/zip.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { namespaces } from '../namespaces.ts';
import { readPart } from '../opc.ts';
import { StringItem } from './strings.ts';

/** A cell as the sheet part has it (ISO/IEC 29500-1, 18.3.1.4). */
export interface StoredCell {
  readonly row: number;
  readonly column: number;
  readonly type: string;
  readonly style: number;
  /** The text of its value; for shared strings an index. */
  value: string;
  formula: string;
}

/** The rows and columns asked for; an absent pair means all. */
export type Area = Pick<CellsFragment, 'columns' | 'rows'>;

export interface SheetPart {
  /** Cells of the area, in reading order. */
  readonly cells: readonly StoredCell[];
  /** Hidden rows and columns, by number. */
  readonly hiddenRows: ReadonlySet<number>;
  readonly hiddenColumns: readonly Span[];
  readonly columnWidths: ReadonlyMap<number, number>;
  /** The last row and column that hold something, as far as the sheet was read. */
  readonly lastRow: number;
  readonly lastColumn: number;
}

/** Reads the area's cells and stops behind its last row. */
export async function readSheet(zip: Zip, part: string, area: Area): Promise<SheetPart> {
  const reader = new SheetReader(area);
  await readPart(zip, part, namespaces, reader);
  return reader;
}

class SheetReader implements XmlHandler, SheetPart {
  readonly cells: StoredCell[] = [];
  readonly hiddenRows = new Set<number>();
  readonly hiddenColumns: Span[] = [];
  readonly columnWidths = new Map<number, number>();
  lastRow = 0;
  lastColumn = 0;
  readonly #rows: Span;
  readonly #columns: Span;
  readonly #inline = new StringItem();
  #row = 0;
  #column = 0;
  #cell: StoredCell | undefined;
  #target: 'value' | 'formula' | undefined;
  #done = false;

  constructor({ rows, columns }: Area) {
    this.#rows = rows ?? { from: 1, to: maxRows };
    this.#columns = columns ?? { from: 1, to: maxColumns };
  }

  done(): boolean {
    return this.#done;
  }

  open(name: string, attributes: Attributes): void {
    if (this.#done) return;
    switch (name) {
      case 'c':
        return this.#openCell(attributes);
      case 'v':
        this.#target = 'value';
        return;
      case 'f':
        this.#target = 'formula';
        return;
      case 'row':
        return this.#openRow(attributes);
      case 'col':
        return this.#openColumn(attributes);
      default:
        this.#inline.open(name);
    }
  }

  text(words: string): void {
    if (!this.#cell) return;
    if (this.#target) this.#cell[this.#target] += words;
    else this.#inline.text(words);
  }

  close(name: string): void {
    if (name === 'v' || name === 'f') this.#target = undefined;
    else if (name === 'is' && this.#cell) this.#cell.value = this.#inline.take();
    else if (name === 'c') this.#closeCell();
    else this.#inline.close(name);
  }

  /** Rows and cells may leave their address out: then they follow the one before. */
  #openRow({ r, hidden }: Attributes): void {
    this.#row = r === undefined ? this.#row + 1 : Number(r);
    this.#column = 0;
    if (this.#row > this.#rows.to) this.#done = true;
    else if (hidden === '1' || hidden === 'true') this.hiddenRows.add(this.#row);
  }

  #openColumn({ min, max, hidden, width }: Attributes): void {
    const span = { from: Number(min), to: Math.min(Number(max), maxColumns) };
    if (hidden === '1' || hidden === 'true') this.hiddenColumns.push(span);
    if (Number(width) > 0)
      for (let column = span.from; column <= Math.min(span.to, span.from + 255); column++)
        this.columnWidths.set(column, characterPoints(Number(width)));
  }

  #openCell({ r, s, t }: Attributes): void {
    const address = r === undefined ? undefined : findAddress(r);
    this.#column = address?.column ?? this.#column + 1;
    const isWanted =
      this.#row >= this.#rows.from && this.#column <= this.#columns.to && this.#column >= this.#columns.from;
    this.#cell = isWanted
      ? { row: this.#row, column: this.#column, type: t ?? 'n', style: Number(s ?? 0), value: '', formula: '' }
      : undefined;
  }

  #closeCell(): void {
    const cell = this.#cell;
    this.#cell = undefined;
    this.lastColumn = Math.max(this.lastColumn, this.#column);
    this.lastRow = Math.max(this.lastRow, this.#row);
    if (cell) this.cells.push(cell);
  }
}

/** Column widths count digits of the default font (18.3.1.13): 7 pixels each at 11 points, of 0.75 points. */
const characterPoints = (characters: number): number => Math.round(characters * 7 * 0.75 * 100) / 100;

// --- Merged areas ----------------------------------------------------------------------------------------------------

export type MergedArea = Required<Area>;

/**
 * The merged areas (18.3.1.55) that touch the area. They stand behind all the cells, so this is only asked when some cell
 * of the area is empty; the cells are then passed over as bytes, not read as XML.
 */
export async function readMerges(zip: Zip, part: string, area: MergedArea): Promise<MergedArea[]> {
  const entry = zip.find(part);
  if (!entry) return [];
  const merges: MergedArea[] = [];
  const decoder = new TextDecoder();
  let text = '';
  for await (const tail of afterCells(zip.chunks(entry))) {
    text += decoder.decode(tail, { stream: true });
    for (const [, reference = ''] of text.matchAll(
      /<(?:[\w.-]+:)?mergeCell\s[^>]*?ref\s*=\s*["']([A-Z0-9:$]{1,32})["'][^>]*>/g,
    )) {
      const found = findRange(reference);
      if (found?.columns && found.rows && overlaps(found.columns, area.columns) && overlaps(found.rows, area.rows))
        merges.push({ columns: found.columns, rows: found.rows });
    }
    text = text.slice(text.lastIndexOf('>') + 1);
  }
  return merges;
}

const overlaps = (one: Span, other: Span): boolean => one.from <= other.to && other.from <= one.to;

/** The letter `h`: rare among cells, so that looking for it finds the end tag of `sheetData` quickly. */
const rareLetter = 0x68;
const marker = [...'sheetData'].map((letter) => letter.charCodeAt(0));
const letterAt = 1;

/** The bytes behind the end of the cells. */
async function* afterCells(chunks: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
  let carried = new Uint8Array(0);
  let found = false;
  for await (const chunk of chunks) {
    if (found) {
      yield chunk;
      continue;
    }
    const bytes = new Uint8Array(carried.length + chunk.length);
    bytes.set(carried);
    bytes.set(chunk, carried.length);
    const end = findEndTag(bytes);
    found = end >= 0;
    if (found) yield bytes.subarray(end);
    carried = bytes.slice(-64);
  }
}

/** Where `</sheetData` or `</prefix:sheetData` is; -1 when it is not there. */
function findEndTag(bytes: Uint8Array): number {
  for (let at = bytes.indexOf(rareLetter); at >= 0; at = bytes.indexOf(rareLetter, at + 1)) {
    const start = at - letterAt;
    if (!marker.every((letter, index) => bytes[start + index] === letter)) continue;
    const before = String.fromCharCode(...bytes.subarray(Math.max(0, start - 40), start));
    if (/<\/(?:[\w.-]+:)?$/.test(before)) return start;
  }
  return -1;
}
