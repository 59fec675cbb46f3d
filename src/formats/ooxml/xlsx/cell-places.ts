import { type CellAddress, findAddress, type Span } from '../../../places/index.ts';
import type { Extent } from '../../trace.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { rowNumbered } from './row-scanner.ts';

/** A cell in the source of a sheet (ISO/IEC 29500-1, 18.3.1.4). */
export interface CellPlace extends CellAddress, Extent {
  /** The end of its start tag. */
  readonly tagEnd: number;
  /** Whether something is in it. */
  readonly filled: boolean;
  readonly hiddenRow: boolean;
  readonly formula: FormulaPlace | undefined;
  /** The element of its value or result. */
  readonly value: Extent | undefined;
}

/** A cell's formula (18.3.1.40), and the range between its tags. */
export interface FormulaPlace extends Extent {
  readonly attributes: Attributes;
  readonly text: string;
  readonly innerStart: number;
  readonly innerEnd: number;
}

type Open<T> = { -readonly [K in keyof T]: T[K] };

/** Hears the cells of a sheet and where they stand; only those with a formula where that is all that is wanted. */
export class CellPlaces implements XmlHandler {
  readonly cells: CellPlace[] = [];
  readonly hiddenColumns: Span[] = [];
  readonly #formulasOnly: boolean;
  #extent = { start: 0, end: 0 };
  #row = 0;
  #hiddenRow = false;
  #column = 0;
  #cell: Open<CellPlace> | undefined;
  #formula: Open<FormulaPlace> | undefined;
  #valueStart = 0;

  constructor({ formulasOnly = false } = {}) {
    this.#formulasOnly = formulasOnly;
  }

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
    if (name === 'c') this.#openCell(a);
    else if (this.#cell) this.#openInside(this.#cell, name, a);
  }

  #openCell(a: Attributes): void {
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
      formula: undefined,
      value: undefined,
    };
  }

  #openInside(cell: Open<CellPlace>, name: string, attributes: Attributes): void {
    cell.filled = true;
    const { start, end } = this.#extent;
    if (name === 'v') this.#valueStart = start;
    if (name === 'f') this.#formula = { attributes, text: '', start, end, innerStart: end, innerEnd: end };
  }

  text(words: string): void {
    if (this.#formula) this.#formula.text += words;
  }

  close(name: string): void {
    const { start, end } = this.#extent;
    const cell = this.#cell;
    if (!cell) return;
    if (name === 'v') cell.value = { start: this.#valueStart, end };
    if (name === 'f' && this.#formula) {
      cell.formula = { ...this.#formula, innerEnd: start, end };
      this.#formula = undefined;
    }
    if (name !== 'c') return;
    cell.end = end;
    if (!this.#formulasOnly || cell.formula) this.cells.push(cell);
    this.#cell = undefined;
  }
}

const isTrue = (value: string | undefined): boolean => value === '1' || value === 'true';
