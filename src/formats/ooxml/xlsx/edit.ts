import { type Cell, cellText, DrawerError, type Gap, type Message, offsets } from '../../../content/index.ts';
import { type Fragment, printRange } from '../../../places/index.ts';
import { type Insertion, type ReadTools, type Source, sourceOf } from '../../format.ts';
import { checkUnsigned } from '../../package/package-edit.ts';
import { type AppendedRows, formulaExtended, withColumns } from '../../sheets/appended.ts';
import { type FullArea, holds, meets, overlaps } from '../../sheets/area.ts';
import { heightForPictures, picturesOf } from '../../sheets/content.ts';
import { movedFormula } from '../../sheets/formulas.ts';
import { cellName, type FilledCell, type Grid, type GridRow, gridSize, needsWrap } from '../../sheets/layout.ts';
import { type EditableSheet, readSheetCells, type SheetLanding } from '../../sheets/sheet-format.ts';
import { applyEdits, type TextEdit } from '../../text-edits.ts';
import { childOf, insertion, SourceTree, tagAttributes, tagWith } from '../../xml/source-tree.ts';
import { escapeText } from '../../xml/write-xml.ts';
import { namespaces, relatedPart } from '../opc.ts';
import { OpcEdit } from '../package-edit.ts';
import { cellSource } from './cell-source.ts';
import { readStrings } from './cells.ts';
import { layPictures } from './drawings.ts';
import { behindRowsEdits, extendWorkbook, repeatedFormulas } from './extend.ts';
import { findLargeSheet } from './large-sheet.ts';
import { beforeNames, behind } from './name-cells.ts';
import { type Book, findPlace, openWorkbook, openXlsx } from './read.ts';
import { SheetFrame } from './sheet-frame.ts';
import { type CellSource, findRows, hasFormulas, type RowSource, type SheetRows } from './sheet-rows.ts';
import { dropCalculations, withFreshResults } from './stale-results.ts';
import { TargetFormats, wantedFormat } from './target-formats.ts';
import { readTables, type Sheet } from './workbook.ts';

/**
 * Edits cells of a sheet. Only the sheet's part changes, and the styles part if a format is missing; formulas to recalculate on
 * opening are marked.
 */
export async function editXlsx(
  source: Source,
  fragment: Fragment,
  { grid, insertion, instead }: SheetLanding,
  tools: ReadTools,
): Promise<EditableSheet> {
  const book = await openWorkbook(source, tools);
  checkUnsigned(book.zip);
  const { sheet, ...area } = await findPlace(book, fragment);
  const stylesPart = relatedPart(book.zip, book.relationships, 'styles');
  const edit = new OpcEdit(source, book.zip, tools);
  const wanted = area.rows && { from: area.rows.from, to: area.rows.from + gridSize(grid).rows - 1 };
  const part = await findLargeSheet(book.zip, sheet.part, wanted);
  await edit.load(part ? undefined : sheet.part, stylesPart, book.main);
  const text = part?.text ?? edit.findText(sheet.part) ?? '';
  const top = area.rows?.from ?? findRows(text, new Set()).last + 1;
  const rows = findRows(text, new Set(grid.map(({ offset }) => top + offset)));
  const frame = new SheetFrame(text, rows, sheet.part);
  const { columns } = frame;
  return {
    name: sheet.name,
    isProtected: frame.isProtected,
    corner: { row: top, column: area.columns?.from ?? columns.firstShown },
    async taken(target) {
      mergesAfter(frame, grid, target, instead);
      checkHeadings(await readTables(book.zip, sheet), grid, target);
      return asShown(source, sheet, target, await filledCells(book, { rows, frame }, grid, target), tools);
    },
    async save(target, pasted, told) {
      const formats = new TargetFormats(stylesPart && edit.findText(stylesPart));
      const goingOn = pasted && !part ? await goOn(book, sheet, text, pasted, told) : undefined;
      const appended = pasted && withColumns(pasted, goingOn ? [...goingOn.formulas.keys()] : []);
      const sheetEdit = new SheetEdit({ book, text, rows, frame, formats, insertion, target, goingOn });
      const pictures = picturesOf(grid, { row: target.rows.from, column: target.columns.from });
      const place = { part: sheet.part, frame };
      const laid = pictures.length > 0 ? await layPictures(edit, book.zip, place, pictures, insertion.media) : [];
      const edits = [
        ...sheetEdit.edits(grid),
        ...frame.withArea(target),
        ...frame.withMerges(mergesAfter(frame, grid, target, instead)),
        ...(appended ? behindRowsEdits(frame, appended, told) : []),
        ...laid,
      ];
      if (part) edit.setBytes(sheet.part, part.edited(edits));
      else edit.setText(sheet.part, applyEdits(text, edits));
      if (stylesPart !== undefined && formats.changed) edit.setText(stylesPart, formats.text);
      if (appended) await extendWorkbook({ edit, book, sheet, rows, frame }, appended, told);
      await keepCalculating({ book, edit, sheet, text, rows, frame }, target);
      const become = told.length > 0 ? await openWorkbook(sourceOf(await edit.bytes(), source.name), tools) : book;
      return withFreshResults(source, become, edit, sheet.name, target, tools);
    },
  };
}

