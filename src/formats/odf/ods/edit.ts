import { DrawerError } from '../../../content/index.ts';
import { columnLetters, type Fragment, type Span } from '../../../places/index.ts';
import { type Insertion, type ReadTools, type Source, sourceOf } from '../../format.ts';
import { checkUnsigned, PackageEdit } from '../../package/package-edit.ts';
import { formulaExtended, withColumns } from '../../sheets/appended.ts';
import type { FullArea } from '../../sheets/area.ts';
import { heightForPictures, laidSize } from '../../sheets/content.ts';
import type { Result } from '../../sheets/evaluate.ts';
import {
  cellName,
  type FilledCell,
  type Grid,
  type GridCell,
  type GridRow,
  gridSize,
  needsWrap,
} from '../../sheets/layout.ts';
import { type FormulaCell, leaning, recompute } from '../../sheets/recompute.ts';
import { type EditableSheet, readSheetCells, type SheetLanding } from '../../sheets/sheet-format.ts';
import { applyEdits, type TextEdit } from '../../text-edits.ts';
import { Declarations } from '../../xml/element.ts';
import { scanXmlText } from '../../xml/scan-xml.ts';
import { tagAttributes, tagName, tagWith } from '../../xml/source-tree.ts';
import { escapeAttribute, escapeText, xmlSource } from '../../xml/write-xml.ts';
import { addPicturePart, ContentHead, lastPicture, manifestPart } from '../additions.ts';
import { pictureFrame } from '../odt/write-blocks.ts';
import { blankPackage, contentPart, namespaces, openOdf, writingNamespaces } from '../package.ts';
import { a1Formula } from './addresses.ts';
import { cellSource, RowHeights } from './cell-source.ts';
import { extendContent, type RowAbove, rowAbove } from './extend.ts';
import { findOdsPlace, openOds } from './read.ts';
import {
  type CellPlace,
  type RowPlace,
  type SheetPlaces,
  SheetPlacesReader,
  withoutWords,
  withRepeats,
} from './remove.ts';
import { CellFormats } from './target-formats.ts';

/**
 * A sheet whose cells change. Rows and cells that stand for several are told apart as far as needed. Formulas lose the results
 * that lean on these, and get new ones where they can be told for certain; else they are worked out on opening.
 */
export async function editOds(
  source: Source,
  fragment: Fragment,
  { grid: laid, insertion }: SheetLanding,
  tools: ReadTools,
): Promise<EditableSheet> {
  const zip = await openOdf(source, tools);
  checkUnsigned(zip);
  const { sheet: found, ...area } = await findOdsPlace(zip, fragment);
  const edit = new PackageEdit(source, zip, tools);
  await edit.load(contentPart, manifestPart);
  const text = edit.findText(contentPart) ?? '';
  const reader = new SheetPlacesReader();
  scanXmlText(text, contentPart, namespaces, reader);
  const sheet = reader.sheets.find(({ name }) => name === found.name);
  if (!sheet) throw new DrawerError('not-found/sheet-unknown', { name: found.name });
  const corner = { row: area.rows?.from ?? lastRow(sheet) + 1, column: area.columns?.from ?? firstShown(sheet) };
  const covered = withCovered(laid);
  return {
    name: sheet.name,
    isProtected: sheet.isProtected,
    corner,
    taken: async () => filledCells(text, sheet, covered, corner),
    async save(target, pasted, told) {
      const head = new ContentHead(text);
      const formats = new CellFormats(head);
      const above = pasted && rowAbove(text, sheet, pasted);
      const goingOn = new Map<GridCell, string>();
      const wider = above && above.formulas.size > 0 ? withFormulas(covered, corner, above, goingOn) : covered;
      const goesOn = wider !== covered && filledCells(text, sheet, wider, corner).length === 0;
      const grid = goesOn ? wider : covered;
      const validations = above?.validations;
      const filler = new SheetFiller({ text, head, sheet, formats, insertion, edit, goingOn, validations });
      const edits = filler.edits(grid, corner);
      const columns = goesOn ? [...(above?.formulas.keys() ?? [])] : [];
      for (const column of columns) told.push(formulaExtended(cellName({ row: corner.row - 1, column })));
      const pastedText = applyEdits(text, edits);
      const filled = pasted ? extendContent(pastedText, withColumns(pasted, columns), told) : pastedText;
      const stale = staleCells(filled, sheet.name, target);
      const withResults = async (results: ReadonlyMap<FormulaCell, Result>): Promise<Uint8Array> => {
        const whole = applyEdits(filled, resultEdits(filled, stale, results));
        // Nothing before the body has changed, so positions there are still right.
        edit.setText(contentPart, applyEdits(whole, head.withStyles(formats.made + filler.heights.made)));
        return edit.bytes();
      };
      const bytes = await withResults(new Map());
      const become = sourceOf(bytes, source.name);
      const results = await recompute(stale, (place, hidden) =>
        readSheetCells({ open: openOds }, become, place, { ...tools, hidden }),
      );
      return results.size > 0 ? withResults(results) : bytes;
    },
  };
}

