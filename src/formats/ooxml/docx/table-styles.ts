import { automatic } from '../../flow/look.ts';
import type { Attributes } from '../../xml/read-xml.ts';
import { colour, type DocxRunLook, isOn, runProperties } from './look.ts';

/** What a table's style says of the cells of one of its parts. */
export interface CellLook {
  readonly run: DocxRunLook;
  /** `#rrggbb`, or the automatic colour for none. */
  readonly background?: string;
}

/** The parts of a table that a style can tell apart (ISO/IEC 29500-1, 17.18.89), each over those before it (17.7.6). */
const parts = [
  'wholeTable',
  'band1Vert',
  'band2Vert',
  'band1Horz',
  'band2Horz',
  'firstCol',
  'lastCol',
  'firstRow',
  'lastRow',
  'neCell',
  'nwCell',
  'seCell',
  'swCell',
] as const;
type Part = (typeof parts)[number];

/** A table's style with everything it is based on worked in. */
export interface TableStyle {
  readonly parts: ReadonlyMap<Part, CellLook>;
  /** How many rows and columns a band has (17.7.6.5, 17.7.6.7). */
  readonly rowBand: number;
  readonly columnBand: number;
}

/** Hears a style of tables. */
export class TableStyleReader {
  readonly #parts = new Map<Part, { run: DocxRunLook; background?: string }>();
  #rowBand: number | undefined;
  #columnBand: number | undefined;
  #part: Part | undefined = 'wholeTable';
  #inRun = false;
  #inCell = false;

  open(name: string, attributes: Attributes): void {
    if (name === 'w:tblStylePr') this.#part = parts.find((part) => part === attributes['w:type']);
    else if (name === 'w:rPr') this.#inRun = true;
    else if (name === 'w:tcPr' || name === 'w:tblPr') this.#inCell = true;
    else if (name === 'w:tblStyleRowBandSize') this.#rowBand = bandSize(attributes);
    else if (name === 'w:tblStyleColBandSize') this.#columnBand = bandSize(attributes);
    else if (this.#inRun) runProperties.get(name)?.(this.#look?.run ?? {}, attributes);
    else if (this.#inCell && name === 'w:shd') this.#setShade(attributes);
  }

  close(name: string): void {
    if (name === 'w:tblStylePr') this.#part = 'wholeTable';
    else if (name === 'w:rPr') this.#inRun = false;
    else if (name === 'w:tcPr' || name === 'w:tblPr') this.#inCell = false;
  }

  /** The style over the one it is based on, with what the theme says of colours and fonts. */
  finish(base: TableStyle | undefined, withTheme: (run: DocxRunLook) => DocxRunLook): TableStyle {
    const merged = new Map(base?.parts);
    for (const [part, look] of this.#parts)
      merged.set(part, over(merged.get(part), { ...look, run: withTheme(look.run) }));
    return {
      parts: merged,
      rowBand: this.#rowBand ?? base?.rowBand ?? 1,
      columnBand: this.#columnBand ?? base?.columnBand ?? 1,
    };
  }

  get #look() {
    const part = this.#part;
    if (part === undefined) return undefined;
    const look = this.#parts.get(part) ?? { run: {} };
    this.#parts.set(part, look);
    return look;
  }

  #setShade(attributes: Attributes): void {
    const look = this.#look;
    const fill = colour(attributes['w:fill']);
    if (look && fill !== undefined) look.background = fill;
  }
}

const bandSize = (attributes: Attributes): number => Math.max(1, Number.parseInt(attributes['w:val'] ?? '', 10) || 1);

const over = (below: CellLook | undefined, above: CellLook): CellLook => ({
  ...below,
  ...above,
  run: { ...below?.run, ...above.run },
});

/** Which parts of its style a table shows (17.4.56): each a bit of one number, or an attribute of its own. */
interface Shown {
  readonly firstRow: boolean;
  readonly lastRow: boolean;
  readonly firstColumn: boolean;
  readonly lastColumn: boolean;
  readonly rowBands: boolean;
  readonly columnBands: boolean;
}

export interface CellPlace {
  readonly row: number;
  readonly column: number;
  readonly columnSpan: number;
  /** In the whole table. */
  readonly columns: number;
  readonly isLastRow: boolean;
}

/** What a table's style makes of its cells; most look like another. */
export class TableStyling {
  readonly #style: TableStyle;
  readonly #shown: Shown;
  readonly #known = new Map<string, CellLook>();

