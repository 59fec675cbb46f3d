import { columnLetters, type Fragment, maxColumns, maxRows, printFragment, type Span } from '../../../places/index.ts';
import type { ReadTools, Removed, Source } from '../../format.ts';
import { checkUnsigned } from '../../package/package-edit.ts';
import { replaceParts } from '../../package/replace.ts';
import { partBytes } from '../../package/zip.ts';
import type { Area } from '../../sheets/area.ts';
import { chosenPictures, pointingNotes } from '../../sheets/content.ts';
import { namesCells } from '../../sheets/formulas.ts';
import { checkSheetMayChange } from '../../sheets/layout.ts';
import { decodeExactly, encodeText } from '../../text/encoding.ts';
import { applyEdits, type TextEdit } from '../../text-edits.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { scanXmlText } from '../../xml/scan-xml.ts';
import { tagAttributes, tagPrefix, tagWith } from '../../xml/source-tree.ts';
import { contentPart, namespaces, openOdf } from '../package.ts';
import { StyleBook } from '../styles.ts';
import { a1Formula } from './addresses.ts';
import { findOdsPlace, framedPictures } from './read.ts';
import { isHidden, repeatsOf } from './sheet-reader.ts';

/** The spreadsheet with a place's cells emptied, or its pictures taken off: their looks stay, and so does every other part. */
export async function removeOds(
  source: Source,
  fragments: readonly Fragment[],
  tools: ReadTools = {},
): Promise<Removed> {
  const zip = await openOdf(source, tools);
  checkUnsigned(zip);
  const decoded = decodeExactly((await partBytes(zip, contentPart)) ?? new Uint8Array());
  let { text } = decoded;
  const pointing: string[] = [];
  const asked = fragments.flatMap((fragment) => (fragment.kind === 'picture' ? [fragment] : []));
  for (const fragment of fragments) {
    if (fragment.kind === 'picture') continue;
    const emptied = emptyOdsCells(text, await findAreas(fragment), tools.hidden === true);
    text = applyEdits(text, emptied.edits); // cells keep their places, so that the next is found as before
    pointing.push(...emptied.pointing);
  }
  if (asked.length > 0) {
    const all = framedPictures(text);
    const chosen = new Set(asked.flatMap((fragment) => chosenPictures(all, fragment)));
    text = applyEdits(
      text,
      [...chosen].map(({ extent }) => ({ ...extent, replacement: '' })),
    );
  }
  const bytes = await replaceParts(source, zip, new Map([[contentPart, encodeText(text, decoded)]]), tools);
  return { bytes, notes: pointingNotes(pointing) };

  async function findAreas(fragment: Fragment): Promise<(sheet: string, hidden: boolean) => Area | undefined> {
    if (fragment.kind === 'whole') return (_, hidden) => (hidden && !tools.hidden ? undefined : {});
    const { sheet, ...area } = await findOdsPlace(zip, fragment);
    return (name) => (name === sheet.name ? area : undefined);
  }
}

export interface CellPlace {
  readonly start: number;
  readonly tagEnd: number;
  end: number;
  readonly columns: Span;
  readonly formula: string | undefined;
  filled: boolean;
  /** Whether something else is in it, such as a picture or a comment. */
  holdsMore: boolean;
  /** Where its paragraphs stand. */
  readonly words: { readonly start: number; readonly end: number }[];
}

export interface RowPlace {
  readonly start: number;
  readonly tagEnd: number;
  end: number;
  readonly rows: Span;
  readonly hidden: boolean;
  readonly cells: CellPlace[];
}

export interface SheetPlaces {
  /** Where the sheet’s end tag begins. */
  end: number;
  readonly name: string;
  readonly hidden: boolean;
  /** Whether nobody wants it changed (ISO/IEC 26300-1, 19.713). */
  readonly isProtected: boolean;
  readonly hiddenColumns: Span[];
  readonly rows: RowPlace[];
}

