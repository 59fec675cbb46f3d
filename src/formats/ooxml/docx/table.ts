import type { Block, Table, TableCell } from '../../../content/index.ts';
import type { Attributes } from '../../xml/read-xml.ts';
import { colour, isOn } from './look.ts';
import { type CellLook, saysLastRow, shownShade, type TableStyle, TableStyling } from './table-styles.ts';

interface OpenCell {
  readonly column: number;
  columnSpan: number;
  rowSpan: number;
  merge?: 'restart' | 'continue';
  /** Its own; the automatic one lets nothing of the style show. */
  shade?: string;
  look?: CellLook | undefined;
  blocks: readonly Block[];
  joinsBefore?: boolean;
}

interface OpenRow {
  readonly cells: OpenCell[];
  nextColumn: number;
  isHeader: boolean;
  isLast?: boolean;
  isDeleted?: boolean;
}

/**
 * One table as it is heard (ISO/IEC 29500-1, 17.4). A vertical merge is told cell by cell there, and as a span of its
 * first cell here: a cell that continues one above lengthens that one and is left out.
 */
export class TableReader {
  readonly #rows: OpenRow[] = [];
  readonly #widths: number[] = [];
  readonly #depth: number;
  #style: TableStyle | undefined;
  #styling: TableStyling | undefined;

  /** `depth` says how many stories were open outside it. */
  constructor(depth: number) {
    this.#depth = depth;
  }

  /** Whether what is heard at a depth of stories stands between its rows or cells. */
  isBetween(depth: number): boolean {
    return depth === this.#depth;
  }

  /** A row that a tracked change deleted. */
  deleteRow(): void {
    const row = this.#rows.at(-1);
    if (row) row.isDeleted = true;
  }

  /** Older files join a cell to the one before it instead of giving it a span (17.4.22). */
  setColumnMerge(attributes: Attributes): void {
    const cell = this.#cell;
    if (cell) cell.joinsBefore = attributes['w:val'] !== 'restart';
  }

  setStyle(style: TableStyle | undefined): void {
    this.#style = style;
    this.#styling = style && new TableStyling(style, {});
  }

  /** Which parts of its style it shows; the style is told before (17.4.59). */
  setShownParts(attributes: Attributes): void {
    this.#styling = this.#style && new TableStyling(this.#style, attributes);
  }

  markLast(attributes: Attributes): void {
    const row = this.#rows.at(-1);
    if (row && saysLastRow(attributes)) row.isLast = true;
  }

  /** What the style of the table makes of the cell that is open. */
  get cellLook(): CellLook | undefined {
    const row = this.#rows.at(-1);
    const cell = this.#cell;
    if (!this.#styling || !row || !cell) return undefined;
    cell.look ??= this.#styling.look({
      row: this.#rows.length - 1,
      column: cell.column,
      columnSpan: cell.columnSpan,
      columns: this.#widths.length,
      isLastRow: row.isLast === true,
    });
    return cell.look;
  }

  addColumn(attributes: Attributes): void {
    this.#widths.push(Number(attributes['w:w']) / 20);
  }

  openRow(): void {
    this.#rows.push({ cells: [], nextColumn: 0, isHeader: false });
  }

  skipColumns(attributes: Attributes): void {
    const row = this.#rows.at(-1);
    const columns = Number.parseInt(attributes['w:val'] ?? '', 10);
    if (row && columns > 0 && columns <= 16_384) row.nextColumn += columns;
  }

  markHeader(attributes: Attributes): void {
    const row = this.#rows.at(-1);
    if (row) row.isHeader = isOn(attributes['w:val']);
  }

  /** What a row leaves free before its first cell (17.4.14) is an empty one here, or all would stand too far in front. */
  openCell(): void {
    const row = this.#rows.at(-1);
    if (!row) return;
    const { cells, nextColumn } = row;
    if (cells.length === 0 && nextColumn > 0) cells.push({ column: 0, columnSpan: nextColumn, rowSpan: 1, blocks: [] });
    cells.push({ column: nextColumn, columnSpan: 1, rowSpan: 1, blocks: [] });
  }

  setColumnSpan(attributes: Attributes): void {
    const cell = this.#cell;
    const span = Number.parseInt(attributes['w:val'] ?? '', 10);
    if (cell && span > 1 && span <= 16_384) cell.columnSpan = span;
  }

  setMerge(attributes: Attributes): void {
    const cell = this.#cell;
    if (cell) cell.merge = attributes['w:val'] === 'restart' ? 'restart' : 'continue';
  }

  setShade(attributes: Attributes): void {
    const cell = this.#cell;
    const fill = colour(attributes['w:fill']);
    if (cell && fill !== undefined) cell.shade = fill;
  }

  closeCell(blocks: readonly Block[]): void {
    const row = this.#rows.at(-1);
    const cell = this.#cell;
    if (!row || !cell) return;
    cell.blocks = blocks;
    cell.look = this.cellLook;
    row.nextColumn = cell.column + cell.columnSpan;
    const before = row.cells.at(-2);
    if (!cell.joinsBefore || !before) return;
    before.columnSpan += cell.columnSpan;
    row.cells.pop();
  }

  finish(): Table | undefined {
    const kept = this.#rows.filter(({ isDeleted }) => !isDeleted);
    joinMerges(kept);
    const rows = kept.map(({ cells }) => ({
      cells: cells.filter(({ merge }) => merge !== 'continue').map(finishCell),
    }));
    const others = kept.findIndex(({ isHeader }) => !isHeader);
    const marked = others < 0 ? kept.length : others;
    const headerRows = marked === 0 && kept.length > 1 && this.#styling?.hasHead ? 1 : marked;
    const hasWidths = this.#widths.length > 0 && this.#widths.every((width) => width > 0);
    if (rows.length === 0) return undefined;
    return {
      type: 'table',
      rows,
      ...(headerRows > 0 && { headerRows }),
      ...(hasWidths && { columnWidths: this.#widths }),
    };
  }

  get #cell(): OpenCell | undefined {
    return this.#rows.at(-1)?.cells.at(-1);
  }
}

function joinMerges(rows: readonly OpenRow[]): void {
  let above = new Map<number, OpenCell>();
  for (const { cells } of rows) {
    const open = new Map<number, OpenCell>();
    for (const cell of cells) {
      const started = cell.merge === 'continue' ? above.get(cell.column) : undefined;
      if (started) started.rowSpan++;
      else if (cell.merge === 'continue') cell.merge = 'restart';
      if (cell.merge) open.set(cell.column, started ?? cell);
    }
    above = open;
  }
}

function finishCell({ blocks, columnSpan, rowSpan, shade, look }: OpenCell): TableCell {
  const background = shownShade(shade, look);
  return {
    blocks,
    ...(columnSpan > 1 && { columnSpan }),
    ...(rowSpan > 1 && { rowSpan }),
    ...(background !== undefined && { background }),
  };
}
