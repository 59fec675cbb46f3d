import type { BlockType, Marks } from '../content/index.ts';
import type { Fragment } from '../places/index.ts';
import type { FormatName } from './format.ts';

/** What can be taken from a format: the kinds of places it offers, and what of the content model its files hold. */
export interface Holdings {
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
export const holdings: Readonly<Record<FormatName, Holdings>> = {
  docx: { places: prosePlaces, blocks: allBlocks, marks: allMarks, cells: false },
  odt: { places: prosePlaces, blocks: allBlocks, marks: allMarks, cells: false },
  html: { places: prosePlaces, blocks: allBlocks, marks: allMarks, cells: true },
  markdown: {
    places: ['whole', 'section', 'paragraph', 'table', 'list', 'picture', 'quote', 'line', 'char'],
    blocks: allBlocks,
    marks: ['bold', 'italic', 'underline', 'strike', 'code', 'position', 'background', 'link'],
    cells: false,
  },
  text: { places: ['whole', 'paragraph', 'quote', 'line', 'char'], blocks: ['paragraph'], marks: [], cells: false },
  xlsx: { places: ['whole', 'cells', 'name', 'picture'], blocks: ['picture'], marks: cellMarks, cells: true },
  ods: { places: ['whole', 'cells', 'name', 'picture'], blocks: ['picture'], marks: cellMarks, cells: true },
  csv: { places: ['whole', 'cells', 'row', 'col', 'cell'], blocks: [], marks: [], cells: true },
  picture: { places: ['whole', 'picture'], blocks: ['picture'], marks: [], cells: false },
  json: { places: ['whole', 'snippets'], blocks: allBlocks, marks: allMarks, cells: true },
};