/** The edits that take the values of areas' cells out of the source, and the cells whose formulas point at them. */
export function emptyOdsCells(
  source: string,
  areaOf: (sheet: string, hidden: boolean) => Area | undefined,
  includesHidden: boolean,
): { edits: TextEdit[]; pointing: string[] } {
  const reader = new SheetPlacesReader();
  scanXmlText(source, contentPart, namespaces, reader);
  const edits: TextEdit[] = [];
  const pointing: string[] = [];
  for (const sheet of reader.sheets) {
    const area = areaOf(sheet.name, sheet.hidden);
    if (!area) continue;
    checkSheetMayChange(sheet);
    for (const row of sheet.rows) {
      if (row.hidden && !includesHidden) continue;
      const edit = rowEdit(source, row, area, includesHidden ? [] : sheet.hiddenColumns);
      if (edit) edits.push(edit);
    }
    const whole = { rows: area.rows ?? { from: 1, to: maxRows }, columns: area.columns ?? { from: 1, to: maxColumns } };
    for (const other of reader.sheets) pointing.push(...pointingIn(other, sheet.name, whole));
  }
  return { edits, pointing };
}

function pointingIn(sheet: SheetPlaces, emptied: string, area: Required<Area>): string[] {
  const isOwn = sheet.name === emptied;
  return sheet.rows.flatMap(({ rows, cells }) =>
    cells
      .filter(({ formula, columns }) => {
        const isInside = isOwn && overlap(rows, area.rows) && overlap(columns, area.columns);
        return formula !== undefined && !isInside && namesCells(a1Formula(formula), isOwn, emptied, area);
      })
      .map(
        ({ columns }) =>
          `${printFragment({ kind: 'cells', sheet: sheet.name })}${columnLetters(columns.from)}${rows.from}`,
      ),
  );
}

const overlap = (one: Span, other: Span | undefined): Span | undefined => {
  const from = Math.max(one.from, other?.from ?? 1);
  const to = Math.min(one.to, other?.to ?? Number.POSITIVE_INFINITY);
  return from <= to ? { from, to } : undefined;
};

/** A row that stands for several is told apart: those before the area, those in it with their cells emptied, those behind. */
function rowEdit(source: string, row: RowPlace, area: Area, hiddenColumns: readonly Span[]): TextEdit | undefined {
  const rows = overlap(row.rows, area.rows);
  if (!rows) return undefined;
  const cells = row.cells.filter(({ filled, columns }) => filled && overlap(columns, area.columns));
  const cellEdits = cells.flatMap((cell) => cellEdit(source, cell, area, hiddenColumns));
  if (cellEdits.length === 0) return undefined;
  const repeated = (count: number, inside: string): string =>
    count <= 0 ? '' : withRepeats(source.slice(row.start, row.tagEnd), 'number-rows-repeated', count) + inside;
  const plain = source.slice(row.tagEnd, row.end);
  let emptied = '';
  let at = row.tagEnd;
  for (const { start, end, replacement } of cellEdits) {
    emptied += source.slice(at, start) + replacement;
    at = end;
  }
  emptied += source.slice(at, row.end);
  return {
    start: row.start,
    end: row.end,
    replacement:
      repeated(rows.from - row.rows.from, plain) +
      repeated(rows.to - rows.from + 1, emptied) +
      repeated(row.rows.to - rows.to, plain),
  };
}

/** The same with a cell that stands for several. */
function cellEdit(source: string, cell: CellPlace, area: Area, hiddenColumns: readonly Span[]): TextEdit[] {
  const chosen = overlap(cell.columns, area.columns);
  if (!chosen || hiddenColumns.some((span) => overlap(chosen, span))) return [];
  const tag = source.slice(cell.start, cell.tagEnd);
  const inner = source.slice(cell.tagEnd, cell.end);
  const copies = (count: number, open: string, inside: string): string =>
    count <= 0 ? '' : withRepeats(open, 'number-columns-repeated', count) + inside;
  const left = withoutWords(source, cell);
  const values = Object.keys(tagAttributes(tag)).filter((name) => valueNames.test(name));
  const bare = tagWith(tag, Object.fromEntries(values.map((name) => [name, undefined])));
  return [
    {
      start: cell.start,
      end: cell.end,
      replacement:
        copies(chosen.from - cell.columns.from, tag, inner) +
        copies(chosen.to - chosen.from + 1, bare, left) +
        copies(cell.columns.to - chosen.to, tag, inner),
    },
  ];
}