/**
 * Works out which merged areas to add and to remove when a grid lands. Only the first cell of a merged area can hold a value, and
 * merged areas do not overlap (ISO/IEC 29500-1, 18.3.1.55). Those in the way are removed if they lie within `instead`.
 * @throws DrawerError `unsupported` if one cannot be removed
 */
function mergesAfter(
  { merges }: SheetFrame,
  grid: Grid,
  target: FullArea,
  instead: FullArea | undefined,
): { readonly come: readonly FullArea[]; readonly go: readonly FullArea[] } {
  const wanted = mergedAreas(grid, target);
  const inTarget = merges.filter((merge) => meets(merge, target));
  const inWay = inTarget.filter((merge) => {
    const isSame = wanted.some((area) => printRange(area) === printRange(merge));
    const isInWay = wanted.some((area) => meets(area, merge)) || isFilledBehindFirst(merge, grid, target);
    return !isSame && (isInWay || (instead !== undefined && holds(instead, merge)));
  });
  for (const merge of inWay)
    if (!instead || !holds(instead, merge))
      throw new DrawerError('unsupported/cells-merged-into-one', { cells: printRange(merge) });
  const known = new Set(merges.map(printRange));
  return { come: wanted.filter((area) => !known.has(printRange(area))), go: inWay };
}

const isFilledBehindFirst = (merge: FullArea, grid: Grid, target: FullArea): boolean =>
  grid.some(({ offset, cells }) =>
    cells.some((cell, across) => {
      const [row, column] = [target.rows.from + offset, target.columns.from + across];
      const isFirst = row === merge.rows.from && column === merge.columns.from;
      const place = { rows: { from: row, to: row }, columns: { from: column, to: column } };
      return cell !== undefined && cell.type !== 'empty' && !isFirst && holds(merge, place);
    }),
  );

/** A table's headings are the names of its columns (18.5.1.3): another word there breaks it. */
function checkHeadings(tables: Awaited<ReturnType<typeof readTables>>, grid: Grid, target: FullArea): void {
  for (const { name, area, headerRows } of tables) {
    const heading = { from: area.rows.from, to: area.rows.from + headerRows - 1 };
    if (headerRows === 0 || !overlaps(heading, target.rows) || !overlaps(area.columns, target.columns)) continue;
    const from = Math.max(heading.from, target.rows.from) - target.rows.from;
    const isHeading = (offset: number): boolean => offset >= from && offset < from + headerRows;
    if (!grid.some(({ offset, cells }) => isHeading(offset) && cells.some((cell) => cell !== undefined))) continue;
    throw new DrawerError('unsupported/table-headings-in-way', { table: name, row: String(heading.to) });
  }
}

