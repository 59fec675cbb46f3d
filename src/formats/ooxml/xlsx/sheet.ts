import type { Cell } from '../../../content/index.ts';
import { type CellAddress, findRange, maxColumns, maxRows, type Span } from '../../../places/index.ts';
import type { Zip } from '../../package/zip.ts';
import { type Area, type Corners, type FullArea, type SheetData, type SheetRow, UsedCells } from '../../sheets/area.ts';
import { movedFormula } from '../../sheets/formulas.ts';
import { readXml } from '../../xml/read-xml.ts';
import { namespaces } from '../opc.ts';
import { type CellContext, numberCell, typedCell, WaitingCells } from './cells.ts';
import { type CellSink, type Formula, scanRows } from './row-scanner.ts';
import { TailFacts } from './sheet-frame.ts';
import { ByteStream, readSummary, readTail, type SheetHead, skipToRow } from './sheet-stream.ts';

/** What was read of a sheet's part, its shared strings still waiting. */
export interface ReadSheet extends SheetData {
  readonly waiting: WaitingCells;
  /** The used range as the sheet itself states it (ISO/IEC 29500-1, 18.3.1.35). */
  readonly stated: FullArea | undefined;
  /** What the elements behind the cells say, when that was asked for. */
  readonly tail: TailFacts;
}

export interface SheetRequest {
  readonly area: Area;
  readonly context: CellContext;
  /** Whether what stands behind the cells is needed, now that they are known. */
  readonly wantsTail: (data: SheetData) => boolean;
}

/** Reads the area's cells and stops behind its last row, unless more is needed. */
export async function readSheet(
  zip: Zip,
  part: string,
  { area, context, wantsTail }: SheetRequest,
): Promise<ReadSheet> {
  const entry = zip.find(part);
  if (!entry) return nothing(context);
  const stream = new ByteStream(zip.chunks(entry));
  const head = await readSummary(stream, part);
  const facts = await readHeadFacts(head, part);
  const sink = new CellCollector(area, context);
  if (!head.isEmpty) {
    const before = area.rows && area.rows.from > 1 ? await skipToRow(stream, area.rows.from) : 0;
    await scanRows(stream, head.prefix, before, sink);
  }
  if (sink.unresolved.size > 0) await resolveShared(zip, part, head, sink);
  const data: SheetData = { ...facts, rows: sink.rows, used: sink.used, last: sink.last };
  const tail = wantsTail(data) ? await readTail(stream) : '';
  await stream.close();
  return {
    ...data,
    waiting: sink.waiting,
    stated: facts.stated,
    tail: new TailFacts(head.text, head.prefix, tail, part),
  };
}

/** How far the cells of a sheet reach; none is held. */
export async function readCorners(zip: Zip, part: string): Promise<Corners> {
  const used = new UsedCells();
  const entry = zip.find(part);
  if (entry) {
    const stream = new ByteStream(zip.chunks(entry));
    const { isEmpty, prefix } = await readSummary(stream, part);
    let row = 0;
    const use = (column: number): void => used.add(row, column);
    const sink: CellSink = {
      row: (number) => {
        row = number;
        return true;
      },
      number: use,
      string: use,
      cell: (column, _type, _style, value, formula) => {
        if (value !== '' || formula) use(column);
      },
    };
    if (!isEmpty) await scanRows(stream, prefix, 0, sink);
    await stream.close();
  }
  return { used, last: { row: used.bottom, column: used.right } };
}

const nothing = ({ display }: CellContext): ReadSheet => ({
  rows: [],
  used: new UsedCells(),
  hiddenColumns: [],
  columnWidths: new Map(),
  last: { row: 0, column: 0 },
  waiting: new WaitingCells(display),
  stated: undefined,
  tail: new TailFacts('', '', '', ''),
});

/** The stated used range alone; costs no more than the sheet's first bytes. */
export async function readStated(zip: Zip, part: string): Promise<FullArea | undefined> {
  const entry = zip.find(part);
  if (!entry) return undefined;
  const stream = new ByteStream(zip.chunks(entry));
  const { stated } = await readHeadFacts(await readSummary(stream, part), part);
  await stream.close();
  return stated;
}

async function readHeadFacts({ text }: SheetHead, part: string) {
  const hiddenColumns: Span[] = [];
  const columnWidths = new Map<number, number>();
  let stated: FullArea | undefined;
  const chunk = async function* (): AsyncGenerator<Uint8Array> {
    yield new TextEncoder().encode(text);
  };
  await readXml(chunk(), part, namespaces, {
    open(name, { ref, min, max, hidden, width }) {
      if (name === 'dimension' && ref?.includes(':')) {
        const { rows, columns } = findRange(ref) ?? {};
        if (rows && columns) stated = { rows, columns };
      }
      if (name !== 'col') return;
      const span = { from: Number(min), to: Math.min(Number(max), maxColumns) };
      if (hidden === '1' || hidden === 'true') hiddenColumns.push(span);
      if (Number(width) > 0)
        for (let column = span.from; column <= Math.min(span.to, span.from + 255); column++)
          columnWidths.set(column, characterPoints(Number(width)));
    },
    close: () => {},
    done: () => true, // the rest of the part follows elsewhere
  });
  return { hiddenColumns, columnWidths, stated };
}

