import {
  asBlocks,
  type Block,
  type Content,
  childBlocks,
  columnCount,
  DrawerError,
  gapNotes,
  type Inline,
  type List,
  type ListItem,
  type Message,
  type Note,
  type PlacedCell,
  plainText,
  restyle,
  shiftHeadings,
} from '../content/index.ts';
import { type Fragment, type NumberedFragment, printFragment } from '../places/index.ts';
import type { Insertion, Side } from './format.ts';
import {
  type Around,
  type BlockTarget,
  type InsertGrammar,
  signsAround,
  spaced,
  type TracedProse,
  type WordTarget,
} from './insertion-grammar.ts';
import { numberedBlocks, type Selected, type SelectedPart, selectProse } from './prose.ts';
import { removalEdits } from './removal.ts';
import { belowPlace, gridPlace, startsBelow } from './table-cells.ts';
import { gridEdits, tableNodes, valuesOf } from './table-insertion.ts';
import type { TextEdit } from './text-edits.ts';
import { leavesIn, nodesOf, type Piece, SourceNode } from './trace.ts';

export interface ProseInsertion {
  readonly edits: readonly TextEdit[];
  readonly notes: readonly Note[];
  /** The insertion's position as a message: `landed.after` with a place, and so on. */
  readonly where: Message;
  /** The replaced words. */
  readonly replaced?: string;
  /** The table cell after which a sequence continues. */
  readonly cells?: string;
}

/** The edits that insert content at a place of running text. Everything else stays byte for byte. */
export function insertionEdits(
  source: string,
  prose: TracedProse,
  fragment: Fragment,
  { content, side: wanted, style, over, bookmark }: Pick<Insertion, 'content' | 'side' | 'style' | 'over' | 'bookmark'>,
  grammar: InsertGrammar,
): ProseInsertion {
  const intoTable =
    fragment.kind === 'table' && tableLanding(source, prose, fragment, { content, side: wanted, style, over }, grammar);
  if (intoTable) return intoTable;
  const isInCell = fragment.kind === 'table' && fragment.cells !== undefined;
  const side = wanted ?? (fragment.kind === 'whole' || isInCell ? 'end' : 'after');
  const selected = selectProse(prose, fragment);
  const where = landedAt(side, selected.place);
  const asked = restyle(content, style);
  // Within a table cell, a single cell lands as its words.
  const words = isInCell && asked.shape === 'cells' ? inlinesOf(asked) : undefined;
  const styled: Content = words ? { shape: 'run', inlines: words } : asked;
  const landing = new Landing(source, prose, grammar, selected, side, bookmark !== undefined);
  const edits = landing.edits(style === 'original' ? styled : fitted(styled, prose.blocks, selected, side));
  return {
    edits,
    notes: [...gapNotes(content), ...landing.notes],
    where,
    ...(isInCell && { cells: printFragment(fragment) }),
    ...(side === 'replace' && { replaced: plainText(selected.content) }),
  };
}

/** Rows of cells, or one value in a new row, for a table of the text; `undefined` for any other place. */
function tableLanding(
  source: string,
  prose: TracedProse,
  fragment: NumberedFragment,
  { content, side = 'end', style, over }: Pick<Insertion, 'content' | 'side' | 'style' | 'over'>,
  grammar: InsertGrammar,
): ProseInsertion | undefined {
  const table = numberedBlocks(prose.blocks, 'table')[fragment.from - 1]?.block;
  const styled = restyle(content, style);
  if (table?.type !== 'table' || fragment.from !== fragment.to) return undefined;
  const isNewRow = startsBelow(table, fragment);
  const isGrid = valuesOf(styled) !== undefined;
  // A single cell stays a cell if the place names a new row or column; otherwise it is words.
  const isCell = styled.shape === 'cells' && (fragment.cells !== undefined || columnCount(table) === 1);
  if (!isGrid && !isNewRow && !isCell) return undefined;
  const place = isNewRow ? belowPlace(table, fragment) : gridPlace(table, fragment, side);
  if (!place || (!isGrid && !isNewRow && !place.adds)) return undefined;
  const values = valuesOf(styled) ?? [[inlinesOf(styled) ?? []]];
  const { rows, cells } = tableNodes(source, nodesOf(prose.trace, table)[0], table);
  for (const row of rows) row.tied = true; // a row stays though its words give way
  const write = ({ cell, row }: PlacedCell, inlines: readonly Inline[]): readonly TextEdit[] => {
    const index = table.rows[row]?.cells.indexOf(cell) ?? 0;
    const parts = cell.blocks.map((block) => ({ block }));
    const node = cells[row]?.[index];
    const isLine = node !== undefined && source[node.start] !== '<';
    const words = isLine
      ? inlines.map((each): Inline => (each.type === 'break' ? { type: 'text', text: ' ' } : each))
      : inlines;
    const run: Content = { shape: 'run', inlines: words };
    if (words.length === 0) return parts.length === 0 ? [] : removalEdits(source, prose.trace, parts, grammar);
    return new Landing(
      source,
      prose,
      grammar,
      { content: run, parts, inTable: { table, row, cell: index } },
      'replace',
    ).edits(run);
  };
  const edits = gridEdits({ source, table, rows, cells, write }, values, place, { over: over === true, side });
  const named = printFragment(fragment);
  return {
    edits,
    notes: gapNotes(content),
    where: fragment.cells
      ? {
          kind: !place.adds ? 'landed.in' : side === 'before' ? 'landed.before' : 'landed.after',
          params: { place: { kind: 'place', params: { place: named } } },
        }
      : landedAt(side, named),
    ...(fragment.cells && { cells: printFragment(fragment) }),
  };
}