/** Filled cells in the target area. */
async function filledCells(
  { zip, relationships }: Book,
  { rows, frame }: Pick<SheetContext, 'rows' | 'frame'>,
  grid: Grid,
  target: FullArea,
): Promise<FilledCell[]> {
  const taken: (FilledCell & { readonly string?: number })[] = [];
  for (const { offset, cells: line } of grid) {
    const row = rows.found.get(target.rows.from + offset);
    for (const { column, source } of row?.cells ?? []) {
      const isHit = line[column - target.columns.from] !== undefined;
      const shown = isHit ? shownWords(frame, source) : undefined;
      if (row && shown) taken.push({ row: row.number, column, ...shown });
    }
  }
  const strings = new Map(taken.flatMap(({ string }) => (string === undefined ? [] : [[string, '']])));
  await readStrings(zip, relatedPart(zip, relationships, 'sharedStrings'), {
    last: taken.reduce((most, { string = -1 }) => Math.max(most, string), -1),
    waitsFor: (number) => strings.has(number),
    string: (number, words) => strings.set(number, words),
  });
  return taken.map(({ string, ...cell }) =>
    string === undefined ? cell : { ...cell, words: strings.get(string) ?? '' },
  );
}

/** The cells with the words that they show: a date is a number in the source. */
async function asShown(
  source: Source,
  { name }: Sheet,
  target: FullArea,
  taken: readonly FilledCell[],
  tools: ReadTools,
): Promise<readonly FilledCell[]> {
  if (!taken.some(({ words }) => /^-?[\d.]+(?:E[-+]\d+)?$/.test(words))) return taken;
  const { content } = await readSheetCells(
    { open: openXlsx },
    source,
    { kind: 'cells', sheet: name, ...target },
    { ...tools, hidden: true },
  );
  if (content.shape !== 'cells') return taken;
  const indexes = (held: number, gaps: readonly Gap[] | undefined): ReadonlyMap<number, number> =>
    new Map(offsets(held, gaps).map((offset, index) => [offset, index]));
  const rows = indexes(content.rows.length, content.gaps?.rows);
  const columns = indexes(content.rows[0]?.length ?? 0, content.gaps?.columns);
  return taken.map((cell) => {
    const line = content.rows[rows.get(cell.row - target.rows.from) ?? -1];
    const there = line?.[columns.get(cell.column - target.columns.from) ?? -1];
    return there && 'value' in there ? { ...cell, words: cellText(there) } : cell;
  });
}

/** The words or shared string of a cell's source; `undefined` if it is empty. */
function shownWords(
  frame: SheetFrame,
  source: string,
): { readonly words: string; readonly string?: number } | undefined {
  const tree = frame.fragment(source);
  const value = tree.first('v')?.words;
  if (value !== undefined && tree.element?.attributes.t === 's') return { words: '', string: Number(value) };
  const inline = tree.first('is');
  const words =
    value ??
    (inline &&
      tree
        .all('t', inline)
        .map((each) => each.words)
        .join(''));
  if (words === undefined && !tree.first('f')) return undefined;
  return { words: words ?? 'a formula' };
}

/** The merged areas that come with the cells (18.3.1.55), such as `A1:B2`. */
const mergedAreas = (grid: Grid, { rows, columns }: FullArea): FullArea[] =>
  grid.flatMap(({ offset: down, cells }) =>
    cells.flatMap((cell, across): FullArea[] => {
      const { columnSpan = 1, rowSpan = 1 } = cell ?? {};
      if (columnSpan === 1 && rowSpan === 1) return [];
      const [top, left] = [rows.from + down, columns.from + across];
      const bottom = Math.min(top + rowSpan - 1, rows.to);
      const right = Math.min(left + columnSpan - 1, columns.to);
      return [{ rows: { from: top, to: bottom }, columns: { from: left, to: right } }];
    }),
  );

/** Formulas of neighbouring columns, to be continued in appended rows. */
interface GoingOn {
  readonly above: RowSource | undefined;
  readonly formulas: ReadonlyMap<number, string>;
}

async function goOn(
  book: Book,
  sheet: Sheet,
  text: string,
  appended: AppendedRows,
  told: Message[],
): Promise<GoingOn | undefined> {
  const formulas = await repeatedFormulas(book, sheet, text, appended);
  for (const column of formulas.keys()) told.push(formulaExtended(cellName({ row: appended.above, column })));
  return formulas.size > 0
    ? { formulas, above: findRows(text, new Set([appended.above])).found.get(appended.above) }
    : undefined;
}

