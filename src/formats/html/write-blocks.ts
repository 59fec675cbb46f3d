import type { Element, ElementContent } from 'hast';
import {
  type Block,
  type BlockType,
  type Footnote,
  findValue,
  type List,
  type ListItem,
  type Media,
  type ParagraphProperties,
  type Table,
  type TableCell,
  type ValueCell,
} from '../../content/index.ts';
import { momentSerial } from '../sheets/display.ts';
import { asMarkup, element } from './markup.ts';
import { writeInlines, writePicture } from './write-inlines.ts';

/** What one document gathers while it is written. */
export interface HtmlWriter {
  readonly media: Media;
  /** Those met so far, in the order of their references. */
  readonly footnotes: Footnote[];
  /** The number of the first of them, when it is not 1. */
  readonly firstNote?: number;
  /** Only the markup is wanted, so that rows of tables need not stay trees. */
  readonly isFinal?: true;
}

export const writeBlocks = (writer: HtmlWriter, blocks: readonly Block[]): Element[] =>
  blocks.map((block) => writeBlock(writer, block));

export const writeBlock = <K extends BlockType>(writer: HtmlWriter, block: Extract<Block, { type: K }>): Element =>
  (writers[block.type] as Writer<K>)(writer, block);

type Writer<K extends BlockType> = (writer: HtmlWriter, block: Extract<Block, { type: K }>) => Element;

const writers: { readonly [K in BlockType]: Writer<K> } = {
  paragraph: (writer, paragraph) => element('p', properties(paragraph), writeInlines(writer, paragraph.inlines)),
  heading: (writer, heading) =>
    element(`h${heading.level}`, properties(heading), writeInlines(writer, heading.inlines)),
  list: writeList,
  table: writeTable,
  picture: (writer, picture) => element('p', undefined, [writePicture(writer, picture)]),
  quote: (writer, { blocks }) => element('blockquote', undefined, writeBlocks(writer, blocks)),

  code: (_, { text, syntax }) =>
    element('pre', undefined, [
      element(
        'code',
        { className: syntax ? [`language-${syntax}`] : undefined },
        text.endsWith('\n') ? `${text}\n` : text,
      ),
    ]),
  rule: () => element('hr'),
};

type Properties = Readonly<Record<string, string | undefined>>;
const none: Properties = {};

function properties({ align, indent, direction, style }: ParagraphProperties): Properties {
  if (!align && !indent && !direction && style === undefined) return none; // most paragraphs
  const css = [align && `text-align: ${align}`, indent && `margin-inline-start: ${indent}pt`]
    .filter(Boolean)
    .join('; ');
  return { style: css || undefined, dir: direction, dataStyle: style };
}

const listTypes = {
  'lower-alpha': 'a',
  'upper-alpha': 'A',
  'lower-roman': 'i',
  'upper-roman': 'I',
  circle: undefined,
  square: undefined,
} as const;

function writeList(writer: HtmlWriter, list: List): Element {
  const items = writeItems(writer, list);
  if (list.ordered) return element('ol', { start: list.start, type: list.marker && listTypes[list.marker] }, items);
  return element('ul', { style: list.marker && `list-style-type: ${list.marker}` }, items);
}

/** The items without their list. */
export const writeItems = (writer: HtmlWriter, { items }: List): Element[] =>
  items.map((item) => element('li', undefined, writeItem(writer, item)));

function writeItem(writer: HtmlWriter, { blocks, checked }: ListItem): ElementContent[] {
  const box =
    checked === undefined
      ? []
      : [element('input', { type: 'checkbox', checked, disabled: true }), { type: 'text', value: ' ' } as const];
  return [...box, ...writeTight(writer, blocks)];
}

/** A plain first paragraph stands bare, if what follows can be told from it. */
function writeTight(writer: HtmlWriter, blocks: readonly Block[]): ElementContent[] {
  const [first, second, ...others] = blocks;
  const isBare = first?.type === 'paragraph' && Object.keys(first).length === 2 && first.inlines.length > 0;
  if (isBare && (second === undefined || (second.type === 'list' && others.length === 0))) {
    return [...writeInlines(writer, first.inlines), ...writeBlocks(writer, blocks.slice(1))];
  }
  return writeBlocks(writer, blocks);
}

function writeTable(writer: HtmlWriter, { rows, headerRows = 0, columnWidths }: Table): Element {
  const row =
    (tag: 'th' | 'td') =>
    ({ cells }: Table['rows'][number]): ElementContent => {
      const inside = cells.map((cell) => writeCell(writer, cell, tag));
      const made = element('tr', undefined, inside);
      return writer.isFinal ? asMarkup(made) : made;
    };
  const head = rows.slice(0, headerRows).map(row('th'));
  const body = rows.slice(headerRows).map(row('td'));
  return element('table', undefined, [
    ...(columnWidths
      ? [
          element(
            'colgroup',
            undefined,
            columnWidths.map((width) => element('col', { style: `width: ${width}pt` })),
          ),
        ]
      : []),
    ...(head.length > 0 ? [element('thead', undefined, head)] : []),
    ...(body.length > 0 ? [element('tbody', undefined, body)] : []),
  ]);
}

function writeCell(writer: HtmlWriter, cell: TableCell, tag: 'th' | 'td'): Element {
  const { blocks, columnSpan, rowSpan, background } = cell;
  const value = valueAttributes(findValue(cell));
  const [only, ...others] = blocks;
  const alone =
    others.length === 0 && only?.type === 'paragraph' && only.inlines.length > 0 && only.indent === undefined
      ? only
      : undefined;
  const inside = alone ? writeInlines(writer, alone.inlines) : writeBlocks(writer, blocks);
  const paragraph = alone ? properties(alone) : none;
  if (paragraph === none && !background && !columnSpan && !rowSpan && !value) return element(tag, none, inside);
  const { style: ownStyle, ...own } = paragraph;
  const css = [background && `background-color: ${background}`, ownStyle].filter(Boolean).join('; ');
  return element(tag, { colSpan: columnSpan, rowSpan, style: css || undefined, ...own, ...value }, inside);
}

/** The value behind the words, as spreadsheets read it from pages: a number, and the format that shows it. */
function valueAttributes(value: ValueCell | undefined): Readonly<Record<string, string>> | undefined {
  if (!value || value.type === 'error') return undefined;
  const number = value.type === 'date' ? momentSerial(value.value, false) : Number(value.value);
  const format = value.type === 'boolean' ? 'BOOLEAN' : (value.format ?? 'General');
  return { sdval: String(number), sdnum: `1033;1033;${format}` };
}
