import type { Element, ElementContent } from 'xast';
import {
  type Block,
  type BlockType,
  type Footnote,
  type Inline,
  type List,
  type ListItem,
  type Marks,
  type ParagraphProperties,
  type Picture,
  type Table,
  tableGrid,
  textWithBreaks,
} from '../../../content/index.ts';
import { fitWidths } from '../../flow/look.ts';
import { x } from '../../xml/element.ts';
import { asSource, xmlText } from '../../xml/write-xml.ts';
import type { OdtStyles } from './target-styles.ts';

/** Where blocks are being written, and what they lean on there. */
export interface OdtStory {
  readonly styles: OdtStyles;
  /** How wide tables and pictures may be, in points. */
  readonly width: number;
  /** The address of a picture's bytes in the package; `undefined` when they are not at hand. */
  addPicture(picture: Picture): string | undefined;
  /** A number that no note or frame of ours has yet. */
  nextNumber(): number;
  writeNoteBlocks(blocks: readonly Block[]): Element[];
}

/** The list, quote or cell around a block. */
export interface OdtSetting {
  /** The style that plain paragraphs take. */
  readonly style?: string | undefined;
}

export const writeBlocks = (story: OdtStory, blocks: readonly Block[], setting: OdtSetting): Element[] =>
  blocks.flatMap((block) => writeBlock(story, block, setting));

type Writer<K extends BlockType> = (
  story: OdtStory,
  block: Extract<Block, { type: K }>,
  setting: OdtSetting,
) => Element[];

const writeBlock = <K extends BlockType>(
  story: OdtStory,
  block: Extract<Block, { type: K }>,
  setting: OdtSetting,
): Element[] => (writers[block.type] as Writer<K>)(story, block, setting);

const writers: { readonly [K in BlockType]: Writer<K> } = {
  paragraph: (story, paragraph, { style }) => [
    paragraphElement(
      story,
      paragraph.inlines,
      story.styles.paragraphStyle(story.styles.own(paragraph.style) ?? style, looks(paragraph)),
    ),
  ],
  heading: (story, { level, inlines, style }) => [
    x(
      'text:h',
      {
        'text:style-name': story.styles.own(style) ?? story.styles.heading(level),
        'text:outline-level': String(level),
      },
      writeInlines(story, inlines) as Element['children'],
    ),
  ],
  list: (story, list, { style }) => [
    writeList(story, list, { style: story.styles.listParagraph(style) }, story.styles.list(list)),
  ],
  table: (story, table) => [writeTable(story, table)],
  picture: (story, picture, { style }) => [paragraphElement(story, [picture], style)],
  quote: (story, { blocks }) =>
    blocks.flatMap((block) =>
      writeBlock(story, block, block.type === 'paragraph' ? { style: story.styles.named('quote') } : {}),
    ),
  code: (story, { text }) => [paragraphElement(story, textWithBreaks(text), story.styles.named('code'))],
  rule: (story) => [paragraphElement(story, [], story.styles.rule())],
};

const looks = ({ align, indent, direction }: ParagraphProperties): ParagraphProperties => ({
  ...(align && { align }),
  ...(indent !== undefined && { indent }),
  ...(direction && { direction }),
});

export const paragraphElement = (story: OdtStory, inlines: readonly Inline[], style: string | undefined): Element =>
  x('text:p', { 'text:style-name': style }, writeInlines(story, inlines) as Element['children']);

/** A list (5.3.1); those inside it follow its style, one level down. */
function writeList(story: OdtStory, list: List, setting: OdtSetting, style: string | undefined): Element {
  return x('text:list', { 'text:style-name': style }, writeItems(story, list, setting));
}

export const writeItems = (story: OdtStory, { items, start = 1, ordered }: List, setting: OdtSetting): Element[] =>
  items.map((item, index) =>
    x(
      'text:list-item',
      { 'text:start-value': ordered && index === 0 && start !== 1 ? String(start) : undefined },
      itemBlocks(story, item, setting),
    ),
  );

/** A check box is a sign here: lists have none of their own. */
function itemBlocks(story: OdtStory, { blocks, checked }: ListItem, setting: OdtSetting): Element[] {
  const sign: Inline[] = checked === undefined ? [] : [{ type: 'text', text: checked ? '☒ ' : '☐ ' }];
  const [first, ...rest] = blocks;
  const lead = first?.type === 'paragraph' ? [...sign, ...first.inlines] : sign;
  const others = first?.type === 'paragraph' ? rest : blocks;
  return [
    ...(first?.type === 'paragraph' || sign.length > 0 || blocks.length === 0
      ? [paragraphElement(story, lead, setting.style)]
      : []),
    ...others.flatMap((block) =>
      block.type === 'list' ? [nested(story, block, setting)] : writeBlock(story, block, setting),
    ),
  ];
}

const nested = (story: OdtStory, list: List, setting: OdtSetting): Element =>
  writeList(story, list, setting, story.styles.nestedList(list));

