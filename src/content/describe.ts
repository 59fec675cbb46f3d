import { asBlocks, cellText } from './as-blocks.ts';
import { columnCount, rangeSize } from './grid.ts';
import type { Message } from './message.ts';
import type { Block, Content, List, Table } from './model.ts';
import { blocksText, inlineText, pictureText, plainText } from './plain-text.ts';
import { picturesIn } from './walk.ts';

/** All kinds of content that a description names. */
export const descriptionKinds = [
  'words',
  'cell',
  'table',
  'list',
  'picture',
  'section',
  'paragraph',
  'paragraphs',
  'heading',
  'quote',
  'code',
  'rule',
  'blocks',
  'nothing',
  'secret',
] as const;

/**
 * The kind of content and its measure: `rows` and `columns` of a table, `count` of items, paragraphs or blocks, `width` and `height`
 * of a picture in points.
 */
export interface Description {
  readonly kind: (typeof descriptionKinds)[number];
  readonly params?: Readonly<Record<string, number>>;
}

/** A description as a part of a sentence. */
export const whatOf = ({ kind, params }: Description): Message =>
  kind === 'picture' && params
    ? { kind: 'what.picture.sized', params }
    : { kind: `what.${kind}`, ...(params && { params }) };

/** Describes content by its kind and measure, without words. */
export function describe(content: Content): Description {
  switch (content.shape) {
    case 'run':
      return { kind: 'words' };
    case 'cells':
      return describeCells(rangeSize(content));
    case 'picture':
      return describePicture(content.picture);
    case 'blocks':
      return describeBlocks(content.blocks);
  }
}

const describeCells = ({ rows, columns }: ReturnType<typeof rangeSize>): Description =>
  rows === 1 && columns === 1 ? { kind: 'cell' } : { kind: 'table', params: { rows, columns } };

const describePicture = ({ width, height }: { width?: number; height?: number }): Description =>
  width && height
    ? { kind: 'picture', params: { width: Math.round(width), height: Math.round(height) } }
    : { kind: 'picture' };

function describeBlocks(blocks: readonly Block[]): Description {
  const [only] = blocks;
  if (only === undefined) return { kind: 'nothing' };
  if (blocks.length === 1) return describeBlock(only);
  if (only.type === 'heading') return { kind: 'section' };
  const areParagraphs = blocks.every((block) => block.type === 'paragraph');
  return { kind: areParagraphs ? 'paragraphs' : 'blocks', params: { count: blocks.length } };
}

function describeBlock(block: Block): Description {
  switch (block.type) {
    case 'list':
      return { kind: 'list', params: { count: block.items.length } };
    case 'table':
      return { kind: 'table', params: { rows: block.rows.length, columns: columnCount(block) } };
    case 'picture':
      return describePicture(block);
    default:
      return { kind: block.type };
  }
}

/** The beginning of content on one line, at most `length` UTF-16 units; `…` marks a cut. */
export function preview(content: Content, length = 160): string {
  const line = beginning(content, length * 4)
    .replace(/\s+/g, ' ')
    .trim();
  return clipped(line, length);
}

/** Cuts words to at most `length` UTF-16 units, never within a character; `…` marks a cut. */
export function clipped(words: string, length: number): string {
  if (words.length <= length) return words;
  const cut = words.slice(0, length - 1);
  return `${/[\uD800-\uDBFF]$/.test(cut) ? cut.slice(0, -1) : cut}…`;
}

/** The beginning of content, long enough for a preview. */
function beginning(content: Content, enough: number): string {
  if (content.shape === 'run') return inlineText(content.inlines);
  if (content.shape === 'cells')
    return rowsBeginning(
      content.rows.map((row) => row.map(cellText)),
      enough,
    );
  let words = '';
  for (const block of asBlocks(content)) {
    words += `${blockBeginning(block, enough)} `;
    if (words.length > enough) break;
  }
  return words;
}

function blockBeginning(block: Block, enough: number): string {
  if (block.type === 'table') return tableBeginning(block, enough);
  return block.type === 'list' ? listBeginning(block) : blocksText([block]);
}

const listBeginning = ({ items }: List): string =>
  items.map(({ blocks }) => blocks.map((block) => blockBeginning(block, 200)).join(' · ')).join(' · ');

const tableBeginning = (table: Table, enough: number): string =>
  rowsBeginning(
    table.rows.slice(0, enough).map(({ cells }) => cells.map(({ blocks }) => blocksText(blocks, ' '))),
    enough,
  );

function rowsBeginning(rows: readonly (readonly string[])[], enough: number): string {
  let words = '';
  for (const row of rows) {
    words += `${row.filter((cell) => cell.trim() !== '').join(' · ')} / `;
    if (words.length > enough) break;
  }
  return words.replace(/( \/ )+$/, '');
}