/** A spreadsheet of one empty sheet. */
export const blankSpreadsheet = (sheetName: string): Uint8Array =>
  blankPackage({
    kind: 'spreadsheet',
    body: `<table:table table:name="${escapeAttribute(sheetName)}"><table:table-column/><table:table-row><table:table-cell/></table:table-row></table:table>`,
    styles: '<office:styles><style:style style:name="Default" style:family="table-cell"/></office:styles>',
  });

const lastRow = ({ rows }: SheetPlaces): number =>
  rows.reduce(
    (last, { rows: span, cells }) =>
      cells.some(({ filled, holdsMore }) => filled || holdsMore) ? Math.max(last, span.to) : last,
    0,
  );

const firstShown = ({ hiddenColumns }: SheetPlaces): number =>
  hiddenColumns.reduce((column, { from, to }) => (from <= column && column <= to ? to + 1 : column), 1);

interface Corner {
  readonly row: number;
  readonly column: number;
}

const rowAt = (sheet: SheetPlaces, number: number): RowPlace | undefined =>
  sheet.rows.find(({ rows }) => rows.from <= number && number <= rows.to);
const cellAt = (row: RowPlace, column: number): CellPlace | undefined =>
  row.cells.find(({ columns }) => columns.from <= column && column <= columns.to);

function filledCells(text: string, sheet: SheetPlaces, grid: Grid, corner: Corner): FilledCell[] {
  return grid.flatMap(({ offset, cells }) =>
    cells.flatMap((cell, across): FilledCell[] => {
      const place = { row: corner.row + offset, column: corner.column + across };
      const row = cell === undefined ? undefined : rowAt(sheet, place.row);
      const there = row && cellAt(row, place.column);
      if (there && text.startsWith('<table:covered-table-cell', there.start) && cell?.type !== 'empty')
        throw new DrawerError('unsupported/cell-merged', { cell: `${columnLetters(place.column)}${place.row}` });
      if (!there?.filled) return [];
      const words = there.words.map(({ start, end }) => text.slice(start, end).replace(/<[^<>]*>/g, '')).join(' ');
      return [{ ...place, words }];
    }),
  );
}

/** The grid with the formulas that go on beside it; cells in use there stay. */
function withFormulas(grid: Grid, corner: Corner, { formulas }: RowAbove, goingOn: Map<GridCell, string>): Grid {
  return grid.map(({ offset, cells }) => {
    const line = [...cells];
    for (const [column, source] of formulas) {
      const cell: GridCell = { type: 'empty' };
      goingOn.set(cell, source(corner.row + offset));
      line[column - corner.column] = cell;
    }
    return { offset, cells: Array.from(line) };
  });
}

interface FillContext {
  readonly text: string;
  readonly head: ContentHead;
  readonly sheet: SheetPlaces;
  readonly formats: CellFormats;
  readonly insertion: Insertion;
  /** Takes the pictures' bytes. */
  readonly edit: PackageEdit;
  /** The sources of formula cells that go on beside the rows. */
  readonly goingOn: ReadonlyMap<GridCell, string>;
  /** The rules for what may be entered, by column. */
  readonly validations: ReadonlyMap<number, string> | undefined;
}

/** Stands where a neighbour's span reaches. */
const coveredCell: GridCell = { type: 'empty' };

/** The grid with a covered cell at each place that a span reaches, in rows of their own where the grid has none. */
function withCovered(grid: Grid): Grid {
  const rows = new Map(grid.map(({ offset, cells }) => [offset, [...cells]]));
  let covers = false;
  for (const { offset, cells } of grid)
    cells.forEach((cell, column) => {
      const { rowSpan = 1, columnSpan = 1 } = cell ?? {};
      if (rowSpan === 1 && columnSpan === 1) return;
      covers = true;
      for (let down = offset; down < Math.min(offset + rowSpan, gridSize(grid).rows); down++) {
        const line = rows.get(down) ?? [];
        rows.set(down, line);
        for (let across = column; across < Math.min(column + columnSpan, cells.length); across++)
          if (down > offset || across > column) line[across] = coveredCell;
      }
    });
  return covers
    ? [...rows].sort(([one], [other]) => one - other).map(([offset, cells]) => ({ offset, cells: Array.from(cells) }))
    : grid;
}

