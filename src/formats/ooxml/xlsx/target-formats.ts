import type { Alignment, Cell, Marks } from '../../../content/index.ts';
import type { TextEdit } from '../../text-edits.ts';
import { rootTag } from '../../xml/element.ts';
import { childOf, insertion, type SourceElement, SourceTree, tagAttributes, tagWith } from '../../xml/source-tree.ts';
import { escapeAttribute } from '../../xml/write-xml.ts';
import { namespaces } from '../opc.ts';
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

/** The lists of a styles part, in the order of the schema (CT_Stylesheet), and what is in those that are added to. */
const listOrder = 'numFmts fonts fills borders cellStyleXfs cellXfs cellStyles dxfs tableStyles colors extLst'.split(
  ' ',
);
type List = 'numFmts' | 'fonts' | 'fills' | 'cellXfs';

/** The formats of a workbook's cells (ISO/IEC 29500-1, 18.8), to which missing ones are added. State: what was added. */
export class TargetFormats {
  readonly #tree: SourceTree;
  readonly #rootTag: string;
  readonly #isNew: boolean;
  readonly #prefix: string;
  readonly #known = new Map<string, number>();
  /** The sources of the elements of each list, those that were added behind the others. */
  readonly #lists = new Map<List, string[]>();
  readonly #added = new Map<List, number>();

  constructor(text: string | undefined) {
    const source = text ?? bareStyles;
    this.#tree = new SourceTree(source, 'styles.xml', namespaces);
    this.#rootTag = rootTag(source);
    this.#prefix = this.#tree.prefix('');
    this.#isNew = text === undefined;
  }

  get changed(): boolean {
    return this.#isNew || this.#added.size > 0;
  }

  /** The part as it has become. */
  get text(): string {
    return this.#tree.edited(listOrder.flatMap((list) => this.#listEdits(list as List)));
  }

  #listEdits(list: List): TextEdit[] {
    const count = this.#added.get(list) ?? 0;
    if (count === 0) return [];
    const tree = this.#tree;
    const items = this.#items(list);
    const source = items.slice(-count).join('');
    const known = childOf(tree.root, list);
    if (known) return tree.append(known, source, { count: String(items.length) });
    const made = `<${this.#prefix}${list} count="${count}">${source}</${this.#prefix}${list}>`;
    const behind = listOrder.slice(listOrder.indexOf(list) + 1);
    const next = tree.root.children.find(({ name }) => behind.includes(name));
    return next ? [insertion(next.start, made)] : tree.append(tree.root, made);
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
    const formats = this.#items('cellXfs');
    if (formats.length === 0) this.#add('cellXfs', bareFormat(this.#prefix)); // the one that cells without a number have
    let own = formats[base] ?? formats[0] ?? bareFormat(this.#prefix);
    const before = own;
    if (format !== undefined && format !== 'General' && this.#formatOf(own) !== format)
      own = tagWith(own, { numFmtId: String(this.#numberFormat(format)), applyNumberFormat: '1' });
    if (marks && Object.keys(marks).length > 0)
      own = tagWith(own, { fontId: String(this.#font(own, marks)), applyFont: '1' });
    if (background)
      own = tagWith(own, { fillId: String(this.#findOrAdd('fills', this.#fill(background))), applyFill: '1' });
    if (wraps || align) own = this.#aligned(own, wraps, align);
    return own === before ? Math.min(base, Math.max(0, formats.length - 1)) : this.#findOrAdd('cellXfs', own);
  }

  #formatOf(xf: string): string | undefined {
    const { numFmtId = '0' } = tagAttributes(xf);
    const own = this.#items('numFmts').find((each) => tagAttributes(each).numFmtId === numFmtId);
    return own === undefined ? codeOf(Number(numFmtId)) : tagAttributes(own).formatCode;
  }

  /** One that the workbook has, one that every program knows (18.8.30), or a new one from 164 on. */
  #numberFormat(code: string): number {
    const builtIn = Object.entries(builtInCodes).find(([, each]) => each === code)?.[0];
    if (builtIn !== undefined) return Number(builtIn);
    const formats = this.#items('numFmts').map(tagAttributes);
    const known = formats.find(({ formatCode }) => formatCode === code);
    if (known) return Number(known.numFmtId);
    const id = formats.reduce((most, { numFmtId }) => Math.max(most, Number(numFmtId) || 0), 163) + 1;
    this.#add('numFmts', `<${this.#prefix}numFmt numFmtId="${id}" formatCode="${escapeAttribute(code)}"/>`);
    return id;
  }

  #font(xf: string, { bold, italic, underline, strike, colour, size, font }: Marks): number {
    const p = this.#prefix;
    const base = this.#fragment(this.#items('fonts')[Number(tagAttributes(xf).fontId ?? 0)] ?? `<${p}font/>`);
    const has = (name: string): string => {
      const element = childOf(base.element, name);
      return element ? base.source(element) : '';
    };
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
    return this.#findOrAdd('fonts', `<${p}font>${parts.join('')}</${p}font>`);
  }

  #fill(colour: string): string {
    const p = this.#prefix;
    return `<${p}fill><${p}patternFill patternType="solid"><${p}fgColor rgb="FF${colour.slice(1).toUpperCase()}"/></${p}patternFill></${p}fill>`;
  }

  #aligned(xf: string, wraps: boolean, align: Alignment | undefined): string {
    const tree = this.#fragment(tagWith(xf, { applyAlignment: '1' }));
    const element = tree.element as SourceElement;
    const old = childOf(element, 'alignment');
    const horizontal = align && { start: 'left', center: 'center', end: 'right', justify: 'justify' }[align];
    const values = {
      ...(horizontal && { horizontal }),
      ...(wraps && { wrapText: '1' }),
      ...(wraps && old?.attributes.vertical === undefined && { vertical: 'top' }),
    };
    if (old) return tree.edited([tree.setAttributes(old, values)]);
    return tree.edited(tree.prepend(element, tagWith(`<${this.#prefix}alignment/>`, values)));
  }

  #fragment(source: string): SourceTree {
    return new SourceTree(source, 'styles.xml', namespaces, { rootTag: this.#rootTag });
  }

  #items(list: List): string[] {
    const known = this.#lists.get(list);
    if (known) return known;
    const items = (childOf(this.#tree.root, list)?.children ?? []).map((element) => this.#tree.source(element));
    this.#lists.set(list, items);
    return items;
  }

  #findOrAdd(list: List, element: string): number {
    const same = this.#items(list).indexOf(element);
    return same >= 0 ? same : this.#add(list, element);
  }

  /** Adds to a list, which is made where it is missing; gives the number of what was added. */
  #add(list: List, element: string): number {
    this.#added.set(list, (this.#added.get(list) ?? 0) + 1);
    return this.#items(list).push(element) - 1;
  }
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
