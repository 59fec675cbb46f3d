import type { Element } from 'xast';
import {
  type Block,
  type BlockType,
  cellsOfRow,
  type Footnote,
  type Heading,
  type Inline,
  type List,
  type ListItem,
  type Marks,
  type Paragraph,
  type ParagraphProperties,
  type Picture,
  type PlacedCell,
  type Table,
  type Text,
  tableGrid,
} from '../../../content/index.ts';
import { fitWidths } from '../../flow/look.ts';
import { x } from '../../xml/element.ts';
import { asSource, xmlText } from '../../xml/write-xml.ts';
import { emuSize, pictureBody } from '../drawing.ts';
import { type Page, type PartRelationships, textWidth, twips, type WriteState } from './write-state.ts';

/** Where blocks are being written: the body, or the footnotes, each with relationships of its own. */
export interface StoryWriter {
  readonly state: WriteState;
  readonly relationships: PartRelationships;
  readonly page: Page;
  writeFootnote(footnote: Footnote): Element;
  /** Nothing changes what is written any more, so that rows of tables need not stay trees. */
  readonly isFinal?: true;
}

/** The list or quote around a block. */
interface Setting {
  /** A paragraph style's id that plain paragraphs take. */
  readonly style?: string;
  /** How many lists it lies in. */
  readonly depth: number;
  /** Whether a table stands right before it, which leaves no room below itself. */
  readonly followsTable?: boolean;
}
const outermost: Setting = { depth: 0 };

/** The format has nine levels of lists (ISO/IEC 29500-1, 17.9.6). */
const deepestLevel = 8;

export const writeBlocks = (story: StoryWriter, blocks: readonly Block[], setting: Setting = outermost): Element[] =>
  blocks.length === 1
    ? writeBlockOf(story, blocks, 0, setting) // most cells
    : blocks.flatMap((_, index) => writeBlockOf(story, blocks, index, setting));

/** One of several blocks, which looks to those beside it. */
export function writeBlockOf(
  story: StoryWriter,
  blocks: readonly Block[],
  index: number,
  setting: Setting = outermost,
): Element[] {
  const block = blocks[index];
  if (!block) return [];
  const followsTable = blocks[index - 1]?.type === 'table';
  const around = followsTable === (setting.followsTable ?? false) ? setting : { ...setting, followsTable };
  const elements = writeBlock(story, block, around);
  // Two tables in a row would become one, so an empty paragraph parts them; reading leaves it out.
  return block.type === 'table' && blocks[index + 1]?.type === 'table' ? [...elements, x('w:p')] : elements;
}

const writeBlock = <K extends BlockType>(
  story: StoryWriter,
  block: Extract<Block, { type: K }>,
  setting: Setting,
): Element[] => (writers[block.type] as Writer<K>)(story, block, setting);

type Writer<K extends BlockType> = (
  story: StoryWriter,
  block: Extract<Block, { type: K }>,
  setting: Setting,
) => Element[];

const writers: { readonly [K in BlockType]: Writer<K> } = {
  paragraph: writeParagraph,
  heading: (story, heading) => [paragraphElement(story, { ...heading, styleId: headingStyle(story, heading) })],
  list: writeList,
  table: (story, table) => [writeTable(story, table)],
  picture: (story, picture, { style, followsTable }) => [
    paragraphElement(story, { inlines: [picture], styleId: style, followsTable }),
  ],
  quote: (story, { blocks }, { depth }) => writeBlocks(story, blocks, { depth, style: 'Quote' }),
  code: (story, { text }, { followsTable }) => [
    paragraphElement(story, { inlines: codeLines(text), styleId: 'HTMLPreformatted', followsTable }),
  ],
  rule: () => [
    x(
      'w:p',
      {},
      x(
        'w:pPr',
        {},
        x('w:pBdr', {}, x('w:bottom', { 'w:val': 'single', 'w:sz': '6', 'w:space': '1', 'w:color': 'auto' })),
      ),
    ),
  ],
};

interface ParagraphParts {
  readonly inlines: readonly Inline[];
  readonly align?: ParagraphProperties['align'] | undefined;
  readonly indent?: ParagraphProperties['indent'] | undefined;
  readonly direction?: ParagraphProperties['direction'] | undefined;
  readonly styleId?: string | undefined;
  readonly numbering?: Numbering;
  readonly before?: readonly Element[];
  readonly followsTable?: boolean | undefined;
}

