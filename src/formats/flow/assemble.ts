import type {
  Alignment,
  Block,
  Code,
  Inline,
  InlinePicture,
  List,
  ListItem,
  ListMarker,
  PictureBlock,
} from '../../content/index.ts';
import type { SourceNode, Trace } from '../trace.ts';
import type { ParagraphMeaning } from './look.ts';

/** Flat paragraphs as blocks: items run together into nested lists, quoted and code paragraphs into one block each. */
export function assemble(raw: readonly RawBlock[], trace?: Trace): Block[] {
  const linked = (block: Block, paragraphs: readonly RawParagraph[]): Block => {
    trace?.link(
      block,
      paragraphs.flatMap(({ source }) => (source ? [source] : [])),
    );
    return block;
  };
  const single = (paragraph: RawParagraph): Block => linked(toBlock(paragraph), [paragraph]);
  const blocks: Block[] = [];
  for (let at = 0; at < raw.length; ) {
    const block = raw[at] as RawBlock;
    const end = runEnd(raw, at);
    const family = raw.slice(at, end) as RawParagraph[];
    if (block.kind === 'block') blocks.push(block.block);
    else if (block.item) blocks.push(...assembleLists(family, single));
    else if (block.meaning.kind === 'quote') blocks.push({ type: 'quote', blocks: family.map(single) });
    else if (block.meaning.kind === 'code') blocks.push(linked(assembleCode(family), family));
    else if (!partsTables(raw, at)) blocks.push(single(block));
    at = end;
  }
  return blocks;
}

/** Between two tables the format needs a paragraph; an empty one is not the author's. */
const partsTables = (raw: readonly RawBlock[], at: number): boolean => {
  const block = raw[at];
  return (
    block?.kind === 'paragraph' &&
    block.inlines.length === 0 &&
    !block.ruled &&
    isTable(raw[at - 1]) &&
    isTable(raw[at + 1])
  );
};

const isTable = (block: RawBlock | undefined): block is RawOther =>
  block?.kind === 'block' && block.block.type === 'table';

type Family = 'item' | 'quote' | 'code' | undefined;

function family(block: RawBlock | undefined): Family {
  if (block?.kind !== 'paragraph') return undefined;
  if (block.item) return 'item';
  return block.meaning.kind === 'quote' || block.meaning.kind === 'code' ? block.meaning.kind : undefined;
}

/** Where the family that begins at `start` ends: single blocks end at once, and a list takes its continuations along. */
function runEnd(raw: readonly RawBlock[], start: number): number {
  const first = family(raw[start]);
  let end = start + 1;
  while (first && (family(raw[end]) === first || (first === 'item' && isContinuation(raw[end])))) end++;
  return end;
}

const isContinuation = (block: RawBlock | undefined): boolean =>
  block?.kind === 'paragraph' && block.meaning.kind === 'continuation';

export function toBlock({ meaning, inlines, ruled, ...rest }: RawParagraph): Block {
  const { align, indent, direction } = rest;
  const properties = {
    ...(align && align !== 'start' && { align }),
    ...(indent !== undefined && indent > 0 && { indent }),
    ...(direction && { direction }),
  };
  if (meaning.kind === 'heading') {
    return {
      type: 'heading',
      level: meaning.level,
      inlines,
      ...properties,
      ...(meaning.style !== undefined && { style: meaning.style }),
    };
  }
  if (inlines.length === 0 && ruled) return { type: 'rule' };
  const [only] = inlines;
  if (inlines.length === 1 && only?.type === 'picture') return asPictureBlock(only);
  return { type: 'paragraph', inlines, ...properties, ...(meaning.kind === 'named' && { style: meaning.style }) };
}

const asPictureBlock = ({ type: _, ...picture }: InlinePicture): PictureBlock => ({ type: 'picture', ...picture });

const assembleCode = (paragraphs: readonly RawParagraph[]): Code => ({
  type: 'code',
  text: paragraphs.map(({ inlines }) => inlines.map(codeText).join('')).join('\n'),
});

function codeText(inline: Inline): string {
  if (inline.type === 'text') return inline.text;
  return inline.type === 'break' ? '\n' : '';
}

// --- Lists -----------------------------------------------------------------------------------------------------------

interface OpenItem {
  readonly blocks: Block[];
  readonly checked?: boolean;
}
interface OpenList {
  readonly first: NonNullable<RawParagraph['item']>;
  readonly items: OpenItem[];
}

/**
 * State: the lists open at this point, outermost first, each at a deeper level than the one before. An item closes the
 * lists deeper than itself; then it goes on with the innermost if that is its own list at its level, or opens another
 * inside the last item of the innermost.
 */
function assembleLists(paragraphs: readonly RawParagraph[], single: (paragraph: RawParagraph) => Block): Block[] {
  const done: Block[] = [];
  const open: OpenList[] = [];
  const close = (): void => {
    const list = open.pop();
    if (list) (open.at(-1)?.items.at(-1)?.blocks ?? done).push(finish(list));
  };
  for (const paragraph of paragraphs) {
    const { item, checked } = paragraph;
    if (!item) {
      open
        .at(-1)
        ?.items.at(-1)
        ?.blocks.push(single({ ...plainItem(paragraph), meaning: { kind: 'plain' } }));
      continue;
    }
    while (open.length > 0 && !holds(open.at(-1), item)) close();
    if (open.at(-1)?.first.level !== item.level) open.push({ first: item, items: [] });
    open.at(-1)?.items.push({ blocks: [single(plainItem(paragraph))], ...(checked !== undefined && { checked }) });
  }
  while (open.length > 0) close();
  return done;
}

/** Whether an item belongs to the open list, or inside its last item. */
const holds = (list: OpenList | undefined, item: OpenList['first']): boolean =>
  list !== undefined &&
  (list.first.level < item.level || (list.first.level === item.level && list.first.list === item.list));

/** The list indents its items, so an indent of their own says nothing. */
function plainItem({ indent: _, ...paragraph }: RawParagraph): RawParagraph {
  return paragraph;
}

function finish({ first, items }: OpenList): List {
  const { ordered, marker, number } = first;
  return {
    type: 'list',
    ordered,
    ...(ordered && number !== 1 && { start: number }),
    ...(marker && { marker }),
    items: items.map(finishItem),
  };
}

/** The paragraph that carries the number may be empty: it is there because the format needs one. */
function finishItem(item: OpenItem): ListItem {
  const [first, ...rest] = item.blocks;
  return first?.type === 'paragraph' && first.inlines.length === 0 ? { ...item, blocks: rest } : item;
}

/** What a story holds, flat as its format has it: quotes, and lists where they are numbered paragraphs, are still single. */
export type RawBlock = RawParagraph | RawOther;

/** An item's place in its list. */
export interface ItemNumber {
  /** Items of one list share it. */
  readonly list: string;
  readonly level: number;
  readonly ordered: boolean;
  readonly marker?: ListMarker;
  readonly number: number;
}

export interface RawParagraph {
  readonly kind: 'paragraph';
  readonly meaning: ParagraphMeaning;
  readonly inlines: readonly Inline[];
  readonly align?: Alignment;
  readonly indent?: number;
  readonly direction?: 'ltr' | 'rtl';
  readonly item?: ItemNumber;
  /** The state of a check box at its start. */
  readonly checked?: boolean;
  /** A line is drawn under it. */
  readonly ruled?: boolean;
  /** Where it was read from, when somebody asked. */
  readonly source?: SourceNode;
}

/** A block that is whole already, such as a table. */
export interface RawOther {
  readonly kind: 'block';
  readonly block: Block;
}
