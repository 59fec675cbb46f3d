import type { Alignment, Marks } from '../../../content/index.ts';
import { bounds } from '../../bounds.ts';
import { sharedAlignments } from '../../flow/look.ts';
import type { Zip } from '../../package/zip.ts';
import { nullPrototype } from '../../xml/element.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { namespaces, readPart } from '../opc.ts';
import type { Theme } from '../theme.ts';

/** How a cell's format index looks (ISO/IEC 29500-1, 18.8.10). */
export interface CellStyle {
  /** Number format code; absent is `General`. */
  readonly format?: string;
  readonly marks?: Marks;
  readonly background?: string;
  readonly align?: Alignment;
}

/** A style parted into what a value needs and what goes into the cell as it is. */
export interface CellLook {
  readonly format: string | undefined;
  readonly look: Omit<CellStyle, 'format'>;
  /** Whether there is nothing in the look. */
  readonly plain: boolean;
}

const lookOf = ({ format, ...look }: CellStyle): CellLook => ({ format, look, plain: Object.keys(look).length === 0 });

export const general: CellLook = lookOf({});

interface Font {
  bold?: boolean;
  italic?: boolean;
  underline?: boolean;
  strike?: boolean;
  colour?: string;
  font?: string;
  size?: number;
}

/** A cell format by its numbers in the other lists. */
interface StoredFormat {
  readonly numberFormat: number;
  readonly font: number;
  readonly fill: number;
  align?: Alignment;
}

/** Styles by the index that cells give. */
export async function readCellStyles(
  zip: Zip,
  part: string | undefined,
  theme: Theme,
): Promise<(index: number) => CellLook> {
  const reader = new StylesReader(theme);
  await readPart(zip, part, namespaces, reader);
  const looks = reader.styles.map(lookOf);
  return (index) => looks[index] ?? general;
}

class StylesReader implements XmlHandler {
  readonly styles: CellStyle[] = [];
  readonly #formats = new Map<number, string>();
  readonly #fonts: Font[] = [];
  readonly #fills: (string | undefined)[] = [];
  readonly #theme: Theme;
  readonly #palette: string[] = [];
  #section = '';
  #format: StoredFormat | undefined;

  constructor(theme: Theme) {
    this.#theme = theme;
  }

  open(name: string, attributes: Attributes): void {
    if (name === 'rgbColor' && attributes.rgb) this.#palette.push(`#${attributes.rgb.slice(-6).toLowerCase()}`);
    if (sections.has(name)) this.#section = name;
    if (name === 'numFmt' && this.#section === 'numFmts')
      this.#formats.set(Number(attributes.numFmtId), boundedFormat(attributes.formatCode ?? ''));
    if (this.#section === 'fonts') this.#openFont(name, attributes);
    if (this.#section === 'fills') this.#openFill(name, attributes);
    if (this.#section === 'cellXfs') this.#openFormat(name, attributes);
  }

  close(name: string): void {
    if (sections.has(name)) this.#section = '';
    if (name === 'xf' && this.#section === 'cellXfs' && this.#format) {
      this.styles.push(this.#style(this.#format));
      this.#format = undefined;
    }
  }

  #openFont(name: string, attributes: Attributes): void {
    if (name === 'font') this.#fonts.push({});
    const font = this.#fonts.at(-1);
    if (!font) return;
    const isOn = !['0', 'false', 'none'].includes(attributes.val ?? '');
    if (name === 'b') font.bold = isOn;
    if (name === 'i') font.italic = isOn;
    if (name === 'u') font.underline = isOn;
    if (name === 'strike') font.strike = isOn;
    const colour = name === 'color' ? this.#colour(attributes) : undefined;
    if (colour) font.colour = colour;
    if (name === 'name' && attributes.val) font.font = attributes.val;
    if (name === 'sz' && Number(attributes.val) > 0) font.size = Number(attributes.val);
  }

  #openFill(name: string, attributes: Attributes): void {
    if (name === 'fill') this.#fills.push(undefined);
    if (name === 'patternFill') this.#pattern = attributes.patternType ?? 'none';
    if (name === 'fgColor' && this.#pattern !== 'none') this.#fills[this.#fills.length - 1] = this.#colour(attributes);
  }

  #pattern = 'none';

  /** A colour by its own value, its place in the theme or in the old palette (18.8.3, 18.8.27). */
  #colour({ rgb, theme, indexed, tint }: Attributes): string | undefined {
    const base = argb(rgb) ?? this.#theme.colours[Number(theme ?? -1)] ?? this.#indexed(Number(indexed ?? -1));
    return base === undefined ? undefined : tinted(base, Number(tint ?? 0));
  }

  #indexed(index: number): string | undefined {
    return this.#palette[index] ?? oldPalette[index];
  }

  #openFormat(name: string, attributes: Attributes): void {
    if (name === 'xf')
      this.#format = {
        numberFormat: Number(attributes.numFmtId ?? 0),
        font: Number(attributes.fontId ?? 0),
        fill: Number(attributes.fillId ?? 0),
      };
    const align = name === 'alignment' ? alignments[attributes.horizontal ?? ''] : undefined;
    if (align && this.#format) this.#format.align = align;
  }

  #style({ numberFormat, font, fill, align }: StoredFormat): CellStyle {
    const format = this.#formats.get(numberFormat) ?? builtInFormats[numberFormat];
    const marks = this.#marks(this.#fonts[font] ?? {});
    const background = this.#fills[fill];
    return {
      ...(format && format !== 'General' && { format }),
      ...(Object.keys(marks).length > 0 && { marks }),
      ...(background && { background }),
      ...(align && { align }),
    };
  }