/** The message for a side of a place, or of the whole file. */
export function landedAt(side: Side, place: string | undefined): Message {
  if (place !== undefined) return { kind: `landed.${side}`, params: { place: { kind: 'place', params: { place } } } };
  if (side === 'replace') return { kind: 'landed.insteadOfAll' };
  return { kind: side === 'before' || side === 'start' ? 'landed.atStart' : 'landed.atEnd' };
}

/** Shifts headings to the level of their new position: inside a section, one deeper than its own. */
function fitted(content: Content, blocks: readonly Block[], { parts }: Selected, side: Side): Content {
  const wanted = new Set(parts.map(({ block }) => block));
  const at = blocks.findIndex((block) => contains(block, wanted));
  const end = blocks.findLastIndex((block) => contains(block, wanted));
  const first = blocks[at];
  if (first?.type === 'heading') {
    if (side === 'start' || side === 'end') return shiftHeadings(content, first.level + 1);
    return shiftHeadings(content, first.level);
  }
  const above = blocks.slice(
    0,
    side === 'before' || side === 'start' || side === 'replace' ? Math.max(at, 0) : end + 1,
  );
  const heading = above.findLast((block) => block.type === 'heading');
  return heading?.type === 'heading' ? shiftHeadings(content, heading.level + 1) : content;
}

const contains = (block: Block, wanted: ReadonlySet<Block>): boolean =>
  wanted.has(block) || childBlocks(block).some((child) => contains(child, wanted));

class Landing {
  readonly notes: Note[] = [];
  readonly #source: string;
  readonly #prose: TracedProse;
  readonly #grammar: InsertGrammar;
  readonly #parts: readonly SelectedPart[];
  readonly #side: Side;
  readonly #inTable: Selected['inTable'];
  readonly #keepsBlocks: boolean;

  /** @param keepsBlocks - whether a single paragraph lands as one, and not as words of another */
  constructor(
    source: string,
    prose: TracedProse,
    grammar: InsertGrammar,
    { parts, inTable }: Selected,
    side: Side,
    keepsBlocks = false,
  ) {
    this.#keepsBlocks = keepsBlocks;
    this.#source = source;
    this.#prose = prose;
    this.#grammar = grammar;
    this.#parts = parts;
    this.#side = side;
    this.#inTable = inTable;
  }

