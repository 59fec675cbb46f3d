import type { Alignment, Cell, Marks } from '../../../content/index.ts';
import { escapeAttribute } from '../../xml/write-xml.ts';
import { builtInFormats } from './styles.ts';

/** What a cell's format must have beside that of the place it lands in. */
export interface WantedFormat {
  readonly format?: string | undefined;
  readonly wraps: boolean;
  readonly marks?: Marks | undefined;
  readonly background?: string | undefined;
  readonly align?: Alignment | undefined;
}

/** What of a cell's look has to be told by its format; its own look only where that is asked for. */
export const wantedFormat = (cell: Cell, wraps: boolean, withLook: boolean): WantedFormat => ({
  format: 'format' in cell ? cell.format : undefined,
  wraps,
  ...(withLook && { marks: cell.marks, background: cell.background, align: cell.align }),
  ...(!withLook && cell.marks?.bold && { marks: { bold: true } }),
});

/**
 * The formats of a workbook's cells (ISO/IEC 29500-1, 18.8), to which missing ones are added. State: the part's text as it
 * has become.
 */
export class TargetFormats {
  text: string;
  changed = false;
  readonly #prefix: string;
  readonly #known = new Map<string, number>();

  constructor(text: string | undefined) {
    this.text = text ?? bareStyles;
    this.#prefix = /<((?:[\w.-]+:)?)styleSheet[\s>]/.exec(this.text)?.[1] ?? '';
    this.changed = text === undefined;
  }

  /** The number of a format that is like that of number `base` but for what is wanted. */
  find(base: number, wanted: WantedFormat): number {
    const key = JSON.stringify([base, wanted]);
    const known = this.#known.get(key);
    if (known !== undefined) return known;
    const found = this.#make(base, wanted);
    this.#known.set(key, found);
    return found;
  }

  #make(base: number, { format, wraps, marks, background, align }: WantedFormat): number {
    const formats = this.#items('cellXfs', 'xf');
    if (formats.length === 0) this.#add('cellXfs', bareFormat(this.#prefix)); // the one that cells without a number have
    let own = formats[base] ?? formats[0] ?? bareFormat(this.#prefix);
    const before = own;
    if (format !== undefined && format !== 'General' && this.#formatOf(own) !== format)
      own = withAttributes(own, { numFmtId: String(this.#numberFormat(format)), applyNumberFormat: '1' });
    if (marks && Object.keys(marks).length > 0)
      own = withAttributes(own, { fontId: String(this.#font(own, marks)), applyFont: '1' });
    if (background) own = withAttributes(own, { fillId: String(this.#fill(background)), applyFill: '1' });
    if (wraps || align) own = this.#aligned(own, wraps, align);
    if (own === before) return Math.min(base, Math.max(0, formats.length - 1));
    const same = this.#items('cellXfs', 'xf').indexOf(own);
    return same >= 0 ? same : this.#add('cellXfs', own);
  }

  #formatOf(xf: string): string | undefined {
    const id = Number(/\snumFmtId="(\d+)"/.exec(xf)?.[1] ?? 0);
    const own = this.#items('numFmts', 'numFmt').find((each) => each.includes(`numFmtId="${id}"`));
    return own === undefined ? codeOf(id) : /\sformatCode="([^"]*)"/.exec(own)?.[1];
  }

  /** One that the workbook has, one that every program knows (18.8.30), or a new one from 164 on. */
  #numberFormat(code: string): number {
    const builtIn = Object.entries(builtInCodes).find(([, each]) => each === code)?.[0];
    if (builtIn !== undefined) return Number(builtIn);
    const formats = this.#items('numFmts', 'numFmt');
    const wanted = `formatCode="${escapeAttribute(code)}"`;
    const known = formats.find((each) => each.includes(wanted));
    if (known) return Number(/\snumFmtId="(\d+)"/.exec(known)?.[1]);
    const id =
      formats.reduce((most, each) => Math.max(most, Number(/\snumFmtId="(\d+)"/.exec(each)?.[1] ?? 0)), 163) + 1;
    this.#add('numFmts', `<${this.#prefix}numFmt numFmtId="${id}" ${wanted}/>`);
    return id;
  }

  #font(xf: string, { bold, italic, underline, strike, colour, size, font }: Marks): number {
    const p = this.#prefix;
    const fonts = this.#items('fonts', 'font');
    const base = fonts[Number(/\sfontId="(\d+)"/.exec(xf)?.[1] ?? 0)] ?? `<${p}font></${p}font>`;
    const has = (name: string): string => new RegExp(`<${p}${name}(?:\\s[^<>]*)?/>`).exec(base)?.[0] ?? '';
    const parts = [
      bold ? `<${p}b/>` : has('b'),
      italic ? `<${p}i/>` : has('i'),
      strike ? `<${p}strike/>` : has('strike'),
      underline ? `<${p}u/>` : has('u'),
      size === undefined ? has('sz') : `<${p}sz val="${size}"/>`,
      colour ? `<${p}color rgb="FF${colour.slice(1).toUpperCase()}"/>` : has('color'),
      font === undefined ? has('name') : `<${p}name val="${escapeAttribute(font)}"/>`,
      has('family'),
      font === undefined ? has('scheme') : '',
    ];
    const own = `<${p}font>${parts.join('')}</${p}font>`;
    const same = fonts.indexOf(own);
    return same >= 0 ? same : this.#add('fonts', own);
  }

  #fill(colour: string): number {
    const p = this.#prefix;
    const own = `<${p}fill><${p}patternFill patternType="solid"><${p}fgColor rgb="FF${colour.slice(1).toUpperCase()}"/></${p}patternFill></${p}fill>`;
    const same = this.#items('fills', 'fill').indexOf(own);
    return same >= 0 ? same : this.#add('fills', own);
  }

  #aligned(xf: string, wraps: boolean, align: Alignment | undefined): string {
    const p = this.#prefix;
    const [old = `<${p}alignment/>`] = new RegExp(`<${p}alignment(?:\\s[^<>]*)?/>`).exec(xf) ?? [];
    const horizontal = align && { start: 'left', center: 'center', end: 'right', justify: 'justify' }[align];
    const own = withAttributes(old, {
      ...(horizontal && { horizontal }),
      ...(wraps && { wrapText: '1' }),
      ...(wraps && !/\svertical=/.test(old) && { vertical: 'top' }),
    });
    const applied = withAttributes(xf, { applyAlignment: '1' });
    if (applied.includes(old)) return applied.replace(old, own);
    return applied.endsWith('/>') ? `${applied.slice(0, -2)}>${own}</${p}xf>` : applied.replace(/>/, `>${own}`);
  }

  /** The elements of a list, each as its source. */
  #items(list: string, item: string): string[] {
    const section = this.#section(list);
    if (section === undefined) return [];
    const pattern = new RegExp(
      `<${this.#prefix}${item}(?:\\s[^<>]*?)?(?:/>|>[\\s\\S]*?</${this.#prefix}${item}>)`,
      'g',
    );
    return [...section.matchAll(pattern)].map(([each]) => each);
  }

  #section(list: string): string | undefined {
    const p = this.#prefix;
    return new RegExp(`<${p}${list}(?:\\s[^<>]*)?>([\\s\\S]*?)</${p}${list}>`).exec(this.text)?.[1];
  }

  /** In front of the lists that come behind it. */
  #makeList(list: string, made: string): void {
    const p = this.#prefix;
    const behind = listOrder.slice(listOrder.indexOf(list) + 1).join('|');
    const next = new RegExp(`<${p}(?:${behind})[\\s/>]|</${p}styleSheet`).exec(this.text);
    const at = next?.index ?? this.text.length;
    const opened = /<(?:[\w.-]+:)?styleSheet[^<>]*\/>/.exec(this.text);
    this.text = opened
      ? this.text.replace(opened[0], `${opened[0].slice(0, -2)}>${made}</${p}styleSheet>`)
      : this.text.slice(0, at) + made + this.text.slice(at);
  }