interface Numbering {
  readonly instance: number;
  readonly level: number;
}

function writeParagraph(story: StoryWriter, paragraph: Paragraph, { style, followsTable }: Setting): Element[] {
  const own =
    paragraph.style === undefined ? undefined : story.state.customStyle(xmlText(paragraph.style), style ?? 'Normal');
  const { inlines, align, indent, direction } = paragraph;
  return [paragraphElement(story, { inlines, align, indent, direction, styleId: own ?? style, followsTable })];
}

/** Properties in the order that the schema asks for (CT_PPr). */
function paragraphElement(
  story: StoryWriter,
  { styleId, numbering, direction, followsTable, indent, align, inlines, before = [] }: ParagraphParts,
): Element {
  const others = [...before, ...writeInlines(story, inlines)];
  const isPlain = !styleId && !numbering && !direction && !followsTable && indent === undefined && !align;
  if (isPlain) return x('w:p', {}, others); // most paragraphs
  const properties = [
    styleId && x('w:pStyle', { 'w:val': styleId }),
    numbering &&
      x('w:numPr', {}, [
        x('w:ilvl', { 'w:val': String(numbering.level) }),
        x('w:numId', { 'w:val': String(numbering.instance) }),
      ]),
    direction && x('w:bidi', { 'w:val': direction === 'rtl' ? '1' : '0' }),
    followsTable && x('w:spacing', { 'w:before': twips(8) }),
    indent !== undefined && x('w:ind', { 'w:start': twips(indent), 'w:left': twips(indent) }),
    align && x('w:jc', { 'w:val': { start: 'left', center: 'center', end: 'right', justify: 'both' }[align] }),
  ].filter((property) => typeof property === 'object');
  return x('w:p', {}, x('w:pPr', {}, properties), others);
}

function headingStyle({ state }: StoryWriter, { level, style }: Heading): string {
  if (style === undefined) return `Heading${level}`;
  return level === 1 && style === 'Title' ? 'Title' : state.customStyle(xmlText(style), `Heading${level}`);
}

const codeLines = (text: string): Inline[] =>
  text
    .split('\n')
    .flatMap((line, index): Inline[] => [
      ...(index > 0 ? [{ type: 'break' } as const] : []),
      ...(line === '' ? [] : [{ type: 'text', text: line } as const]),
    ]);

// --- Lists -----------------------------------------------------------------------------------------------------------

function writeList(story: StoryWriter, list: List, { depth, followsTable }: Setting): Element[] {
  const numbering = { instance: story.state.addList(list), level: Math.min(depth, deepestLevel) };
  return list.items.flatMap((item, index) =>
    writeItem(story, list, item, numbering, { depth, followsTable: followsTable === true && index === 0 }),
  );
}

/** The item's first paragraph carries the number; those after it are indented to stand under it. */
function writeItem(
  story: StoryWriter,
  list: List,
  item: ListItem,
  numbering: Numbering,
  { depth, followsTable }: Setting,
): Element[] {
  const suffix = numbering.level === 0 ? '' : ` ${Math.min(numbering.level + 1, 5)}`;
  const [first, ...rest] = item.blocks;
  const leads = first?.type === 'paragraph';
  const lead = paragraphElement(story, {
    ...(leads ? first : { inlines: [] }),
    styleId: `List${list.ordered ? 'Number' : 'Bullet'}${suffix.trim()}`,
    numbering,
    followsTable,
    before: item.checked === undefined ? [] : [checkBox(item.checked)],
  });
  const setting = { depth: depth + 1, style: `ListContinue${suffix.trim()}` };
  return [lead, ...writeBlocks(story, leads ? rest : item.blocks, setting)];
}

