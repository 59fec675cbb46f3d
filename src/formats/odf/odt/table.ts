import type { Block, Table, TableCell, TableRow } from '../../../content/index.ts';
import { bounds, checkBound } from '../../bounds.ts';
import type { Attributes } from '../../xml/read-xml.ts';
import type { StyleBook } from '../styles.ts';

/** One table as it is heard (ISO/IEC 26300-1, section 9). */
export class OdtTableReader {
  readonly #styles: StyleBook;
  readonly #rows: TableRow[] = [];
  readonly #widths: (number | undefined)[] = [];
  #headerRows = 0;
  #inHeader = false;
  #cells: TableCell[] = [];
  #repeats = 1;
  #look: Omit<TableCell, 'blocks'> = {};
  #cellRepeats = 1;
  /** The number of cells in repeated rows. */
  #repeated = 0;

  constructor(styles: StyleBook) {
    this.#styles = styles;
  }

  addColumn(a: Attributes): void {
    const { width } = this.#styles.find('table-column', a['table:style-name']);
    for (let count = repeats(a['table:number-columns-repeated']); count > 0; count--) this.#widths.push(width);
  }

  openHeader(): void {
    this.#inHeader = true;
  }

  closeHeader(): void {
    this.#inHeader = false;
  }

  openRow(a: Attributes): void {
    this.#cells = [];
    this.#repeats = repeats(a['table:number-rows-repeated']);
  }

  openCell(a: Attributes): void {
    const columnSpan = Number(a['table:number-columns-spanned'] ?? 1);
    const rowSpan = Number(a['table:number-rows-spanned'] ?? 1);
    const { background } = this.#styles.find('table-cell', a['table:style-name']);
    this.#look = {
      ...(columnSpan > 1 && columnSpan <= 1024 && { columnSpan }),
      ...(rowSpan > 1 && rowSpan <= 1_048_576 && { rowSpan }),
      ...(background !== undefined && { background }),
    };
    this.#cellRepeats = repeats(a['table:number-columns-repeated']);
  }

  closeCell(blocks: readonly Block[]): void {
    checkBound('places', this.#cells.length + this.#cellRepeats);
    for (let count = this.#cellRepeats; count > 0; count--) this.#cells.push({ blocks, ...this.#look });
  }

  closeRow(): void {
    if (this.#repeats > 1) this.#repeated += this.#repeats * this.#cells.length;
    checkBound('places', this.#repeated);
    for (let count = this.#repeats; count > 0; count--) this.#rows.push({ cells: this.#cells });
    if (this.#inHeader) this.#headerRows += this.#repeats;
  }

  finish(): Table | undefined {
    if (this.#rows.length === 0) return undefined;
    const widths = this.#widths.filter((width) => width !== undefined);
    return {
      type: 'table',
      rows: this.#rows,
      ...(this.#headerRows > 0 && { headerRows: this.#headerRows }),
      ...(widths.length > 0 && widths.length === this.#widths.length && { columnWidths: widths }),
    };
  }
}

const repeats = (value: string | undefined): number =>
  Math.min(Math.max(Number(value ?? 1) || 1, 1), bounds.repeats.most);