/** The length of content; descriptions of pictures do not count. */
export interface Counts {
  /** Extended grapheme clusters (Unicode UAX #29), without line ends. */
  readonly characters: number;
  /** Words by the rules of the language (UAX #29 and dictionaries, as in `Intl.Segmenter`). */
  readonly words: number;
  /** Lines that are not blank. */
  readonly lines: number;
  /** The size of its plain text in UTF-8. */
  readonly bytes: number;
}

/** Measures the plain text of content. @param language - decides word breaks, a BCP 47 tag */
export function measure(content: Content, language = 'en'): Counts {
  const words = plainText(content);
  const described = descriptions(content);
  if (described === '' && plainWords.test(words)) return measurePlain(words);
  return {
    characters: countGraphemes(words, language) - countGraphemes(described, language),
    words: countWords(words, language) - countWords(described, language),
    lines: words.split('\n').filter((line) => line.trim() !== '').length,
    bytes: new TextEncoder().encode(words).length,
  };
}

/** Counts a line that every language counts alike. */
const measurePlain = (words: string): Counts => ({
  characters: words.length,
  words: countPlain(words),
  lines: words.trim() === '' ? 0 : 1,
  bytes: words.length,
});

/** Counts the words of blocks like `measure`. */
export function countBlockWords(blocks: readonly Block[], language = 'en'): number {
  return countWords(blocksText(blocks), language) - countWords(descriptions({ shape: 'blocks', blocks }), language);
}

/** The placeholders of pictures in plain text, separated from words by brackets. */
const descriptions = (content: Content): string =>
  [...picturesIn(content)].map(({ alt }) => pictureText(alt)).join('\n');

/** Printable ASCII has one character per code unit, so most text needs no segmenter. */
const plainLine = /^[\t\x20-\x7e]*$/;

/** Runs of other characters with one neighbour on each side: a mark joins the letter before it (UAX #29, GB9), a prepended mark the letter after it (GB9b). */
const otherThanPlain = /[\t\x20-\x7e]?(?:[^\t\x20-\x7e]+[\t\x20-\x7e]?)+/g;

function countGraphemes(words: string, language: string): number {
  let segmenter: Intl.Segmenter | undefined;
  let count = 0;
  for (const piece of pieces(words)) {
    count += piece.length;
    if (plainLine.test(piece)) continue;
    segmenter ??= new Intl.Segmenter(language, { granularity: 'grapheme' });
    for (const [clusters] of piece.matchAll(otherThanPlain)) {
      count -= clusters.length;
      for (const _ of segmenter.segment(clusters)) count++;
    }
  }
  return count;
}

/** Counts words by the rules of the language. */
export function countWords(words: string, language = 'en'): number {
  let segmenter: Intl.Segmenter | undefined;
  let count = 0;
  for (const piece of pieces(words)) {
    for (const part of plainWords.test(piece) ? [piece] : piece.split(betweenWords)) {
      if (plainWords.test(part)) count += countPlain(part);
      else {
        segmenter ??= new Intl.Segmenter(language, { granularity: 'word' });
        for (const segment of segmenter.segment(part)) if (segment.isWordLike) count++;
      }
    }
  }
  return count;
}

const countPlain = (words: string): number =>
  words.match(/[A-Za-z0-9]+(?:(?<=[0-9])[.,](?=[0-9])[A-Za-z0-9]+)*/g)?.length ?? 0;

/**
 * ASCII text without characters that can occur within words, except the point and comma of numbers (UAX #29, WB11 and WB12). Every
 * language splits it alike, and most text is like this.
 */
const plainWords = /^(?:[A-Za-z0-9 \t"()!?&-]|(?<=[0-9])[.,](?=[0-9])|[.,;:'](?![A-Za-z0-9]))*$/;

/** A space or tab splits words, unless a mark follows it (UAX #29, WB4). */
const betweenWords = /[ \t](?=[\x21-\x7e])/;

/** The maximum length for the segmenter, whose time grows with the square of the length. */
const longestPiece = 1000;

/** Splits text into lines, and long lines at spaces, where no word or character continues. */
function* pieces(words: string): Generator<string> {
  for (const line of words.split(/[\n\r]+/)) {
    let rest = line;
    while (rest.length > longestPiece) {
      const space = rest.lastIndexOf(' ', longestPiece);
      const end = space > 0 ? space : wholeCharacter(rest, longestPiece);
      yield rest.slice(0, end);
      rest = rest.slice(end);
    }
    yield rest;
  }
}

/** Moves a cut out of a surrogate pair. */
const wholeCharacter = (text: string, at: number): number => (/[\uDC00-\uDFFF]/.test(text[at] ?? '') ? at - 1 : at);
