import {
  asBlocks,
  type Block,
  type Cell,
  type Content,
  DrawerError,
  eachOf,
  type Inline,
  inlineText,
  isSafeHref,
  joinText,
  type ListItem,
  lineBreak,
  type Note,
  parseContent,
  type StackOptions,
  stackRanges,
  stackTables,
  type TableCell,
  text,
  textWithBreaks,
} from '../content/index.ts';
import { apartNote, BlockChain, isCaptioned, stackedNote } from './neighbours.ts';
import type { ComposeJoin, ComposeOptions, JoinFunction, Piece } from './options.ts';
import { findWords } from './pattern.ts';

/**
 * Pieces by the join asked for or, where none is, the one that suits their shapes: one content, or several where ranges have
 * different headings.
 */
export function joinPieces(pieces: readonly Piece[], options: ComposeOptions, notes: Note[]): readonly Content[] {
  const contents = pieces.map(({ content }) => content);
  const join = options.join ?? suitable(contents);
  if (typeof join === 'function') return [parseContent(join(contents))];
  if (join === 'rows' && contents.every(isTabular)) return tablesInTurn(contents, notes, { rows: true });
  if (typeof join === 'string' && join in madeOfAll) return [madeOfAll[join as MadeOfAll](contents, options, notes)];
  const [only] = contents;
  if (contents.length === 1 && only) return [only];
  const isOfRanges = contents.length > 0 && contents.every(({ shape }) => shape === 'cells');
  if (isOfRanges && join !== 'blank-line' && typeof join === 'string') return tablesInTurn(contents, notes, {});
  return [
    join === 'paragraph' || join === 'blank-line'
      ? inParagraphs(contents, join === 'blank-line', options, notes)
      : inLine(contents, join, options, notes),
  ];
}

const isTabular = (content: Content): boolean =>
  content.shape === 'cells' ||
  (content.shape === 'blocks' && content.blocks.length === 1 && content.blocks[0]?.type === 'table');

/** Each under the one above it where the two are one table, else by itself. */
function tablesInTurn(contents: readonly Content[], notes: Note[], options: StackOptions): readonly Content[] {
  const isOfRanges = contents.every(({ shape }) => shape === 'cells');
  const tables = isOfRanges
    ? contents
    : contents.map((content): Content => ({ shape: 'blocks', blocks: asBlocks(content) }));
  const parts: Content[] = [];
  for (const table of tables) {
    const above = parts.at(-1);
    const together = above && stacked(above, table, notes, options);
    if (together) parts[parts.length - 1] = together;
    else parts.push(table);
    if (above && !(isLine(above) && isLine(table))) notes.push(together ? stackedNote : apartNote);
  }
  return parts;
}

/** One row, of which nobody would say that it was stacked. */
const isLine = (content: Content): boolean => content.shape === 'cells' && content.rows.length === 1;

function stacked(above: Content, below: Content, notes: Note[], options: StackOptions): Content | undefined {
  if (above.shape === 'cells' && below.shape === 'cells') return stackRanges(above, below, notes, options);
  const [first, second] = [asBlocks(above)[0], asBlocks(below)[0]];
  const table =
    first?.type === 'table' && second?.type === 'table' ? stackTables(first, second, notes, options) : undefined;
  return table && { shape: 'blocks', blocks: [table] };
}

/** Words never become paragraphs unless that is asked for, or they stand among paragraphs. */
const suitable = (contents: readonly Content[]): ComposeJoin =>
  contents.length > 0 && contents.every(({ shape }) => shape === 'run') ? 'space' : 'paragraph';

function inParagraphs(contents: readonly Content[], blankBetween: boolean, options: ComposeOptions, notes: Note[]) {
  const chain = new BlockChain(options.neighbours ?? [], notes);
  contents.forEach((content, index) => {
    const blocks = asBlocks(content);
    if (blankBetween && index > 0 && !isCaptioned(chain.last, blocks[0])) chain.addApart(blankLine);
    chain.add(blocks);
  });
  return chain.content;
}

const blankLine: Block = { type: 'paragraph', inlines: [] };

type InlineJoin = Exclude<ComposeJoin, 'paragraph' | 'blank-line' | MadeOfAll | JoinFunction>;

/** Words after words with the join between them; what is more than words stands by itself. */
function inLine(contents: readonly Content[], join: ComposeJoin, options: ComposeOptions, notes: Note[]): Content {
  const chain = new BlockChain(options.neighbours ?? [], notes);
  const between = inlinesBetween(join as InlineJoin);
  let line: Inline[] | undefined;
  let isRun = true;
  const flush = (): void => {
    if (line) chain.addApart({ type: 'paragraph', inlines: joinText(line) });
    line = undefined;
  };
  for (const content of contents) {
    const words = findWords(content);
    isRun &&= words !== undefined && content.shape !== 'blocks';
    if (!words) {
      flush();
      chain.add(asBlocks(content));
    } else if (line) line.push(...between, ...words);
    else line = [...words];
  }
  if (isRun && line) return { shape: 'run', inlines: joinText(line) };
  flush();
  return chain.content;
}

