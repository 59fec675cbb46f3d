import type {
  Block,
  BlocksContent,
  Code,
  Footnote,
  Heading,
  HeadingLevel,
  Inline,
  LineBreak,
  List,
  ListItem,
  Marks,
  Paragraph,
  Quote,
  Rule,
  RunContent,
  Table,
  TableCell,
  Text,
} from './model.ts';

/**
 * Small builders that read like the document they make: `doc(heading(1, 'Hull'), paragraph('Sound ', bold('oak')))`.
 * They bring inlines to their normal form, so that equal content is equal JSON.
 */

/** A string stands for itself: unmarked text whose line ends become breaks. */
export type InlineInput = Inline | string;
/** A block, or words for a paragraph. */
export type BlockInput = Block | string;

export const lineBreak: LineBreak = { type: 'break' };
export const rule: Rule = { type: 'rule' };

/** Line ends in it become spaces; `textWithBreaks` keeps them. */
export function text(words: string, marks: Marks = {}): Text {
  const clean = inOneLine(words);
  return Object.keys(marks).length === 0 ? { type: 'text', text: clean } : { type: 'text', text: clean, marks };
}
export const bold = (words: string): Text => text(words, { bold: true });
export const italic = (words: string): Text => text(words, { italic: true });
export const link = (words: string, href: string): Text => text(words, { link: { href } });

/** Words from inside a paragraph; a string is text without marks. */
export const run = (...inlines: InlineInput[]): RunContent => ({ shape: 'run', inlines: toInlines(inlines) });
/** Whole blocks; a string is a paragraph. */
export const doc = (...blocks: BlockInput[]): BlocksContent => ({ shape: 'blocks', blocks: toBlocks(blocks) });

/** A paragraph; a string is text without marks. */
export const paragraph = (...inlines: InlineInput[]): Paragraph => ({ type: 'paragraph', inlines: toInlines(inlines) });
/** A heading of level 1 to 6. */
export const heading = (level: HeadingLevel, ...inlines: InlineInput[]): Heading => ({
  type: 'heading',
  level,
  inlines: toInlines(inlines),
});
export const quote = (...blocks: BlockInput[]): Quote => ({ type: 'quote', blocks: toBlocks(blocks) });
export const code = (words: string, syntax?: string): Code =>
  syntax === undefined ? { type: 'code', text: words } : { type: 'code', text: words, syntax };
export const footnote = (...blocks: BlockInput[]): Footnote => ({ type: 'footnote', blocks: toBlocks(blocks) });

export const item = (...blocks: BlockInput[]): ListItem => ({ blocks: toBlocks(blocks) });
export const checkItem = (checked: boolean, ...blocks: BlockInput[]): ListItem => ({ ...item(...blocks), checked });
/** A list with bullets; a string is an item of one paragraph. */
export const bullets = (...items: (ListItem | string)[]): List => ({
  type: 'list',
  ordered: false,
  items: items.map(toItem),
});
/** A numbered list from 1; a string is an item of one paragraph. */
export const numbers = (...items: (ListItem | string)[]): List => ({
  type: 'list',
  ordered: true,
  items: items.map(toItem),
});

/** Rows of cells; `headerRows` of them at the top are headings. */
export const table = (headerRows: number, ...rows: (TableCell | string)[][]): Table => ({
  type: 'table',
  ...(headerRows > 0 && { headerRows }),
  rows: rows.map((cells) => ({ cells: cells.map((each) => (typeof each === 'string' ? cell(each) : each)) })),
});
export const cell = (...blocks: BlockInput[]): TableCell => ({
  blocks: toBlocks(blocks.filter((each) => each !== '')),
});

const toItem = (each: ListItem | string): ListItem => (typeof each === 'string' ? item(each) : each);
const toBlocks = (blocks: readonly BlockInput[]): Block[] =>
  blocks.map((each) => (typeof each === 'string' ? paragraph(each) : each));
const toInlines = (inlines: readonly InlineInput[]): Inline[] =>
  joinText(inlines.flatMap((each) => (typeof each === 'string' ? textWithBreaks(each) : [each])));

/** Words without what text cannot hold: line ends are spaces, other control characters but the tab are left out. */
export const inOneLine = (words: string): string =>
  /[\u0000-\u0008\u000a-\u001f\u007f-\u009f]/.test(words)
    ? words.replace(/[\n\r\u0085]+/g, ' ').replace(/[\u0000-\u0008\u000b-\u001f\u007f-\u009f]/g, '')
    : words;

const lineEnd = /[\n\v\f\r\u2028\u2029]/;

/** Words whose line ends (LF, CR LF, CR, and Unicode's mandatory breaks) become breaks. */
export function textWithBreaks(words: string, marks: Marks = {}): Inline[] {
  if (!lineEnd.test(words)) return words === '' ? [] : [text(words, marks)]; // most
  const lines = words.split(/\r\n|[\n\v\f\r\u2028\u2029]/);
  return lines.flatMap((line, index) => {
    const one = text(line, marks);
    const inline: Inline[] = one.text === '' ? [] : [one];
    return index === 0 ? inline : [lineBreak, ...inline];
  });
}

/** The normal form of inlines: no empty text, and neighbours with the same marks are one. */
export function joinText(inlines: readonly Inline[]): Inline[] {
  const joined: Inline[] = [];
  for (const inline of inlines) {
    const before = joined.at(-1);
    if (inline.type !== 'text') joined.push(inline);
    else if (inline.text === '') continue;
    else if (before?.type === 'text' && sameMarks(before.marks, inline.marks)) {
      joined[joined.length - 1] = { ...before, text: before.text + inline.text };
    } else joined.push(inline);
  }
  return joined;
}

/** Whether two sets of marks look the same, whatever the order their keys were set in. */
export function sameMarks(one: Marks = {}, other: Marks = {}): boolean {
  if (one === other) return true;
  const keys = Object.keys(one) as (keyof Marks)[];
  return keys.length === Object.keys(other).length && keys.every((key) => sameMark(one[key], other[key]));
}

const sameMark = (one: Marks[keyof Marks], other: Marks[keyof Marks]): boolean =>
  one === other ||
  (typeof one === 'object' && typeof other === 'object' && one.href === other.href && one.title === other.title);