/** A check box that can be ticked ([MS-DOCX] 2.6.1.5), over a sign that older programs show. */
const checkBox = (checked: boolean): Element =>
  x('w:sdt', {}, [
    x('w:sdtPr', {}, [
      x('w14:checkbox', {}, [
        x('w14:checked', { 'w14:val': checked ? '1' : '0' }),
        x('w14:checkedState', { 'w14:val': '2612', 'w14:font': 'MS Gothic' }),
        x('w14:uncheckedState', { 'w14:val': '2610', 'w14:font': 'MS Gothic' }),
      ]),
    ]),
    x(
      'w:sdtContent',
      {},
      x('w:r', {}, [
        x('w:rPr', {}, x('w:rFonts', { 'w:ascii': 'MS Gothic', 'w:hAnsi': 'MS Gothic', 'w:eastAsia': 'MS Gothic' })),
        x('w:t', { 'xml:space': 'preserve' }, checked ? '☒ ' : '☐ '),
      ]),
    ),
  ]);

/** What stands under an item's first paragraph. */
export const writeItemBlocks = (story: StoryWriter, blocks: readonly Block[]): Element[] =>
  writeBlocks(story, blocks, { depth: 1, style: 'ListContinue' });

// --- Tables ----------------------------------------------------------------------------------------------------------

function writeTable(story: StoryWriter, table: Table): Element {
  const grid = tableGrid(table);
  const columns = Math.max(1, grid[0]?.length ?? 0);
  const widths = fitWidths(table.columnWidths, columns, textWidth(story.page));
  return x('w:tbl', {}, [
    x('w:tblPr', {}, [
      x('w:tblStyle', { 'w:val': 'TableGrid' }),
      x('w:tblW', { 'w:w': '0', 'w:type': 'auto' }),
      x('w:tblLook', {
        'w:val': table.headerRows ? '0420' : '0400',
        'w:firstRow': table.headerRows ? '1' : '0',
        'w:lastRow': '0',
        'w:firstColumn': '0',
        'w:lastColumn': '0',
        'w:noHBand': '0',
        'w:noVBand': '1',
      }),
    ]),
    x(
      'w:tblGrid',
      {},
      widths.map((width) => x('w:gridCol', { 'w:w': twips(width) })),
    ),
    ...grid.map((line, row) => {
      const element = writeRow(story, line, row, row < (table.headerRows ?? 0), widths);
      return story.isFinal ? asSource(element) : element;
    }),
  ]);
}

/** A row span is told cell by cell here (17.4.84), so each row has a cell for every place. */
function writeRow(
  story: StoryWriter,
  line: readonly (PlacedCell | undefined)[],
  row: number,
  isHeader: boolean,
  widths: readonly number[],
): Element {
  const properties = isHeader ? x('w:trPr', {}, [x('w:cantSplit'), x('w:tblHeader')]) : undefined;
  return x(
    'w:tr',
    {},
    properties,
    cellsOfRow(line).map((placed) => writeCell(story, placed, row, widths)),
  );
}

/** A cell ends with a paragraph (17.4.65). */
function writeCell(
  story: StoryWriter,
  { cell, column, row: firstRow }: PlacedCell,
  row: number,
  widths: readonly number[],
): Element {
  const continues = row > firstRow;
  const { columnSpan = 1, rowSpan = 1, background, blocks } = cell;
  const width = widths.slice(column, column + columnSpan).reduce((sum, each) => sum + each, 0);
  const elements = continues ? [] : writeBlocks(story, blocks);
  const last = blocks.at(-1);
  return x('w:tc', {}, [
    x('w:tcPr', {}, [
      x('w:tcW', { 'w:w': twips(width), 'w:type': 'dxa' }),
      ...(columnSpan > 1 ? [x('w:gridSpan', { 'w:val': String(columnSpan) })] : []),
      ...(rowSpan > 1 ? [x('w:vMerge', continues ? {} : { 'w:val': 'restart' })] : []),
      ...(background
        ? [x('w:shd', { 'w:val': 'clear', 'w:color': 'auto', 'w:fill': background.slice(1).toUpperCase() })]
        : []),
    ]),
    ...elements,
    ...(elements.length === 0 || last?.type === 'table' ? [x('w:p')] : []),
  ]);
}

/** Inlines as runs (ISO/IEC 29500-1, 17.3.2) and hyperlinks. */
export const writeInlines = (story: StoryWriter, inlines: readonly Inline[]): Element[] =>
  inlines.map((inline) => writeInline(story, inline));