  /** The content as words; `undefined` if it has other blocks, or is to stay blocks. */
  #inlinesOf(content: Content): readonly Inline[] | undefined {
    return this.#keepsBlocks && content.shape === 'blocks' ? undefined : inlinesOf(content);
  }

  edits(content: Content): readonly TextEdit[] {
    if (this.#inTable) this.#checkCell(content, this.#inTable);
    if (this.#inTable && this.#parts.every(({ block }) => isBlank(block)))
      return this.#inEmptyCell(content, this.#inTable);
    const first = this.#parts[0];
    const last = this.#lastOutside();
    if (!first || !last)
      return [this.#grammar.blocks(asBlocks(content), { position: this.#prose.trace.root.innerEnd }, this.#source)];
    // In a file without words, content goes above the empty paragraph, so that none is left before it.
    if (this.#parts.every(({ block }) => block.type === 'paragraph' && block.inlines.length === 0))
      return [this.#beside(content, first.block, 'before')];
    if (isUnits(first) || isUnits(last)) return this.#amongWords(content, first, last);
    return this.#amongBlocks(content, first.block, last.block);
  }

  /** The last part outside text boxes, if there is one: a box anchored to a page or paragraph does not follow it. */
  #lastOutside(): SelectedPart | undefined {
    let [found, least] = [this.#parts.at(-1), Number.POSITIVE_INFINITY];
    for (let index = this.#parts.length - 1; index >= 0 && least > 1; index--) {
      const part = this.#parts[index] as SelectedPart;
      const depth = storiesAround(this.#nodes(part.block)[0]);
      if (depth < least) [found, least] = [part, depth];
    }
    return found;
  }

  /** Checks content for a cell: words and paragraphs, but no range, which would be a nested table. @throws DrawerError `unsupported` */
  #checkCell(content: Content, { table, row, cell }: NonNullable<Selected['inTable']>): void {
    const node = tableNodes(this.#source, this.#nodes(table)[0], table).cells[row]?.[cell];
    const leaf = node && (leavesIn(node)[0] ?? emptyLeaf(node));
    const isLine = node !== undefined && this.#source[node.start] !== '<' && this.#isLine(leaf);
    const holdsTable = this.#inlinesOf(content) === undefined && asBlocks(content).some(({ type }) => type === 'table');
    if (!holdsTable && !(isLine && this.#inlinesOf(content) === undefined)) return;
    throw new DrawerError(holdsTable ? 'unsupported/table-into-cell' : 'unsupported/cell-holds-one-line');
  }

  /** In an empty cell, content replaces the empty paragraph that some formats require. */
  #inEmptyCell(content: Content, { table, row, cell }: NonNullable<Selected['inTable']>): readonly TextEdit[] {
    const node = tableNodes(this.#source, this.#nodes(table)[0], table).cells[row]?.[cell];
    if (!node) throw noPlace();
    const leaf = leavesIn(node)[0];
    const isElement = leaf !== undefined && this.#source[leaf.start] === '<';
    const words = isElement ? undefined : this.#inlinesOf(content);
    if (words) {
      const inside = leaf ?? emptyLeaf(node);
      return this.#grammar.words(words, { leaf: inside, position: inside.innerEnd }, this.#source);
    }
    if (!leaf) return [this.#grammar.blocks(asBlocks(content), { position: node.innerStart }, this.#source)];
    const edit = this.#grammar.blocks(asBlocks(content), { position: leaf.start, below: leaf }, this.#source);
    return [edit, { start: leaf.start, end: leaf.end, replacement: '' }];
  }

  /** Whether a cell can hold only one line of words, as in Markdown. */
  #isLine(leaf: SourceNode | undefined): boolean {
    return leaf?.parent?.kind === 'cell' && this.#source[leaf.start] !== '<' && this.#source[leaf.parent.start] !== '<';
  }

  // Among words

  #amongWords(content: Content, first: SelectedPart, last: SelectedPart): readonly TextEdit[] {
    const front = this.#side === 'before' || this.#side === 'start' || this.#side === 'replace';
    const part = front ? first : last;
    const leaf = this.#nodes(part.block)[0];
    if (!leaf) throw noPlace();
    if (this.#side === 'replace') return this.#instead(content, leaf, first, last);
    const unit = front ? (part.from ?? 0) : (part.to ?? unitsIn(leaf));
    // A whole paragraph becomes a paragraph beside another one, and words between words.
    const isAtEdge = unit === (front ? 0 : unitsIn(leaf));
    if (content.shape === 'blocks' && isAtEdge && !this.#isLine(leaf))
      return [this.#beside(content, part.block, front ? 'before' : 'after')];
    return this.#atUnit(content, leaf, unit, front ? 'right' : 'left', signsAround(leaf, unit, unit));
  }

  #atUnit(content: Content, leaf: SourceNode, unit: number, bias: Bias, around: Around): readonly TextEdit[] {
    const spot = this.#spotAt(leaf, unit, bias);
    const words = this.#inlinesOf(content);
    if (words) return this.#grammar.words(spaced(words, around), spot, this.#source);
    const blocks = asBlocks(content);
    if (unit === 0) return [this.#grammar.blocks(blocks, { position: leaf.start, below: leaf }, this.#source)];
    const parting = unit === unitsIn(leaf) ? undefined : this.#grammar.part(spot, this.#source);
    if (unit !== unitsIn(leaf) && !parting) this.notes.push({ kind: 'behind-paragraph', count: 1 });
    if (!parting) return [this.#grammar.blocks(blocks, { position: leaf.end, above: leaf }, this.#source)];
    const inside = this.#grammar.blocks(blocks, { position: spot.position }, this.#source);
    const end = this.#source[inside.end] === ' ' ? inside.end + 1 : inside.end; // no paragraph begins with a space
    return [{ ...inside, end, replacement: parting.close + inside.replacement + parting.open }];
  }

  /** Replaces words within one paragraph directly; if more is replaced, the surroundings are joined first. */
  #instead(content: Content, leaf: SourceNode, first: SelectedPart, last: SelectedPart): readonly TextEdit[] {
    const from = first.from ?? 0;
    if (first !== last) {
      const around = { ...signsAround(leaf, from, from), after: '' };
      return this.#landAndRemove(this.#atUnit(content, leaf, from, 'left', around), leaf);
    }
    const to = first.to ?? unitsIn(leaf);
    // Blocks in place of all words of a paragraph leave no empty one behind.
    const isWhole = from === 0 && to === unitsIn(leaf);
    if (isWhole && !this.#inlinesOf(content) && !this.#isLine(leaf)) return this.#insteadOf(content, first.block);
    return [
      ...this.#atUnit(content, leaf, from, 'right', signsAround(leaf, from, to)),
      ...this.#without(leaf, from, to),
    ];
  }

  #without(leaf: SourceNode, from: number, to: number): TextEdit[] {
    let at = 0;
    return leaf.pieces.flatMap((piece): TextEdit[] => {
      const [start, end] = [Math.max(from - at, 0), Math.min(to - at, piece.units)];
      at += piece.units;
      if (start >= end) return [];
      const extent = piece.words === undefined ? piece : this.#grammar.locate(this.#source, piece, start, end);
      return [{ start: extent.start, end: extent.end, replacement: '' }];
    });
  }

  #spotAt(leaf: SourceNode, unit: number, bias: Bias): WordTarget {
    let at = 0;
    for (const [index, piece] of leaf.pieces.entries()) {
      const end = at + piece.units;
      const isHere = unit < end || (unit === end && (bias === 'left' || index === leaf.pieces.length - 1));
      if (isHere && unit >= at) return { leaf, piece, position: this.#positionIn(piece, unit - at) };
      at = end;
    }
    return { leaf, position: leaf.innerEnd };
  }

  #positionIn(piece: Piece, unit: number): number {
    if (unit <= 0) return piece.start;
    if (unit >= piece.units) return piece.end;
    return this.#grammar.locate(this.#source, piece, unit, unit + 1).start;
  }

  // Among blocks

  #amongBlocks(content: Content, first: Block, last: Block): readonly TextEdit[] {
    switch (this.#side) {
      case 'before':
        return [this.#beside(content, first, 'before')];
      case 'after':
        return [this.#beside(content, last, 'after')];
      case 'replace':
        return this.#insteadOf(content, first);
      case 'start':
        return this.#inside(content, first, 'start');
      case 'end':
        return this.#inside(content, last, 'end');
    }
  }

  /** Words replace a paragraph's words; anything else replaces the blocks. */
  #insteadOf(content: Content, first: Block): readonly TextEdit[] {
    const leaf = this.#nodes(first)[0];
    const isOwn = this.#parts.length === 1 && (first.type === 'paragraph' || first.type === 'heading');
    if (content.shape === 'run' && leaf && isOwn) {
      const whole = { block: first, from: 0, to: unitsIn(leaf) };
      return this.#instead(content, leaf, whole, whole);
    }
    // A cell ends with a paragraph; after a table, the emptied one stays for that.
    const endsItself = asBlocks(content).at(-1)?.type !== 'table';
    return this.#landAndRemove([this.#beside(content, first, 'before')], this.#nodes(first)[0], endsItself);
  }

  /** Adds the removal of all parts to edits of which the first inserts the content, without removing that content. */
  #landAndRemove(
    [edit, ...others]: readonly TextEdit[],
    node: SourceNode | undefined,
    endsItself = false,
  ): readonly TextEdit[] {
    if (!edit) return others;
    // What the content lands in stays, though all that it held may go.
    for (let around = node?.parent; around; around = around.parent)
      if (around.start < edit.start && edit.start < around.end) around.tied = true;
    if (node?.parent && endsItself) node.parent.isRefilled = true;
    const gone = removalEdits(this.#source, this.#prose.trace, this.#parts, this.#grammar);
    const cover = gone.find(({ start, end }) => start < edit.start && edit.start <= end);
    if (!cover) return [edit, ...others, ...gone];
    // The removal includes the indent before it, so the new blocks bring their own.
    const lead = this.#source.slice(cover.start, edit.start);
    const own = edit.replacement.endsWith(lead)
      ? edit.replacement.slice(0, edit.replacement.length - lead.length)
      : edit.replacement;
    return [{ start: cover.start, end: cover.start, replacement: lead + own }, ...others, ...gone];
  }

  #beside(content: Content, block: Block, side: 'before' | 'after'): TextEdit {
    const nodes = this.#nodes(block);
    const own = side === 'before' ? nodes[0] : nodes.at(-1);
    // A table with a caption is traced by its rows, since the caption outlives it; paragraphs go outside of the table.
    const node = own?.kind === 'row' ? own.parent : own;
    if (!node) throw noPlace();
    const spot: BlockTarget =
      side === 'before' ? { position: node.start, below: node } : { position: node.end, above: node };
    return this.#grammar.blocks(asBlocks(content), spot, this.#source);
  }

  /** Words continue a paragraph, and items a list; at the start of a section, anything else follows the heading. */
  #inside(content: Content, block: Block, side: 'start' | 'end'): readonly TextEdit[] {
    if (block.type === 'list' && this.#parts.length === 1 && asBlocks(content).every(({ type }) => fitsItem.has(type)))
      return [this.#inList(content, block, side)];
    const words = this.#inlinesOf(content);
    const leaf = this.#nodes(block)[0];
    const isOwn = block.type === 'paragraph' || (this.#parts.length === 1 && block.type === 'heading');
    if (content.shape === 'run' && words && leaf && isOwn) {
      const unit = side === 'start' ? 0 : unitsIn(leaf);
      return this.#atUnit(content, leaf, unit, side === 'start' ? 'right' : 'left', signsAround(leaf, unit, unit));
    }
    return [this.#beside(content, block, side === 'start' && block.type !== 'heading' ? 'before' : 'after')];
  }

  #inList(content: Content, list: List, side: 'start' | 'end'): TextEdit {
    const item = side === 'start' ? list.items[0] : list.items.at(-1);
    const nodes = item?.blocks.flatMap((block) => this.#nodes(block)) ?? [];
    const lead = nodes[0];
    const node = side === 'start' ? lead : nodes.at(-1);
    if (!lead || !node) return this.#beside(content, list, side === 'start' ? 'before' : 'after');
    const items = asItems(content);
    const { start: _, ...kind } = list;
    const added: List = { ...kind, items };
    return this.#grammar.blocks(
      [added],
      {
        position: side === 'start' ? node.start : node.end,
        ...(side === 'start' ? { below: node } : { above: node }),
        item: lead,
        list,
        itemsBefore: side === 'start' ? 0 : list.items.length,
      },
      this.#source,
    );
  }

  /** The elements that a block was read from, or those of the blocks in it. */
  #nodes(block: Block): SourceNode[] {
    return nodesOf(this.#prose.trace, block);
  }
}

/** The nesting depth in stories: one, the main text, outside text boxes. */
function storiesAround(node: SourceNode | undefined): number {
  if (!node) return Number.POSITIVE_INFINITY;
  let depth = 0;
  for (let around = node.parent; around; around = around.parent) if (around.kind === 'story') depth++;
  return depth;
}

function emptyLeaf(cell: SourceNode): SourceNode {
  const leaf = new SourceNode('leaf', undefined, cell.innerStart, cell.innerStart);
  leaf.close(cell.innerStart, cell.innerStart);
  return leaf;
}

type Bias = 'left' | 'right';

const isBlank = (block: Block): boolean => block.type === 'paragraph' && block.inlines.length === 0;

const isUnits = ({ from, to }: SelectedPart): boolean => from !== undefined && to !== undefined;

const unitsIn = (leaf: SourceNode): number => leaf.pieces.reduce((units, piece) => units + piece.units, 0);

/** The content as words that can continue a paragraph; `undefined` if it has other blocks. */
function inlinesOf(content: Content): readonly Inline[] | undefined {
  const [only, ...others] = content.shape === 'picture' ? [] : asBlocks(content);
  if (content.shape === 'run') return content.inlines;
  if (content.shape === 'cells') {
    const cells = content.rows.flat();
    const cell = only?.type === 'table' ? only.rows[0]?.cells[0]?.blocks[0] : undefined;
    return cells.length === 1 && cell?.type === 'paragraph' ? cell.inlines : undefined;
  }
  if (content.shape === 'picture') return [{ type: 'picture', ...content.picture }];
  return only?.type === 'paragraph' && others.length === 0 ? only.inlines : undefined;
}

/** Block types that can begin a list item; headings, tables and rules go between lists. */
const fitsItem: ReadonlySet<Block['type']> = new Set(['paragraph', 'list', 'quote', 'code', 'picture']);

/** Turns each block into a list item; lists contribute their own items. */
const asItems = (content: Content): ListItem[] =>
  asBlocks(content).flatMap((block) => (block.type === 'list' ? block.items : [{ blocks: [block] }]));

const noPlace = (): DrawerError => new DrawerError('unsupported/place-without-sides');
