import type { Block, Inline, List, Marks, Media, Picture, Table } from 'drawer';
import * as fc from 'fast-check';
import {
  type BlocksContent,
  joinText,
  type ListItem,
  type Paragraph,
  type ParagraphProperties,
  type TableCell,
} from '../../src/content/index.ts';
import { samplePictures } from './pictures.ts';

/**
 * Every content that the builders make and both rich formats hold whole; what they do not hold is in the table of
 * limits, and tested row by row.
 */

/** Characters from several scripts, spaces of several kinds, and the signs that XML, HTML and Markdown use. */
const character = fc.oneof(
  { weight: 8, arbitrary: fc.constantFrom(...'abcdefgh ABC 019,.;:!?') },
  { weight: 2, arbitrary: fc.constantFrom(...'<>&"\'`*_[]#|~\\-+=/()') },
  {
    weight: 2,
    arbitrary: fc.constantFrom(
      'é',
      'ß',
      'ж',
      'ह',
      'ि',
      'م',
      '漢',
      '👩‍🚀',
      'e\u0301',
      '\u00a0',
      '\u2009',
      '\t',
      '  ',
      '£',
      '€',
    ),
  },
);
export const words = fc.array(character, { minLength: 1, maxLength: 12 }).map((characters) => characters.join(''));

/** Attributes hold no tabs. */
const oneLine = words.map((each) => each.replaceAll('\t', ' '));

const colour = fc.constantFrom('#1f3a4d', '#b5482f', '#00ff7f');
const link = fc.record(
  {
    href: fc.constantFrom('https://ferry.example/a?b=c&d=%20e', 'mailto:trust@ferry.example', '#landing'),
    title: fc.constantFrom('A "title"', 'x & y'),
  },
  { requiredKeys: ['href'] },
);

export const marks: fc.Arbitrary<Marks> = fc.record(
  {
    bold: fc.constant(true as const),
    italic: fc.constant(true as const),
    underline: fc.constant(true as const),
    strike: fc.constant(true as const),
    code: fc.constant(true as const),
    position: fc.constantFrom('superscript' as const, 'subscript' as const),
    font: fc.constantFrom('Georgia', 'Liberation Mono'),
    size: fc.constantFrom(8, 9.5, 14, 36),
    colour,
    background: colour,
    link,
    language: fc.constantFrom('fr', 'cy-GB'),
  },
  { requiredKeys: [] },
);

const text: fc.Arbitrary<Inline> = fc.tuple(words, fc.option(marks, { freq: 2 })).map(([characters, own]) => ({
  type: 'text',
  text: characters,
  ...(own && Object.keys(own).length > 0 && { marks: own }),
}));

export const picture: fc.Arbitrary<Picture> = fc
  .record({
    sample: fc.constantFrom(...samplePictures),
    width: fc.integer({ min: 8, max: 400 }),
    height: fc.integer({ min: 8, max: 400 }),
    alt: fc.option(oneLine, { nil: undefined }),
  })
  .map(({ sample, width, height, alt }) => ({
    media: sample.hash,
    mediaType: 'image/png',
    width: width * 0.75,
    height: height * 0.75,
    ...(alt !== undefined && { alt }),
  }));

const plainInline: fc.Arbitrary<Inline> = fc.oneof(
  { weight: 8, arbitrary: text },
  { weight: 1, arbitrary: fc.constant<Inline>({ type: 'break' }) },
  { weight: 1, arbitrary: picture.map((each): Inline => ({ type: 'picture', ...each })) },
);

/** A paragraph that holds only a picture is a picture, so there is always something else beside one. */
const inlinesOf = (inline: fc.Arbitrary<Inline>, minLength = 1): fc.Arbitrary<Inline[]> =>
  fc
    .array(inline, { minLength, maxLength: 5 })
    .map(joinText)
    .filter((all) => !(all.length === 1 && all[0]?.type === 'picture'));

const footnote: fc.Arbitrary<Inline> = fc
  .array(
    inlinesOf(plainInline)
      .filter(([first]) => first?.type === 'text' && !/^[ \t]/.test(first.text))
      .map((inlines): Block => ({ type: 'paragraph', inlines })),
    { minLength: 1, maxLength: 2 },
  )
  .map((blocks) => ({ type: 'footnote', blocks }));

export const inlines = inlinesOf(fc.oneof({ weight: 12, arbitrary: plainInline }, { weight: 1, arbitrary: footnote }));

const properties: fc.Arbitrary<ParagraphProperties> = fc.record(
  {
    align: fc.constantFrom('center' as const, 'end' as const, 'justify' as const),
    indent: fc.constantFrom(12, 36.5),
    direction: fc.constant('rtl' as const),
    style: fc.constantFrom('Letter body', 'Überschrift klein'),
  },
  { requiredKeys: [] },
);

const plainParagraph: fc.Arbitrary<Paragraph> = inlines.map((all) => ({ type: 'paragraph', inlines: all }));
const paragraph: fc.Arbitrary<Paragraph> = fc
  .tuple(plainParagraph, properties)
  .map(([plain, own]) => ({ ...plain, ...own }));
const emptyParagraph = fc.constant<Paragraph>({ type: 'paragraph', inlines: [] });

const heading: fc.Arbitrary<Block> = fc
  .tuple(fc.constantFrom(1 as const, 2 as const, 3 as const, 4 as const, 5 as const, 6 as const), inlines)
  .map(([level, all]) => ({ type: 'heading', level, inlines: all }));

