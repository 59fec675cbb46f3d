import type { Span } from '../../../places/index.ts';

interface ColumnSource {
  readonly span: Span;
  readonly tag: string;
}

/** What a sheet's source says of its columns (ISO/IEC 29500-1, 18.3.1.13). */
export class SheetColumns {
  readonly #sources: readonly ColumnSource[];

  constructor(text: string) {
    const head = text.slice(0, Math.max(0, text.search(/<(?:[\w.-]+:)?sheetData[\s/>]/)));
    this.#sources = [...head.matchAll(/<(?:[\w.-]+:)?col\s[^<>]*>/g)].map(([tag]) => ({
      span: { from: numberIn(tag, 'min'), to: numberIn(tag, 'max') },
      tag,
    }));
  }

  /** The first column that is not hidden. */
  get firstShown(): number {
    return this.#sources.reduce((column, { span: { from, to }, tag }) => {
      const isHidden = /\shidden=["'](?:1|true)["']/.test(tag);
      return isHidden && from <= column && column <= to ? to + 1 : column;
    }, 1);
  }

  /** How many characters a column shows, in fonts of usual width; `undefined` where the sheet does not say. */
  width(column: number): number | undefined {
    const width = this.#number(column, 'width');
    return width > 0 ? width * 1.1 : undefined;
  }

  /** The index of the format that cells of a column have. */
  format(column: number): number {
    return this.#number(column, 'style');
  }

  #number(column: number, name: string): number {
    const source = this.#sources.find(({ span: { from, to } }) => from <= column && column <= to);
    return source ? numberIn(source.tag, name) : 0;
  }
}

/** An attribute that is a number; 0 when it is not there. */
const numberIn = (tag: string, name: string): number =>
  Number(new RegExp(`\\s${name}=["']([\\d.]+)["']`).exec(tag)?.[1] ?? 0);