const ruleName = 'table:content-validation-name';
const spanNames = ['table:number-columns-spanned', 'table:number-rows-spanned'];
const attributeSource = (name: string, value: string | undefined): string =>
  value === undefined ? '' : ` ${name}="${escapeAttribute(value)}"`;

const spansOf = ({ columnSpan = 1, rowSpan = 1 }: GridCell): string =>
  columnSpan > 1 || rowSpan > 1
    ? ` table:number-columns-spanned="${columnSpan}" table:number-rows-spanned="${rowSpan}"`
    : '';

/** The edits that put cells into rows; those below the last row are made. */
class SheetFiller {
  readonly heights: RowHeights;
  readonly #context: FillContext;
  readonly #text: string;
  readonly #sheet: SheetPlaces;
  readonly #declarations: Declarations;
  /** The number of the last picture; looked for with the first. */
  #pictures: number | undefined;

  constructor(context: FillContext) {
    const { text } = context;
    this.#context = context;
    this.#text = text;
    this.#sheet = context.sheet;
    this.heights = new RowHeights(context.head);
    this.#declarations = new Declarations(text, writingNamespaces);
  }

  edits(grid: Grid, corner: Corner): TextEdit[] {
    const byRow = new Map<RowPlace, GridRow[]>();
    const below: string[] = [];
    let end = this.#sheet.rows.at(-1)?.rows.to ?? 0;
    for (const gridRow of grid) {
      const number = corner.row + gridRow.offset;
      const row = rowAt(this.#sheet, number);
      if (row) {
        const rows = byRow.get(row) ?? [];
        rows.push(gridRow);
        byRow.set(row, rows);
        continue;
      }
      const gap = number - end - 1;
      if (gap > 0)
        below.push(
          `<table:table-row${gap > 1 ? ` table:number-rows-repeated="${gap}"` : ''}><table:table-cell/></table:table-row>`,
        );
      const tag = this.heights.atLeast('<table:table-row>', heightForPictures(gridRow.cells));
      below.push(`${tag}${this.#newCells(gridRow.cells, corner.column)}</table:table-row>`);
      end = number;
    }
    const edits = [...byRow].map(([row, rows]) => this.#rowEdit(row, rows, corner));
    if (below.length > 0) edits.push({ start: this.#sheet.end, end: this.#sheet.end, replacement: below.join('') });
    return edits;
  }

  #rowEdit(row: RowPlace, rows: readonly GridRow[], corner: Corner): TextEdit {
    const open = this.#text.slice(row.start, row.tagEnd);
    const inside = this.#text.slice(row.tagEnd, row.end);
    const copies = (count: number): string =>
      count <= 0 ? '' : withRepeats(open, 'number-rows-repeated', count) + inside;
    let at = row.rows.from;
    let replacement = '';
    for (const { offset, cells: line } of rows) {
      const number = corner.row + offset;
      replacement +=
        copies(number - at) +
        this.heights.atLeast(withRepeats(open, 'number-rows-repeated', 1), heightForPictures(line)) +
        this.#cells(row, line, corner.column);
      at = number + 1;
    }
    return { start: row.start, end: row.end, replacement: replacement + copies(row.rows.to - at + 1) };
  }

  /** The cells of one row up to its end tag, and that. */
  #cells(row: RowPlace, line: GridRow['cells'], first: number): string {
    let source = '';
    let at = row.tagEnd;
    for (const cell of row.cells) {
      source += this.#text.slice(at, cell.start) + this.#cell(cell, line, first);
      at = cell.end;
    }
    const last = row.cells.at(-1)?.columns.to ?? 0;
    const close = this.#text.slice(at, row.end);
    if (last >= first + line.length - 1) return source + close;
    const rest = line.slice(Math.max(0, last + 1 - first));
    return source + this.#newCells(rest, Math.max(first, last + 1), last) + close;
  }

  #cell(place: CellPlace, line: GridRow['cells'], first: number): string {
    const { start, tagEnd, end, columns } = place;
    const kept = withoutWords(this.#text, place).replace(/<\/[^<>]*>$/, '');
    const open = this.#text.slice(start, tagEnd);
    const inside = this.#text.slice(tagEnd, end);
    const copies = (count: number): string =>
      count <= 0 ? '' : withRepeats(open, 'number-columns-repeated', count) + inside;
    let at = columns.from;
    let source = '';
    for (let column = columns.from; column <= columns.to && column < first + line.length; column++) {
      const cell = column < first ? undefined : line[column - first];
      if (!cell) continue;
      source += copies(column - at) + this.#written(cell, column, open, kept);
      at = column + 1;
    }
    return source + copies(columns.to - at + 1);
  }

  #newCells(line: GridRow['cells'], first: number, last = 0): string {
    let source = '';
    let blank = first - last - 1;
    const space = (): string =>
      blank > 0 ? `<table:table-cell${blank > 1 ? ` table:number-columns-repeated="${blank}"` : ''}/>` : '';
    for (const [index, cell] of line.entries()) {
      if (cell) source += space() + this.#written(cell, first + index, '');
      blank = cell ? 0 : blank + 1;
    }
    return source + space();
  }

  /** `kept` is what the cell holds beside words, such as a comment. */
  #written(cell: GridCell, column: number, before: string, kept = ''): string {
    const { formats, insertion, goingOn, validations } = this.#context;
    const source = goingOn.get(cell);
    if (source !== undefined) return source;
    const attributes = tagAttributes(before);
    const base = attributes['table:style-name'];
    const wraps = insertion.spread === 'cell' || needsWrap(cell);
    const style = formats.find(base, cell, wraps, insertion.style === 'original');
    if (cell === coveredCell) return '<table:covered-table-cell/>';
    const spans = spansOf(cell) || spanNames.map((name) => attributeSource(name, attributes[name])).join('');
    const rule = attributeSource(ruleName, attributes[ruleName] ?? validations?.get(column));
    return cellSource(cell, style, spans + rule, kept + this.#frame(cell));
  }

  /** The picture over a cell, which moves with it (9.2.4, 10.4.2). */
  #frame({ picture }: GridCell): string {
    const { edit, insertion } = this.#context;
    const address = picture && addPicturePart(edit, picture, insertion.media);
    if (!picture || address === undefined) return '';
    this.#pictures = (this.#pictures ?? lastPicture(this.#text)) + 1;
    const facts = { name: `Picture ${this.#pictures}`, ...laidSize(picture), alt: picture.alt };
    return this.#declarations.on(xmlSource([pictureFrame(address, facts)]));
  }
}