interface SheetContext {
  readonly book: Book;
  readonly text: string;
  readonly rows: SheetRows;
  readonly frame: SheetFrame;
  readonly formats: TargetFormats;
  readonly insertion: Insertion;
  readonly target: FullArea;
  readonly goingOn: GoingOn | undefined;
}

/** The edits of a sheet's data: cells into the rows that are there, new rows between them. */
class SheetEdit {
  readonly #context: SheetContext;

  constructor(context: SheetContext) {
    this.#context = context;
  }

  edits(grid: Grid): TextEdit[] {
    const { rows, target } = this.#context;
    const edits: TextEdit[] = [];
    const added = new Map<number, string>();
    for (const { offset, cells: line } of grid) {
      const number = target.rows.from + offset;
      const row = rows.found.get(number);
      if (row) edits.push({ start: row.start, end: row.end, replacement: this.#row(row, line) });
      else {
        const at = rows.gaps.get(number) ?? rows.data.end;
        const open = `<${rows.prefix}row r="${number}">`;
        added.set(at, (added.get(at) ?? '') + this.#row({ number, start: 0, end: 0, open, cells: [] }, line));
      }
    }
    return [...edits, ...[...added].map(([at, source]) => this.#added(at, source))];
  }

  /** An empty `sheetData` may be written as one tag. */
  #added(at: number, source: string): TextEdit {
    const { text, rows } = this.#context;
    if (!rows.data.isEmpty) return { start: at, end: at, replacement: source };
    const tag = text.slice(rows.data.start, rows.data.end).replace(/\s*\/>$/, '>');
    return { start: rows.data.start, end: rows.data.end, replacement: `${tag}${source}</${rows.prefix}sheetData>` };
  }

  #wraps(cell: Cell, column: number): boolean {
    return this.#context.insertion.spread === 'cell' || needsWrap(cell, this.#context.frame.columns.width(column));
  }

  /** How many lines a cell's words take. */
  #lines(cell: Cell, column: number): number {
    if (cell.type !== 'text' || !this.#wraps(cell, column)) return 1;
    const width = this.#context.frame.columns.width(column) ?? 12;
    return cell.value.split('\n').reduce((sum, line) => sum + Math.max(1, Math.ceil(line.length / width)), 0);
  }

  #row(row: RowSource, line: GridRow['cells']): string {
    const { rows, target, frame } = this.#context;
    const lines = Math.max(
      1,
      ...line.map((cell, index) => (cell ? this.#lines(cell, target.columns.from + index) : 1)),
    );
    const height = Math.max(lines > 1 ? lines * frame.rowHeight : 0, heightForPictures(line));
    const cells = new Map(row.cells.map((cell) => [cell.column, cell.source]));
    line.forEach((cell, index) => {
      const column = target.columns.from + index;
      if (cell) cells.set(column, this.#cell(row, cells.get(column), column, cell));
    });
    for (const [column, source] of this.#goOn(row))
      if (!cells.has(column) || !shownWords(frame, cells.get(column) ?? '')) cells.set(column, source);
    const sorted = [...cells].sort(([one], [other]) => one - other).map(([, source]) => source);
    return `${spanning(height > 0 ? grown(row.open, height) : row.open, [...cells.keys()])}${sorted.join('')}</${rows.prefix}row>`;
  }

  /** Cells of the row that continue the formulas and formats above it. */
  #goOn({ number }: RowSource): [column: number, source: string][] {
    const { goingOn, rows } = this.#context;
    const above = goingOn?.above;
    return [...(goingOn?.formulas ?? [])].map(([column, formula]) => {
      const source = above?.cells.find((cell) => cell.column === column)?.source ?? '';
      const { s } = tagAttributes(source);
      const style = s === undefined ? '' : ` s="${s}"`;
      const words = movedFormula(formula, { row: above?.number ?? number, column }, { row: number, column });
      const { prefix } = rows;
      return [
        column,
        `<${prefix}c r="${cellName({ row: number, column })}"${style}><${prefix}f>${escapeText(words)}</${prefix}f></${prefix}c>`,
      ];
    });
  }

  #cell(row: RowSource, before: CellSource['source'] | undefined, column: number, cell: Cell): string {
    const { book, rows, formats, insertion } = this.#context;
    const base = Number(tagAttributes(before ?? '').s ?? this.#placeFormat(row, column));
    const wraps = this.#wraps(cell, column);
    const format = formats.find(base, wantedFormat(cell, wraps, insertion.style === 'original'));
    return cellSource(cell, {
      prefix: rows.prefix,
      address: cellName({ row: row.number, column }),
      format,
      epoch1904: book.workbook.epoch1904,
    });
  }

  /** A cell that is not there looks as its row says, or its column (18.3.1.73, 18.3.1.13). */
  #placeFormat(row: RowSource, column: number): number {
    const { customFormat, s } = tagAttributes(row.open);
    if (isTrue(customFormat) && s !== undefined) return Number(s);
    return this.#context.frame.columns.format(column);
  }
}

/** Raises a row without a custom height as its words need (18.3.1.73), up to the maximum height. */
function grown(open: string, height: number): string {
  const { customHeight, ht } = tagAttributes(open);
  if (isTrue(customHeight)) return open;
  return tagWith(open, { ht: String(Math.min(409, Math.max(Number(ht ?? 0), Math.round(height * 10) / 10))) });
}

const isTrue = (value: string | undefined): boolean => value === '1' || value === 'true';

/** Removes the hint of a row's first and last column (18.3.1.73) if it would be wrong. */
function spanning(open: string, columns: readonly number[]): string {
  const [, from = 0, to = 0] = /^(\d+):(\d+)$/.exec(tagAttributes(open).spans ?? '') ?? [];
  const fits = columns.every((column) => Number(from) <= column && column <= Number(to));
  return fits ? open : tagWith(open, { spans: undefined });
}

interface Edited {
  readonly edit: OpcEdit;
  readonly sheet: Sheet;
}

/** Marks formulas for recalculation on opening, and removes overwritten ones from the calculation chain. */
async function keepCalculating(
  { book, edit, sheet, text, rows, frame }: Pick<SheetContext, 'book' | 'text' | 'rows' | 'frame'> & Edited,
  target: FullArea,
): Promise<void> {
  const gone = [...rows.found.values()].flatMap(({ number, cells }) =>
    cells
      .filter(
        ({ column, source }) =>
          overlaps(target.columns, { from: column, to: column }) && hasFormulas(source, rows.prefix),
      )
      .map(({ column }) => ({ sheet, row: number, column, hadFormula: true })),
  );
  checkShared(rows, frame, gone);
  await dropCalculations(edit, book, gone);
  const isCalculated = relatedPart(book.zip, book.relationships, 'calcChain') !== undefined || hasFormulas(text);
  if (isCalculated) edit.setText(book.main, withFullCalculation(edit.findText(book.main) ?? '', book.main));
}

/** Refuses to overwrite a cell whose shared formula (18.3.1.40) serves other cells. */
function checkShared(
  rows: SheetRows,
  frame: SheetFrame,
  gone: readonly { readonly row: number; readonly column: number }[],
): void {
  for (const { row, column } of gone) {
    const source = rows.found.get(row)?.cells.find((cell) => cell.column === column)?.source ?? '';
    if (!source.includes('ref') || frame.fragment(source).first('f')?.attributes.ref === undefined) continue;
    throw new DrawerError('unsupported/formula-shared', { cell: cellName({ row, column }) });
  }
}

/** 18.2.2, in its place among the workbook's elements. */
function withFullCalculation(workbook: string, part: string): string {
  const tree = new SourceTree(workbook, part, namespaces);
  const known = childOf(tree.root, 'calcPr');
  if (known) return tree.edited([tree.setAttributes(known, { fullCalcOnLoad: '1' })]);
  const at = behind(tree, [...beforeNames, 'definedNames']);
  return tree.edited([insertion(at, `<${tree.prefix('')}calcPr fullCalcOnLoad="1"/>`)]);
}