/** The attributes that tell a cell's value, in whatever namespace. */
const valueNames = /:(?:value-type|(?:date-|time-|boolean-|string-)?value|currency|formula)$/;

/** What is in a cell but for its paragraphs, with its end tag. */
export function withoutWords(source: string, { tagEnd, end, words }: CellPlace): string {
  const gaps = [{ start: tagEnd, end: tagEnd }, ...words];
  return gaps.map((gap, index) => source.slice(gap.end, gaps[index + 1]?.start ?? end)).join('');
}

/** The tag of a row or cell, repeated `count` times. */
export function withRepeats(tag: string, name: string, count: number): string {
  return tagWith(tag, { [`${tagPrefix(tag)}${name}`]: count === 1 ? undefined : String(count) });
}

export class SheetPlacesReader implements XmlHandler {
  readonly sheets: SheetPlaces[] = [];
  readonly #styles = new StyleBook();
  #inBody = false;
  #extent = { start: 0, end: 0 };
  #sheet: SheetPlaces | undefined;
  #row: RowPlace | undefined;
  #cell: CellPlace | undefined;
  #wordsFrom = -1;
  #nested = 0;
  #column = 0;
  #rowNumber = 0;

  at(start: number, end: number): void {
    this.#extent = { start, end };
  }

  open(name: string, a: Attributes): void {
    if (!this.#inBody) {
      if (name === 'office:spreadsheet') this.#inBody = true;
      else this.#styles.open(name, a);
      return;
    }
    if (this.#cell) {
      if (this.#nested++ > 0) return;
      if (name === 'text:p') this.#wordsFrom = this.#extent.start;
      else this.#cell.holdsMore = true;
      return;
    }
    const { start, end } = this.#extent;
    switch (name) {
      case 'table:table': {
        const hidden = this.#styles.find('table', a['table:style-name']).display === false;
        const isProtected = a['table:protected'] === 'true';
        this.#sheet = { name: a['table:name'] ?? '', hidden, isProtected, hiddenColumns: [], rows: [], end };
        this.sheets.push(this.#sheet);
        this.#column = 0;
        this.#rowNumber = 0;
        return;
      }
      case 'table:table-column': {
        const columns = spanOf(this.#column, a['table:number-columns-repeated']);
        this.#column = columns.to;
        if (isHidden(a)) this.#sheet?.hiddenColumns.push(columns);
        return;
      }
      case 'table:table-row': {
        const rows = spanOf(this.#rowNumber, a['table:number-rows-repeated']);
        this.#rowNumber = rows.to;
        this.#column = 0;
        this.#row = { start, tagEnd: end, end, rows, hidden: isHidden(a), cells: [] };
        this.#sheet?.rows.push(this.#row);
        return;
      }
      case 'table:table-cell':
      case 'table:covered-table-cell': {
        const columns = spanOf(this.#column, a['table:number-columns-repeated']);
        this.#column = columns.to;
        const filled = a['office:value-type'] !== undefined || a['table:formula'] !== undefined;
        this.#cell = {
          start,
          tagEnd: end,
          end,
          columns,
          formula: a['table:formula'],
          filled,
          holdsMore: false,
          words: [],
        };
        this.#row?.cells.push(this.#cell);
      }
    }
  }

  close(name: string): void {
    if (!this.#inBody) return this.#styles.close(name);
    const { end } = this.#extent;
    if (this.#cell && this.#nested > 0) {
      if (--this.#nested > 0 || this.#wordsFrom < 0) return;
      this.#cell.words.push({ start: this.#wordsFrom, end });
      this.#cell.filled = true;
      this.#wordsFrom = -1;
    } else if (this.#cell && (name === 'table:table-cell' || name === 'table:covered-table-cell')) {
      this.#cell.end = end;
      this.#cell = undefined;
    } else if (name === 'table:table-row' && this.#row) this.#row.end = end;
    else if (name === 'table:table' && this.#sheet) this.#sheet.end = this.#extent.start;
  }

  text(words: string): void {
    if (!this.#inBody) this.#styles.text(words);
  }
}

const spanOf = (before: number, repeats: string | undefined): Span => {
  return { from: before + 1, to: before + repeatsOf(repeats) };
};