  /** What differs from the workbook's own font (the first, 18.8.22). */
  #marks(own: Font): Marks {
    const [plain = {}] = this.#fonts;
    return {
      ...(own.bold && { bold: true }),
      ...(own.italic && { italic: true }),
      ...(own.underline && { underline: true }),
      ...(own.strike && { strike: true }),
      ...(own.font && own.font !== plain.font && { font: own.font }),
      ...(own.size && own.size !== plain.size && { size: own.size }),
      ...(own.colour && own.colour !== (plain.colour ?? '#000000') && { colour: own.colour }),
    };
  }
}

/** Moved towards white by a tint above 0, towards black by one below (18.8.19). */
function tinted(colour: string, tint: number): string {
  if (!(tint > -1 && tint < 1) || tint === 0) return colour;
  const part = (at: number): string => {
    const value = Number.parseInt(colour.slice(at, at + 2), 16);
    return Math.round(tint < 0 ? value * (1 + tint) : value + (255 - value) * tint)
      .toString(16)
      .padStart(2, '0');
  };
  return `#${part(1)}${part(3)}${part(5)}`;
}

const eight = ['000000', 'ffffff', 'ff0000', '00ff00', '0000ff', 'ffff00', 'ff00ff', '00ffff'];
/** The palette of workbooks that bring none of their own (18.8.27). */
const oldPalette: readonly string[] = [
  ...eight,
  ...eight,
  ...'800000 008000 000080 808000 800080 008080 c0c0c0 808080 9999ff 993366 ffffcc ccffff 660066 ff8080 0066cc ccccff'.split(
    ' ',
  ),
  ...'000080 ff00ff ffff00 00ffff 800080 800000 008080 0000ff 00ccff ccffff ccffcc ffff99 99ccff ff99cc cc99ff ffcc99'.split(
    ' ',
  ),
  ...'3366ff 33cccc 99cc00 ffcc00 ff9900 ff6600 666699 969696 003366 339966 003300 333300 993300 993366 333399 333333'.split(
    ' ',
  ),
].map((hex) => `#${hex}`);

const sections = new Set(['numFmts', 'fonts', 'fills', 'cellXfs', 'cellStyleXfs', 'borders', 'dxfs', 'cellStyles']);

/** ST_UnsignedIntHex (18.18.86): alpha first, and of no account. */
const argb = (value: string | undefined): string | undefined =>
  value && /^[0-9A-Fa-f]{8}$/.test(value) ? `#${value.slice(2).toLowerCase()}` : undefined;

const alignments: Readonly<Record<string, Alignment>> = nullPrototype({
  ...sharedAlignments,
  centerContinuous: 'center',
});

/**
 * The formats that have a number and no code (18.8.30). Those that follow the reader's locale (14 and 22) are given as
 * ISO 8601, which reads the same everywhere.
 */
export const builtInFormats: Readonly<Record<number, string>> = {
  1: '0',
  2: '0.00',
  3: '#,##0',
  4: '#,##0.00',
  9: '0%',
  10: '0.00%',
  11: '0.00E+00',
  12: '# ?/?',
  13: '# ??/??',
  14: 'yyyy-mm-dd',
  ...Object.fromEntries([27, 28, 29, 30, 31, 36, 50, 51, 52, 53, 54, 57, 58].map((id) => [id, 'yyyy-mm-dd'])),
  ...Object.fromEntries([32, 33, 34, 35, 55, 56].map((id) => [id, 'hh:mm:ss'])),
  15: 'd-mmm-yy',
  16: 'd-mmm',
  17: 'mmm-yy',
  18: 'h:mm AM/PM',
  19: 'h:mm:ss AM/PM',
  20: 'h:mm',
  21: 'h:mm:ss',
  22: 'yyyy-mm-dd hh:mm',
  37: '#,##0 ;(#,##0)',
  38: '#,##0 ;[Red](#,##0)',
  39: '#,##0.00;(#,##0.00)',
  40: '#,##0.00;[Red](#,##0.00)',
  45: 'mm:ss',
  46: '[h]:mm:ss',
  47: 'mmss.0',
  48: '##0.0E+0',
  49: '@',
};

/** A format that no office program would write shows nothing that can be relied on. */
const boundedFormat = (code: string): string => (code.length > bounds.format.most ? 'General' : code);