  constructor(style: TableStyle, look: Attributes) {
    this.#style = style;
    const bits = Number.parseInt(look['w:val'] ?? '', 16) || 0;
    const says = (name: string, bit: number): boolean => {
      const own = look[`w:${name}`];
      return own === undefined ? (bits & bit) !== 0 : isOn(own);
    };
    this.#shown = {
      firstRow: says('firstRow', 0x20),
      lastRow: says('lastRow', 0x40),
      firstColumn: says('firstColumn', 0x80),
      lastColumn: says('lastColumn', 0x100),
      rowBands: !says('noHBand', 0x200),
      columnBands: !says('noVBand', 0x400),
    };
  }

  /** Whether the first row stands out, as the head of a table does. */
  get hasHead(): boolean {
    return this.#shown.firstRow && this.#style.parts.has('firstRow');
  }

  look(place: CellPlace): CellLook {
    const names = this.#partsAt(place);
    const key = names.join();
    const known = this.#known.get(key);
    if (known) return known;
    const look = this.#together(names, place.row === 0 && this.hasHead);
    this.#known.set(key, look);
    return look;
  }

  /** That a head is bold follows from what it is. */
  #together(names: readonly Part[], isHead: boolean): CellLook {
    const { run, ...rest } = names
      .flatMap((name) => this.#style.parts.get(name) ?? [])
      .reduce<CellLook>(over, { run: {} });
    const { bold: _, complexBold: __, ...others } = run;
    return { ...rest, run: isHead ? others : run };
  }

  #partsAt({ row, column, columnSpan, columns, isLastRow }: CellPlace): Part[] {
    const shown = this.#shown;
    const { rowBand, columnBand } = this.#style;
    const isTop = shown.firstRow && row === 0;
    const isBottom = shown.lastRow && isLastRow;
    const isLeft = shown.firstColumn && column === 0;
    const isRight = shown.lastColumn && columns > 0 && column + columnSpan >= columns;
    const isEven = (at: number, hasFirst: boolean, size: number): boolean =>
      Math.floor((at - (hasFirst ? 1 : 0)) / size) % 2 === 0;
    const at = new Set<Part>(['wholeTable']);
    if (shown.columnBands && !isLeft && !isRight)
      at.add(isEven(column, shown.firstColumn, columnBand) ? 'band1Vert' : 'band2Vert');
    if (shown.rowBands && !isTop && !isBottom) at.add(isEven(row, shown.firstRow, rowBand) ? 'band1Horz' : 'band2Horz');
    if (isLeft) at.add('firstCol');
    if (isRight) at.add('lastCol');
    if (isTop) at.add('firstRow');
    if (isBottom) at.add('lastRow');
    if (isTop && (isLeft || isRight)) at.add(isRight ? 'neCell' : 'nwCell');
    if (isBottom && (isLeft || isRight)) at.add(isRight ? 'seCell' : 'swCell');
    return parts.filter((part) => at.has(part));
  }
}

/** A row or cell may say itself that it is the last: bit 2 of a text of twelve (17.3.1.8), or an attribute. */
export const saysLastRow = (attributes: Attributes): boolean =>
  attributes['w:lastRow'] === undefined ? attributes['w:val']?.[1] === '1' : isOn(attributes['w:lastRow']);

/** The colour of a cell's own shade over that of its style; an automatic one shows none. */
export const shownShade = (own: string | undefined, look: CellLook | undefined): string | undefined => {
  const shade = own ?? look?.background;
  return shade === automatic ? undefined : shade;
};