function writeInline(story: StoryWriter, inline: Inline): Element {
  switch (inline.type) {
    case 'text':
      return inline.marks?.link ? writeLink(story, inline, inline.marks) : writeRun(inline.text, inline.marks);
    case 'break':
      return x('w:r', {}, x('w:br'));
    case 'picture':
      return x('w:r', {}, writeDrawing(story, inline));
    case 'footnote':
      return story.writeFootnote(inline);
  }
}

/** Words between tabs; every space counts. */
function writeRun(words: string, marks: Marks = {}): Element {
  const pieces = xmlText(words)
    .split(/(\t)/)
    .filter((piece) => piece !== '')
    .map((piece) => (piece === '\t' ? x('w:tab') : x('w:t', { 'xml:space': 'preserve' }, piece)));
  return x('w:r', {}, runProperties(marks), pieces);
}

function writeLink(story: StoryWriter, { text }: Text, marks: Marks): Element {
  const { href = '', title } = marks.link ?? {};
  const target = href.startsWith('#')
    ? { 'w:anchor': decodeName(href.slice(1)) }
    : { 'r:id': story.relationships.add('hyperlink', xmlText(href), true) };
  return x('w:hyperlink', { ...target, 'w:tooltip': title && xmlText(title), 'w:history': '1' }, writeRun(text, marks));
}

function decodeName(name: string): string {
  try {
    return xmlText(decodeURIComponent(name));
  } catch {
    return xmlText(name);
  }
}

/** In the order that the schema asks for (CT_RPr). */
export function runProperties(marks: Marks): Element | undefined {
  const style = marks.code ? 'HTMLCode' : marks.link ? 'Hyperlink' : undefined;
  const font = marks.font && xmlText(marks.font);
  const halfPoints = marks.size === undefined ? undefined : String(Math.max(2, Math.round(marks.size * 2)));
  const properties = [
    style && x('w:rStyle', { 'w:val': style }),
    font && x('w:rFonts', { 'w:ascii': font, 'w:hAnsi': font, 'w:cs': font }),
    marks.bold && x('w:b'),
    marks.italic && x('w:i'),
    marks.strike && x('w:strike'),
    marks.colour && x('w:color', { 'w:val': marks.colour.slice(1).toUpperCase() }),
    halfPoints && x('w:sz', { 'w:val': halfPoints }),
    halfPoints && x('w:szCs', { 'w:val': halfPoints }),
    marks.underline && x('w:u', { 'w:val': 'single' }),
    marks.background &&
      x('w:shd', { 'w:val': 'clear', 'w:color': 'auto', 'w:fill': marks.background.slice(1).toUpperCase() }),
    marks.position && x('w:vertAlign', { 'w:val': marks.position }),
    marks.language && x('w:lang', { 'w:val': marks.language }),
  ].filter((property) => typeof property === 'object');
  return properties.length > 0 ? x('w:rPr', {}, properties) : undefined;
}

/** An inline drawing (20.4.2.8), no wider than the text. A picture whose bytes are missing leaves its description. */
function writeDrawing(story: StoryWriter, picture: Picture): Element {
  const part = story.state.addPicture(picture);
  if (part === undefined) return x('w:t', {}, xmlText(picture.alt ?? ''));
  const id = story.relationships.add('image', part);
  const { width = 72, height = 72 } = picture;
  const scale = Math.min(1, textWidth(story.page) / width);
  const extent = emuSize(width * scale, height * scale);
  const number = String(story.state.nextDrawing());
  const description = { id: number, name: `Picture ${number}`, descr: picture.alt && xmlText(picture.alt) };
  return x('w:drawing', {}, [
    x('wp:inline', { distT: '0', distB: '0', distL: '0', distR: '0' }, [
      x('wp:extent', { ...extent }),
      x('wp:docPr', description),
      x('a:graphic', {}, [
        x('a:graphicData', { uri: story.state.pictureNamespace }, [
          x('pic:pic', {}, [
            x('pic:nvPicPr', {}, [x('pic:cNvPr', description), x('pic:cNvPicPr')]),
            ...pictureBody('pic', id, picture.mediaType, extent),
          ]),
        ]),
      ]),
    ]),
  ]);
}