function inlinesBetween(join: InlineJoin): readonly Inline[] {
  if (typeof join === 'object') return textWithBreaks(join.text);
  return { nothing: [], space: [text(' ')], line: [lineBreak] }[join];
}

// --- Joins that make something new of all pieces -----------------------------------------------------------------------

type MadeOfAll = 'sentence' | 'bullets' | 'numbers' | 'checks' | 'rows' | 'link';
type Maker = (contents: readonly Content[], options: ComposeOptions, notes: Note[]) => Content;

const madeOfAll: { readonly [K in MadeOfAll]: Maker } = {
  sentence: inSentence,
  bullets: (contents) => asList(contents, {}),
  numbers: (contents) => asList(contents, { ordered: true }),
  checks: (contents) => asList(contents, { checked: false }),
  rows: asRows,
  link: (contents) => asLink(contents),
};

/** The language's own list (Unicode TR 35, part 2, section 11): `oak, larch and elm`. */
function inSentence(contents: readonly Content[], { language = 'en-GB', last = 'and' }: ComposeOptions): Content {
  const words = contents.map((content) => {
    const found = findWords(content);
    if (found) return found;
    throw new DrawerError('usage/sentence-of-blocks');
  });
  const list = new Intl.ListFormat(language, { type: last === 'or' ? 'disjunction' : 'conjunction' });
  const parts = list.formatToParts(words.map((_, index) => String(index)));
  return {
    shape: 'run',
    inlines: joinText(
      parts.flatMap(({ type, value }) => (type === 'element' ? trimmed(words[Number(value)] ?? []) : [text(value)])),
    ),
  };
}

const trimmed = (inlines: readonly Inline[]): Inline[] =>
  inlines.flatMap((inline, index): Inline[] => {
    if (inline.type !== 'text') return [inline];
    const start = index === 0 ? inline.text.trimStart() : inline.text;
    const words = index === inlines.length - 1 ? start.trimEnd() : start;
    return words === '' ? [] : [{ ...inline, text: words }];
  });

/** An item a piece; the items of a list that is all of a piece are items too. */
function asList(
  contents: readonly Content[],
  { ordered = false, checked }: { ordered?: boolean; checked?: boolean },
): Content {
  const items = contents.flatMap((content): ListItem[] => {
    const words = findWords(content);
    const blocks: readonly Block[] = words ? [{ type: 'paragraph', inlines: words }] : asBlocks(content);
    const [only] = blocks;
    const own: readonly ListItem[] = blocks.length === 1 && only?.type === 'list' ? only.items : [{ blocks }];
    return own.map((item) => (checked === undefined || item.checked !== undefined ? item : { ...item, checked }));
  });
  return { shape: 'blocks', blocks: items.length === 0 ? [] : [{ type: 'list', ordered, items }] };
}

/** A row a piece: its rows if it has some, else its parts along one row. */
function asRows(contents: readonly Content[]): Content {
  if (contents.every(({ shape }) => shape === 'cells' || shape === 'run')) {
    const rows = contents.flatMap((content): readonly (readonly Cell[])[] =>
      content.shape === 'cells' ? content.rows : [[wordCell(content)]],
    );
    return { shape: 'cells', rows: evened(rows, { type: 'empty' }) };
  }
  const rows = contents.flatMap((content): TableCell[][] => {
    const [only] = asBlocks(content);
    if (asBlocks(content).length === 1 && only?.type === 'table') return only.rows.map(({ cells }) => [...cells]);
    return [eachOf(content).map((part) => ({ blocks: asBlocks(part) }))];
  });
  return {
    shape: 'blocks',
    blocks: [{ type: 'table', rows: evened(rows, { blocks: [] }).map((cells) => ({ cells })) }],
  };
}

const wordCell = (content: Content): Cell => {
  const words = inlineText(findWords(content) ?? []);
  return words === '' ? { type: 'empty' } : { type: 'text', value: words };
};

function evened<T>(rows: readonly (readonly T[])[], filler: T): T[][] {
  const width = rows.reduce((most, row) => Math.max(most, row.length), 0);
  return rows.map((row) => [...row, ...Array.from({ length: width - row.length }, () => filler)]);
}

/** A text and an address, in whichever order they came, as one linked text. */
function asLink(contents: readonly Content[]): Content {
  const words = contents.map((content) => inlineText(findWords(content) ?? []).trim());
  const isAddress = (each: string): boolean => /^[a-z][a-z\d+.-]*:\S+$/i.test(each) && isSafeHref(each);
  const at = words.findIndex(isAddress);
  const label = findWords(contents[at === 0 ? 1 : 0] ?? { shape: 'run', inlines: [] });
  const href = words[at];
  if (contents.length !== 2 || href === undefined || !label || label.length === 0)
    throw new DrawerError('usage/link-needs-two');
  return {
    shape: 'run',
    inlines: trimmed(label).map((inline) =>
      inline.type === 'text' ? { ...inline, marks: { ...inline.marks, link: { href } } } : inline,
    ),
  };
}