const { list } = fc.letrec<{ list: List; item: ListItem }>((tie) => ({
  item: fc
    .record({
      first: plainParagraph,
      more: fc.array(plainParagraph, { maxLength: 1 }),
      nested: fc.option(tie('list'), { nil: undefined, depthSize: 'small', maxDepth: 3 }),
      checked: fc.option(fc.boolean(), { nil: undefined, freq: 3 }),
    })
    .map(({ first, more, nested, checked }) => ({
      blocks: [first, ...more, ...(nested ? [nested] : [])],
      ...(checked !== undefined && { checked }),
    })),
  list: fc
    .record({
      ordered: fc.boolean(),
      start: fc.option(fc.integer({ min: 2, max: 40 }), { nil: undefined }),
      numbered: fc.option(
        fc.constantFrom('lower-alpha' as const, 'upper-alpha' as const, 'lower-roman' as const, 'upper-roman' as const),
        { nil: undefined },
      ),
      bulleted: fc.option(fc.constantFrom('circle' as const, 'square' as const), { nil: undefined }),
      items: fc.array(tie('item'), { minLength: 1, maxLength: 3 }),
    })
    .map(({ ordered, start, numbered, bulleted, items }) => {
      const marker = ordered ? numbered : bulleted;
      return { type: 'list', ordered, ...(ordered && start && { start }), ...(marker && { marker }), items };
    }),
}));

export { list };

const tableCell: fc.Arbitrary<TableCell> = fc
  .record({
    blocks: fc.array(fc.oneof(plainParagraph, paragraph), { maxLength: 2 }),
    background: fc.option(colour, { nil: undefined, freq: 3 }),
  })
  .map(({ blocks, background }) => ({ blocks, ...(background && { background }) }));

/** A grid with at most one span, so that every row begins a cell. */
export const table: fc.Arbitrary<Table> = fc
  .record({
    grid: fc
      .tuple(fc.integer({ min: 1, max: 3 }), fc.integer({ min: 1, max: 4 }))
      .chain(([columns, rows]) =>
        fc.array(fc.array(tableCell, { minLength: columns, maxLength: columns }), { minLength: rows, maxLength: rows }),
      ),
    span: fc.constantFrom('none', 'across', 'down'),
    headerRows: fc.integer({ min: 0, max: 1 }),
    widths: fc.boolean(),
  })
  .map(({ grid, span, headerRows, widths }) => {
    const columns = grid[0]?.length ?? 0;
    const rows = grid.map((cells, row) => ({
      cells: cells.flatMap((cell, column): TableCell[] => {
        if (span === 'across' && columns > 1 && row === 0)
          return column === 0 ? [{ ...cell, columnSpan: 2 }] : column === 1 ? [] : [cell];
        if (span === 'down' && columns > 1 && grid.length > 1 && column === 0 && row < 2)
          return row === 0 ? [{ ...cell, rowSpan: 2 }] : [];
        return [cell];
      }),
    }));
    return {
      type: 'table',
      rows,
      ...(headerRows > 0 && { headerRows }),
      ...(widths && { columnWidths: grid[0]?.map((_, column) => 60 + 12.5 * column) ?? [] }),
    };
  });

const quote: fc.Arbitrary<Block> = fc
  .array(plainParagraph, { minLength: 1, maxLength: 2 })
  .map((blocks) => ({ type: 'quote', blocks }));
const code: fc.Arbitrary<Block> = fc
  .array(fc.oneof(words, fc.constant('')), { minLength: 1, maxLength: 3 })
  .map((lines) => ({ type: 'code', text: lines.join('\n') }));

export const block: fc.Arbitrary<Block> = fc.oneof(
  { weight: 5, arbitrary: paragraph },
  { weight: 1, arbitrary: emptyParagraph },
  { weight: 2, arbitrary: heading },
  { weight: 3, arbitrary: list },
  { weight: 2, arbitrary: table },
  { weight: 1, arbitrary: picture.map((each): Block => ({ type: 'picture', ...each })) },
  { weight: 1, arbitrary: quote },
  { weight: 1, arbitrary: code },
  { weight: 1, arbitrary: fc.constant<Block>({ type: 'rule' }) },
);

/** Blocks whose neighbours stay apart, with something to see at both ends. */
export const blocks: fc.Arbitrary<BlocksContent> = fc
  .array(block, { minLength: 1, maxLength: 6 })
  .map((all) => all.filter((each, index) => !joins(all[index - 1], each)))
  .map(trimEmpty)
  .filter((all) => all.length > 0)
  .map((all) => ({ shape: 'blocks', blocks: all }));

const joins = (before: Block | undefined, block: Block): boolean =>
  (block.type === 'quote' || block.type === 'code') && before?.type === block.type;

const isEmpty = (each: Block | undefined): boolean => each?.type === 'paragraph' && each.inlines.length === 0;

/** Without empty paragraphs at the ends and beside tables, where formats need their own. */
function trimEmpty(all: readonly Block[]): Block[] {
  const apart = all.filter(
    (each, index) => !(isEmpty(each) && (all[index - 1]?.type === 'table' || all[index + 1]?.type === 'table')),
  );
  const start = apart.findIndex((each) => !isEmpty(each));
  return start < 0 ? [] : apart.slice(start, apart.findLastIndex((each) => !isEmpty(each)) + 1);
}

export const allMedia: Media = new Map(samplePictures.map(({ hash, bytes }) => [hash, bytes]));
