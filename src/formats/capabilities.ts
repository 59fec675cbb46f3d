import { type BlockType, DrawerError, type Marks } from '../content/index.ts';
import type { Fragment } from '../places/index.ts';
import type { FormatName } from './format.ts';

/** What can be read from a format: the kinds of places it offers, and what of the content model its files hold. */
export interface Capabilities {
  readonly places: readonly Fragment['kind'][];
  readonly blocks: readonly BlockType[];
  readonly marks: readonly (keyof Marks)[];
  /** Typed cells with number formats and formulas. */
  readonly cells: boolean;
}

const prosePlaces = ['whole', 'section', 'paragraph', 'table', 'list', 'picture', 'bookmark', 'quote'] as const;
const allBlocks = ['paragraph', 'heading', 'list', 'table', 'picture', 'quote', 'code', 'rule'] as const;
const allMarks = [
  'bold',
  'italic',
  'underline',
  'strike',
  'code',
  'position',
  'font',
  'size',
  'colour',
  'background',
  'link',
  'language',
] as const;
const cellMarks = ['bold', 'italic', 'underline', 'strike', 'font', 'size', 'colour', 'link'] as const;

/** Of each format; that a format offers these kinds of places, and no others, is tested. */
export const capabilities: Readonly<Record<FormatName, Capabilities>> = {
  docx: { places: prosePlaces, blocks: allBlocks, marks: allMarks, cells: false },
  odt: { places: prosePlaces, blocks: allBlocks, marks: allMarks, cells: false },
  html: { places: prosePlaces, blocks: allBlocks, marks: allMarks, cells: true },
  markdown: {
    places: ['whole', 'section', 'paragraph', 'table', 'list', 'picture', 'bookmark', 'quote', 'line', 'char'],
    blocks: allBlocks,
    marks: ['bold', 'italic', 'underline', 'strike', 'code', 'position', 'background', 'link'],
    cells: false,
  },
  text: { places: ['whole', 'paragraph', 'quote', 'line', 'char'], blocks: ['paragraph'], marks: [], cells: false },
  xlsx: {
    places: ['whole', 'cells', 'name', 'bookmark', 'picture'],
    blocks: ['picture'],
    marks: cellMarks,
    cells: true,
  },
  ods: {
    places: ['whole', 'cells', 'name', 'bookmark', 'picture'],
    blocks: ['picture'],
    marks: cellMarks,
    cells: true,
  },
  csv: { places: ['whole', 'cells', 'row', 'col', 'cell'], blocks: [], marks: [], cells: true },
  picture: { places: ['whole', 'picture'], blocks: ['picture'], marks: [], cells: false },
  json: { places: ['whole', 'snippets'], blocks: allBlocks, marks: allMarks, cells: true },
};

/** @throws DrawerError `unsupported` for a bookmark around what lands in a format that has none */
export function checkBookmark(format: FormatName, bookmark: string | undefined): void {
  if (bookmark !== undefined && !capabilities[format].places.includes('bookmark'))
    throw new DrawerError('unsupported/bookmark-not-here');
}

/** Checks the name of a bookmark. @throws DrawerError `invalid` */
export function checkBookmarkName(name: string): void {
  if (!/^[A-Za-z]\w{0,39}$/.test(name)) throw new DrawerError('invalid/bookmark-name', { name });
}

/** Something of the content model that a format does not hold as it is, and what it becomes there. */
export interface LossyConversion {
  readonly formats: readonly FormatName[];
  readonly what: string;
  readonly becomes: string;
}

/**
 * What a new file does not give back as it went in. Everything else does, and both halves of that are tested for docx, odt
 * and html; the rows of Markdown and text say what is left out on writing.
 */
export const lossyConversions: readonly LossyConversion[] = [
  { formats: ['docx', 'html', 'odt'], what: 'words from inside a paragraph', becomes: 'a paragraph' },
  {
    formats: ['docx', 'odt'],
    what: 'a range of cells',
    becomes: 'a table of the text the cells show; values, number formats and formulas stay behind',
  },
  {
    formats: ['html'],
    what: 'a range of cells',
    becomes: 'a table that tells the values and number formats, as spreadsheets read them; formulas stay behind',
  },
  { formats: ['docx', 'html', 'odt'], what: 'a picture on its own', becomes: 'a picture between paragraphs' },
  {
    formats: ['docx', 'html', 'odt'],
    what: 'a paragraph that holds only a picture',
    becomes: 'a picture between paragraphs',
  },
  { formats: ['docx', 'html', 'odt'], what: 'empty paragraphs at the start or end', becomes: 'nothing' },
  { formats: ['docx', 'html', 'odt'], what: 'a list without items', becomes: 'nothing' },
  { formats: ['docx', 'html', 'odt'], what: 'a mark in the language of the whole file', becomes: 'no mark' },
  { formats: ['docx', 'odt'], what: 'a table without column widths', becomes: 'one with columns of equal width' },
  {
    formats: ['docx', 'odt'],
    what: 'a table or picture wider than the page',
    becomes: 'as wide as the page allows, in proportion',
  },
  { formats: ['docx'], what: 'an empty paragraph between two tables', becomes: 'nothing' },
  { formats: ['docx', 'odt'], what: 'quotes one after another', becomes: 'one quote' },
  { formats: ['docx', 'odt'], what: 'code blocks one after another', becomes: 'one code block' },
  { formats: ['docx', 'odt'], what: 'the programming language of code', becomes: 'nothing' },
  { formats: ['docx', 'odt'], what: 'a list, table or rule in a quote', becomes: 'a block beside the quote' },
  {
    formats: ['docx'],
    what: 'a table, quote, heading or code in a list item',
    becomes: 'a block after the item; the list goes on behind it',
  },
  { formats: ['docx'], what: 'lists more than nine deep', becomes: 'items of the ninth level' },
  { formats: ['docx'], what: 'a footnote in a footnote', becomes: 'nothing' },
  { formats: ['docx'], what: 'a mark with the font or size of the whole file', becomes: 'no mark' },
  { formats: ['docx', 'odt'], what: 'a paragraph said to run from left to right', becomes: 'one that does not say so' },
  { formats: ['odt'], what: 'a tab in alternative text', becomes: 'a space' },
  { formats: ['odt'], what: 'the check box of a list item', becomes: 'a sign in front of its words' },
  { formats: ['odt'], what: 'spaces in a row in alternative text', becomes: 'one space' },
  { formats: ['markdown'], what: 'underline, font, size, colours and language', becomes: 'plain words' },
  {
    formats: ['markdown'],
    what: 'alignment, indent, direction and style names of paragraphs',
    becomes: 'plain paragraphs',
  },
  {
    formats: ['markdown'],
    what: 'cells that cover several rows or columns',
    becomes: 'a cell with empty ones beside it',
  },
  { formats: ['markdown'], what: 'several paragraphs in a cell', becomes: 'lines parted by <br>' },
  { formats: ['markdown'], what: 'list markers other than numbers and bullets', becomes: 'numbers and bullets' },
  { formats: ['text'], what: 'marks', becomes: 'plain words; links lose their address' },
  { formats: ['text'], what: 'tables', becomes: 'lines with tabs between cells' },
  { formats: ['text'], what: 'pictures', becomes: 'their description in brackets' },
  { formats: ['text'], what: 'footnotes', becomes: 'words in brackets where the reference stood' },
];