/** A table (9.1.2) as wide as the text. */
function writeTable(story: OdtStory, table: Table): Element {
  const grid = tableGrid(table);
  const columns = Math.max(1, grid[0]?.length ?? 0);
  const widths = fitWidths(table.columnWidths, columns, story.width);
  const heads = table.headerRows ?? 0;
  const rows = grid.map((line, row) =>
    asSource(
      x(
        'table:table-row',
        {},
        line.map((placed, column) => {
          if (!placed || placed.row !== row || placed.column !== column) return x('table:covered-table-cell');
          return writeCell(story, placed.cell, row < heads);
        }),
      ),
    ),
  );
  const whole = widths.reduce((sum, width) => sum + width, 0);
  return x(
    'table:table',
    { 'table:name': `Drawer${story.nextNumber()}`, 'table:style-name': story.styles.table(whole) },
    [
      ...widths.map((width) => x('table:table-column', { 'table:style-name': story.styles.column(width) })),
      ...(heads > 0 ? [x('table:table-header-rows', {}, rows.slice(0, heads))] : []),
      ...rows.slice(heads),
    ],
  );
}

function writeCell(
  story: OdtStory,
  { blocks, columnSpan, rowSpan, background }: Table['rows'][number]['cells'][number],
  isHeading: boolean,
): Element {
  const inside = writeBlocks(story, blocks, { style: story.styles.cellParagraph(isHeading) });
  return x(
    'table:table-cell',
    {
      'table:style-name': story.styles.cell(isHeading, background),
      'office:value-type': 'string',
      'table:number-columns-spanned': columnSpan === undefined ? undefined : String(columnSpan),
      'table:number-rows-spanned': rowSpan === undefined ? undefined : String(rowSpan),
    },
    inside.length > 0 ? inside : [x('text:p', { 'text:style-name': story.styles.cellParagraph(isHeading) })],
  );
}

/** Inlines as text, spans, links and frames (ISO/IEC 26300-1, section 6). */
export const writeInlines = (story: OdtStory, inlines: readonly Inline[]): ElementContent[] =>
  inlines.flatMap((inline) => writeInline(story, inline));

function writeInline(story: OdtStory, inline: Inline): ElementContent[] {
  switch (inline.type) {
    case 'text':
      return writeText(story, inline.text, inline.marks ?? {});
    case 'break':
      return [x('text:line-break')];
    case 'picture':
      return [writePicture(story, inline)];
    case 'footnote':
      return [writeNote(story, inline)];
  }
}

function writeText(story: OdtStory, words: string, { link, ...marks }: Marks): ElementContent[] {
  const style = story.styles.textStyle(marks);
  const spaced = spacedText(words);
  const inside =
    style === undefined ? spaced : [x('text:span', { 'text:style-name': style }, spaced as Element['children'])];
  if (!link) return inside;
  return [
    x(
      'text:a',
      { 'xlink:type': 'simple', 'xlink:href': xmlText(link.href), 'office:title': link.title && xmlText(link.title) },
      inside as Element['children'],
    ),
  ];
}

/** White space is folded on reading (6.1.2), so that what should be seen is told. */
export function spacedText(words: string): ElementContent[] {
  return xmlText(words)
    .split(/(\t| {2,}|^ | $)/)
    .filter((piece) => piece !== '')
    .map((piece): ElementContent => {
      if (piece === '\t') return x('text:tab');
      if (/^ +$/.test(piece)) return piece.length === 1 ? x('text:s') : x('text:s', { 'text:c': String(piece.length) });
      return { type: 'text', value: piece };
    });
}

/** A picture in its line (10.4.2), no wider than the text; without its bytes its description. */
function writePicture(story: OdtStory, picture: Picture): ElementContent {
  const address = story.addPicture(picture);
  if (address === undefined) return { type: 'text', value: xmlText(picture.alt ?? '') };
  const { width = 72, height = 72, alt } = picture;
  const scale = Math.min(1, story.width / width);
  return pictureFrame(address, {
    name: `Picture ${story.nextNumber()}`,
    width: width * scale,
    height: height * scale,
    alt,
    anchor: 'as-char',
  });
}

interface FrameFacts {
  readonly name: string;
  /** In points. */
  readonly width: number;
  readonly height: number;
  readonly alt: string | undefined;
  /** How it is tied to the text (19.759); a frame in a cell is tied to that. */
  readonly anchor?: 'as-char';
}

/** A picture in its frame (10.4.2 and 10.4.4). */
export const pictureFrame = (address: string, { name, width, height, alt, anchor }: FrameFacts): Element =>
  x(
    'draw:frame',
    {
      'draw:name': name,
      'text:anchor-type': anchor,
      'svg:width': `${round(width)}pt`,
      'svg:height': `${round(height)}pt`,
    },
    [
      x('draw:image', {
        'xlink:href': address,
        'xlink:type': 'simple',
        'xlink:show': 'embed',
        'xlink:actuate': 'onLoad',
      }),
      ...(alt ? [x('svg:desc', {}, xmlText(alt))] : []),
    ],
  );

const round = (points: number): number => Math.round(points * 100) / 100;

/** A note (6.3); its number is worked out by whoever shows it. */
function writeNote(story: OdtStory, { blocks }: Footnote): Element {
  const number = String(story.nextNumber());
  return x('text:note', { 'text:id': `drawer-note-${number}`, 'text:note-class': 'footnote' }, [
    x('text:note-citation', {}, number),
    x('text:note-body', {}, story.writeNoteBlocks(blocks)),
  ]);
}