/** Column widths count digits of the default font (18.3.1.13): 7 pixels each at 11 points, of 0.75 points. */
const characterPoints = (characters: number): number => Math.round(characters * 7 * 0.75 * 100) / 100;

interface SharedFormula {
  readonly text: string;
  readonly at: CellAddress;
}

class CellCollector implements CellSink {
  readonly rows: SheetRow[] = [];
  readonly waiting: WaitingCells;
  readonly used = new UsedCells();
  readonly last = { row: 0, column: 0 };
  /** Cells whose shared formula stands above what was read, by its number. */
  readonly unresolved = new Map<string, { readonly cells: Cell[]; readonly column: number; readonly row: number }[]>();
  readonly #shared = new Map<string, SharedFormula>();
  readonly #context: CellContext;
  readonly #rows: Span;
  readonly #columns: Span;
  #row: SheetRow | undefined;
  #cells: Cell[] = [];
  #number = 0;

  constructor({ rows, columns }: Area, context: CellContext) {
    this.#context = context;
    this.waiting = new WaitingCells(context.display);
    this.#rows = rows ?? { from: 1, to: maxRows };
    this.#columns = columns ?? { from: 1, to: maxColumns };
  }

  row(number: number, hidden: boolean): boolean {
    if (number > this.#rows.to) {
      this.last.row = this.#rows.to; // there is more below
      return false;
    }
    this.#number = number;
    this.#row = undefined;
    if (number < this.#rows.from) return true;
    this.#cells = [];
    this.#row = { number, cells: this.#cells, hidden };
    this.rows.push(this.#row);
    return true;
  }

  number(column: number, style: number, value: number): void {
    this.#touch(column);
    if (!this.#isWanted(column)) return;
    this.#cells[column] = numberCell(value, this.#context.styleOf(style), this.#context.display);
    this.#use(this.#number, column);
  }

  string(column: number, style: number, index: number): void {
    this.#touch(column);
    if (!this.#isWanted(column)) return;
    this.#cells[column] = this.waiting.cell(index, this.#context.styleOf(style));
    this.#use(this.#number, column);
  }

  /** Something stands here, asked for or not. */
  #touch(column: number): void {
    this.last.row = this.#number;
    if (column > this.last.column) this.last.column = column;
  }

  #isWanted(column: number): boolean {
    return this.#row !== undefined && column >= this.#columns.from && column <= this.#columns.to;
  }

  cell(column: number, type: string, style: number, value: string, formula: Formula | undefined): void {
    const row = this.#row;
    if (value !== '' || formula) this.#touch(column);
    if (!row || column < this.#columns.from || column > this.#columns.to) {
      if (formula?.shared !== undefined && formula.text !== '' && row) this.#learn(formula, column, row.number);
      return;
    }
    const words = formula && this.#formulaText(formula, column, row);
    const cell = typedCell(type, style, value, words, this.#context, this.waiting);
    row.cells[column] = cell;
    if (cell.type !== 'empty') this.#use(row.number, column);
  }

  #use(row: number, column: number): void {
    this.used.add(row, column);
    this.#context.budget.addCell();
  }

  #learn({ shared = '', text }: Formula, column: number, row: number): void {
    this.#shared.set(shared, { text, at: { column, row } });
  }

  #formulaText(formula: Formula, column: number, row: SheetRow): string | undefined {
    if (formula.shared === undefined) return formula.text || undefined;
    if (formula.text !== '') {
      this.#learn(formula, column, row.number);
      return formula.text;
    }
    const known = this.#shared.get(formula.shared);
    if (known) return movedFormula(known.text, known.at, { column, row: row.number });
    const waiting = this.unresolved.get(formula.shared) ?? [];
    waiting.push({ cells: row.cells, column, row: row.number });
    this.unresolved.set(formula.shared, waiting);
    return undefined;
  }
}

/** Shared formulas that stand above the area: the rows in front of it are read for them alone. */
async function resolveShared(zip: Zip, part: string, head: SheetHead, { unresolved }: CellCollector): Promise<void> {
  const entry = zip.find(part);
  if (!entry) return;
  const stream = new ByteStream(zip.chunks(entry));
  await readSummary(stream, part);
  let row = 0;
  await scanRows(stream, head.prefix, 0, {
    row(number) {
      row = number;
      return unresolved.size > 0;
    },
    number: () => {},
    string: () => {},
    cell(column, _type, _style, _value, formula) {
      const waiting = formula?.shared === undefined || formula.text === '' ? undefined : unresolved.get(formula.shared);
      if (!waiting || formula?.shared === undefined) return;
      unresolved.delete(formula.shared);
      for (const { cells, ...at } of waiting) {
        const cell = cells[at.column];
        if (cell) cells[at.column] = { ...cell, formula: movedFormula(formula.text, { column, row }, at) };
      }
    },
  });
  await stream.close();
}
