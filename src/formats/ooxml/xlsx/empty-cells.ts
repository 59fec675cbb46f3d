import { DrawerError } from '../../../content/index.ts';
import { type CellAddress, columnLetters, findAddress, findRange, type Span } from '../../../places/index.ts';
import type { Area, FullArea } from '../../sheets/area.ts';
import { movedFormula } from '../../sheets/formulas.ts';
import type { TextEdit } from '../../text-edits.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { scanXmlText } from '../../xml/scan-xml.ts';
import { namespaces } from '../opc.ts';
import { rowNumbered } from './row-scanner.ts';
import type { Sheet } from './workbook.ts';

export interface EmptiedCell extends CellAddress {
  readonly sheet: Sheet;
  readonly hadFormula: boolean;
}

interface Options {
  /** Whether hidden rows and columns are emptied too. */
  readonly hidden: boolean;
  readonly keep: readonly FullArea[];
}

/** The edits that take the values of an area's cells out of a sheet's source. */
export function emptyCells(
  source: string,
  sheet: Sheet,
  area: Area,
  options: Options,
): { edits: TextEdit[]; emptied: EmptiedCell[] } {
  const reader = new CellPlaces();
  scanXmlText(source, sheet.part, namespaces, reader);
  const isChosen = (cell: CellPlace): boolean =>
    inside(cell.row, area.rows) &&
    inside(cell.column, area.columns) &&
    (options.hidden || !(cell.hiddenRow || reader.hiddenColumns.some((span) => inside(cell.column, span)))) &&
    !options.keep.some(({ rows, columns }) => inside(cell.row, rows) && inside(cell.column, columns));
  const chosen = reader.cells.filter((cell) => cell.filled && isChosen(cell));
  const left = reader.cells.filter((cell) => cell.formula && !isChosen(cell));
  refuseParts(chosen, area);
  return {
    edits: [...chosen.map((cell) => emptied(source, cell)), ...promoted(chosen, left)],
    emptied: chosen.map(({ row, column, formula }) => ({ sheet, row, column, hadFormula: formula !== undefined })),
  };
}

const inside = (number: number, span: Span | undefined): boolean =>
  span === undefined || (span.from <= number && number <= span.to);

interface CellPlace extends CellAddress {
  readonly start: number;
  /** The end of its start tag. */
  readonly tagEnd: number;
  end: number;
  filled: boolean;
  readonly hiddenRow: boolean;
  formula?: { readonly attributes: Attributes; readonly start: number; end: number; text: string };
}

class CellPlaces implements XmlHandler {
  readonly cells: CellPlace[] = [];
  readonly hiddenColumns: Span[] = [];
  #extent = { start: 0, end: 0 };
  #row = 0;
  #hiddenRow = false;
  #column = 0;
  #cell: CellPlace | undefined;
  #inFormula = false;

  at(start: number, end: number): void {
    this.#extent = { start, end };
  }

  open(name: string, a: Attributes): void {
    if (name === 'col' && isTrue(a.hidden)) this.hiddenColumns.push({ from: Number(a.min), to: Number(a.max) });
    if (name === 'row') {
      this.#row = rowNumbered(a.r, this.#row);
      this.#hiddenRow = isTrue(a.hidden);
      this.#column = 0;
    }
    if (name === 'c') {
      this.#column = findAddress(a.r ?? '')?.column ?? this.#column + 1;
      const { start, end } = this.#extent;
      this.#cell = {
        row: this.#row,
        column: this.#column,
        start,
        tagEnd: end,
        end,
        filled: false,
        hiddenRow: this.#hiddenRow,
      };
    } else if (this.#cell) {
      this.#cell.filled = true;
      this.#inFormula = name === 'f';
      if (name === 'f') this.#cell.formula = { attributes: a, ...this.#extent, text: '' };
    }
  }

  text(words: string): void {
    if (this.#inFormula && this.#cell?.formula) this.#cell.formula.text += words;
  }

  close(name: string): void {
    if (name === 'f' && this.#cell?.formula) {
      this.#inFormula = false;
      this.#cell.formula.end = this.#extent.end;
    }
    if (name !== 'c' || !this.#cell) return;
    this.#cell.end = this.#extent.end;
    this.cells.push(this.#cell);
    this.#cell = undefined;
  }
}

const isTrue = (value: string | undefined): boolean => value === '1' || value === 'true';

/** The cell with its place and look alone. */
function emptied(source: string, { start, tagEnd, end }: CellPlace): TextEdit {
  const tag = source.slice(start, tagEnd).replace(/\s(?:t|cm|vm|ph)\s*=\s*(?:"[^"]*"|'[^']*')/g, '');
  return { start, end, replacement: tag.replace(/\s*\/?>$/, '/>') };
}

/** Some formulas fill several cells together (18.3.1.40, `array` and `dataTable`); none of these can go alone. */
function refuseParts(chosen: readonly CellPlace[], area: Area): void {
  for (const { formula } of chosen) {
    const { t, ref = '' } = formula?.attributes ?? {};
    const range = t === 'array' || t === 'dataTable' ? findRange(ref) : undefined;
    if (!range?.rows || !range.columns) continue;
    const { rows, columns } = range;
    const isWhole =
      [rows.from, rows.to].every((row) => inside(row, area.rows)) &&
      [columns.from, columns.to].every((column) => inside(column, area.columns));
    if (!isWhole) throw new DrawerError('unsupported/formula-fills-several', { cells: ref });
  }
}

/** Where the cell that holds a shared formula goes, the first of those left that share it holds it from now on. */
function promoted(chosen: readonly CellPlace[], left: readonly CellPlace[]): TextEdit[] {
  return chosen.flatMap((holder): TextEdit[] => {
    const { t, si } = holder.formula?.attributes ?? {};
    if (t !== 'shared' || si === undefined || !holder.formula?.text) return [];
    const sharers = left.filter(({ formula }) => formula?.attributes.si === si && formula.text === '');
    const [first] = sharers;
    if (!first?.formula) return [];
    const rows = sharers.map(({ row }) => row);
    const columns = sharers.map(({ column }) => column);
    const corner = (pick: (...numbers: number[]) => number): string =>
      `${columnLetters(pick(...columns))}${pick(...rows)}`;
    const words = movedFormula(holder.formula.text, holder, first)
      .replaceAll('&', '&amp;')
      .replaceAll('<', '&lt;')
      .replaceAll('>', '&gt;');
    const { start, end } = first.formula;
    return [
      {
        start,
        end,
        replacement: `<f t="shared" ref="${corner(Math.min)}:${corner(Math.max)}" si="${si}">${words}</f>`,
      },
    ];
  });
}
