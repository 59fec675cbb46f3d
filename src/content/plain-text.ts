import { asBlocks, cellText, coveredPlaces } from './as-blocks.ts';
import type { Block, BlockType, CellsContent, Content, Inline, List, ListMarker } from './model.ts';

/**
 * Content as plain text: a blank line between blocks, list items with their markers, table cells parted by tabs, a
 * picture as its alternative text in brackets. Lines end with `\n`; there is none at the end.
 */
export function plainText(content: Content): string {
  if (content.shape === 'run') return inlineText(content.inlines);
  return content.shape === 'cells' ? rangeText(content) : blocksText(asBlocks(content));
}

/** As the table of the range would be written, which would have to be made first. */
function rangeText({ rows }: CellsContent): string {
  const covered = coveredPlaces(rows);
  const isShown = (row: number, column: number): boolean => covered.size === 0 || !covered.has(`${row},${column}`);
  return rows
    .map((row, at) =>
      row
        .filter((_, column) => isShown(at, column))
        .map((cell) => oneLine(cellText(cell)))
        .join('\t'),
    )
    .join('\n');
}

/** The words of inlines: breaks as line ends, footnotes in brackets after their reference. */
export const inlineText = (inlines: readonly Inline[]): string => inlines.map(oneInline).join('');

function oneInline(inline: Inline): string {
  switch (inline.type) {
    case 'text':
      return inline.text;
    case 'break':
      return '\n';
    case 'picture':
      return pictureText(inline.alt);
    case 'footnote':
      return ` [${blocksText(inline.blocks)}]`;
  }
}

export const blocksText = (blocks: readonly Block[], between = '\n\n'): string =>
  blocks.map((block) => (writers[block.type] as (block: Block) => string)(block)).join(between);

/** What stands for a picture. */
export const pictureText = (alt: string | undefined): string => (alt ? `[picture: ${alt}]` : '[picture]');

const writers: { readonly [K in BlockType]: (block: Extract<Block, { type: K }>) => string } = {
  paragraph: ({ inlines }) => inlineText(inlines),
  heading: ({ inlines }) => inlineText(inlines),
  list: listText,
  table: ({ rows }) =>
    rows.map(({ cells }) => cells.map(({ blocks }) => oneLine(blocksText(blocks, ' '))).join('\t')).join('\n'),
  picture: ({ alt }) => pictureText(alt),
  quote: ({ blocks }) => indented(blocksText(blocks), '> '),
  code: ({ text }) => text,
  rule: () => '* * *',
};

const oneLine = (words: string): string => (/\s/.test(words) ? words.replace(/\s+/g, ' ').trim() : words);

const indented = (words: string, first: string, rest = first): string =>
  words
    .split('\n')
    .map((line, index) => `${index === 0 ? first : rest}${line}`.trimEnd())
    .join('\n');

function listText(list: List): string {
  return list.items
    .map((item, index) => {
      const box = item.checked === undefined ? '' : item.checked ? '[x] ' : '[ ] ';
      const marker = `${itemMarker(list, index)} ${box}`;
      return indented(blocksText(item.blocks, '\n'), marker, ' '.repeat(marker.length));
    })
    .join('\n');
}

/** The marker in front of the list's item at `index` (from 0), such as `-`, `3.` or `iv.`. */
export const itemMarker = (list: List, index: number): string =>
  list.ordered ? `${ordinal((list.start ?? 1) + index, list.marker)}.` : '-';

function ordinal(number: number, marker: ListMarker | undefined): string {
  if (number < 1) return String(number);
  const upper = marker?.startsWith('upper') ? (letters: string) => letters.toUpperCase() : (letters: string) => letters;
  if (marker?.endsWith('alpha')) return upper(alphabetic(number));
  if (marker?.endsWith('roman') && number < 4000) return upper(roman(number));
  return String(number);
}

const alphabetic = (number: number): string =>
  number <= 26
    ? String.fromCharCode(96 + number)
    : alphabetic(Math.floor((number - 1) / 26)) + alphabetic(((number - 1) % 26) + 1);

const romanParts = [
  [1000, 'm'],
  [900, 'cm'],
  [500, 'd'],
  [400, 'cd'],
  [100, 'c'],
  [90, 'xc'],
  [50, 'l'],
  [40, 'xl'],
  [10, 'x'],
  [9, 'ix'],
  [5, 'v'],
  [4, 'iv'],
  [1, 'i'],
] as const;

function roman(number: number): string {
  let left = number;
  let letters = '';
  for (const [value, part] of romanParts) {
    while (left >= value) {
      letters += part;
      left -= value;
    }
  }
  return letters;
}