interface Stale extends FormulaCell, Pick<CellPlace, 'start' | 'tagEnd' | 'end'> {}

/** The formulas that lean on cells that have changed, directly or through others. */
function staleCells(text: string, changed: string, area: FullArea): Stale[] {
  const reader = new SheetPlacesReader();
  scanXmlText(text, contentPart, namespaces, reader);
  const isIn = (at: number, { from, to }: Span): boolean => from <= at && at <= to;
  const formulas = reader.sheets.flatMap(({ name, rows }) =>
    rows.flatMap((row) =>
      row.cells.flatMap(({ formula, columns, start, tagEnd, end }): Stale[] => {
        const isNew = name === changed && isIn(row.rows.from, area.rows) && isIn(columns.from, area.columns);
        return formula === undefined || isNew
          ? []
          : [
              {
                sheet: name,
                row: row.rows.from,
                column: columns.from,
                formula: a1Formula(formula),
                start,
                tagEnd,
                end,
              },
            ];
      }),
    ),
  );
  return leaning(formulas, changed, area);
}

const noValue = Object.fromEntries(
  ['value', 'date-value', 'time-value', 'boolean-value', 'string-value'].map((name) => [`office:${name}`, undefined]),
);

/** The cells of formulas with what these give, or nothing (ISO/IEC 26300-1, 19.385): then it is worked out on opening. */
const resultEdits = (text: string, stale: readonly Stale[], results: ReadonlyMap<FormulaCell, Result>): TextEdit[] =>
  stale.map((cell): TextEdit => {
    const { start, tagEnd, end } = cell;
    const bare = tagWith(text.slice(start, tagEnd), noValue).replace(/\s*\/>$/, '>');
    const name = tagName(bare);
    const result = results.get(cell);
    if (result === undefined || (typeof result === 'object' && 'error' in result))
      return { start, end, replacement: `${bare}</${name}>` };
    const type = typeof result === 'number' ? 'float' : typeof result === 'boolean' ? 'boolean' : 'string';
    const before = tagAttributes(bare)['office:value-type'] ?? '';
    // Money and percentages are numbers of a kind of their own, and stay that.
    const isOfKind = typeof result === 'number' && ['float', 'percentage', 'currency'].includes(before);
    const attribute = type === 'float' ? 'value' : type === 'boolean' ? 'boolean-value' : 'string-value';
    const typed = tagWith(bare, {
      ...(!isOfKind && { 'office:value-type': type, 'calcext:value-type': undefined }),
      [`office:${attribute}`]: String(result),
    });
    return { start, end, replacement: `${typed}<text:p>${escapeText(String(result))}</text:p></${name}>` };
  });