  /** Adds to a list, which is made where it is missing; gives the number of what was added. */
  #add(list: string, element: string): number {
    this.changed = true;
    const p = this.#prefix;
    const item = /^<(?:[\w.-]+:)?(\w+)/.exec(element)?.[1] ?? '';
    const count = this.#items(list, item).length;
    const close = `</${p}${list}>`;
    if (this.text.includes(close)) {
      this.text = this.text
        .replace(new RegExp(`(<${p}${list}\\s[^<>]*?count=")\\d+(")`), `$1${count + 1}$2`)
        .replace(close, `${element}${close}`);
      return count;
    }
    const made = `<${p}${list} count="1">${element}${close}`;
    const empty = new RegExp(`<${p}${list}(?:\\s[^<>]*)?/>`);
    if (empty.test(this.text)) this.text = this.text.replace(empty, () => made);
    else this.#makeList(list, made);
    return 0;
  }
}

/** The lists of a styles part, in the order of the schema (CT_Stylesheet). */
const listOrder = 'numFmts fonts fills borders cellStyleXfs cellXfs cellStyles dxfs tableStyles colors extLst'.split(
  ' ',
);

function withAttributes(element: string, attributes: Record<string, string>): string {
  return Object.entries(attributes).reduce((source, [name, value]) => {
    const pattern = new RegExp(`(\\s${name}=")[^"]*(")`);
    const [open = ''] = /^<[^<>]*>/.exec(source) ?? [];
    const changed = pattern.test(open)
      ? open.replace(pattern, `$1${value}$2`)
      : open.replace(/(\s*\/?>)$/, ` ${name}="${value}"$1`);
    return changed + source.slice(open.length);
  }, element);
}

/** Codes that have a number of their own (18.8.30) and read the same in every language. */
const builtInCodes: Readonly<Record<number, string>> = Object.fromEntries(
  [1, 2, 3, 4, 9, 10, 11, 49].map((id) => [id, builtInFormats[id] ?? '']),
);
const codeOf = (id: number): string | undefined => builtInCodes[id];

const bareFormat = (prefix: string): string =>
  `<${prefix}xf numFmtId="0" fontId="0" fillId="0" borderId="0" xfId="0"/>`;

const bareStyles =
  '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<styleSheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><fonts count="1"><font><sz val="11"/><name val="Calibri"/></font></fonts><fills count="2"><fill><patternFill patternType="none"/></fill><fill><patternFill patternType="gray125"/></fill></fills><borders count="1"><border/></borders><cellStyleXfs count="1"><xf numFmtId="0" fontId="0" fillId="0" borderId="0"/></cellStyleXfs><cellXfs count="1"><xf numFmtId="0" fontId="0" fillId="0" borderId="0" xfId="0"/></cellXfs><cellStyles count="1"><cellStyle name="Normal" xfId="0" builtinId="0"/></cellStyles></styleSheet>';
