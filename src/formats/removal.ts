import { childBlocks, DrawerError } from '../content/index.ts';
import type { Fragment } from '../places/index.ts';
import { type LeafBlock, leafUnits } from './flat-text.ts';
import { numberedBlocks, type Prose, type SelectedPart, selectProse } from './prose.ts';
import { columnRemoval, tableNodes } from './table-insertion.ts';
import { applyEdits, type TextEdit } from './text-edits.ts';
import { type Extent, leavesIn, nodesOf, type Piece, type SourceNode, type Trace } from './trace.ts';

/** The rules of a markup language for removing parts of it. */
export interface Grammar {
  /** Markers in removed source that must survive, such as the start of a bookmark that ends elsewhere. */
  remains(source: string): string;
  /** Whether surviving markers are valid only inside a paragraph. */
  readonly remainsInside: boolean;
  /** The placeholder paragraph for a cell or story that loses its last one, given the source of a removed paragraph. */
  emptyParagraph(source: string): string;
  /** Whether a paragraph must stay, such as one that ends a section; then only its words are removed. */
  mustStay(source: string): boolean;
  /** The source range that shows `words` from unit `from` up to `to`. */
  locate(source: string, piece: Piece, from: number, to: number): Extent;
  /** Further edits for a text of which only a part stays. */
  keepSpaces(source: string, piece: Piece): readonly TextEdit[];
  /** The source range to remove for an element, such as the whole line if it is alone on it. */
  reach(source: string, extent: Extent): Extent;
}

/**
 * Removes parts of a text from its source without traces: paragraphs, items, rows, lists and tables are removed with their
 * last words, and no double space remains. Everything else stays byte for byte.
 */
export function removalEdits(
  source: string,
  trace: Trace,
  parts: readonly SelectedPart[],
  grammar: Grammar,
): TextEdit[] {
  const removal = new Removal(source, trace, grammar);
  for (const part of parts) removal.mark(part);
  return removal.edits();
}

/** The edits that remove places from a text. */
export function placeRemoval(
  source: string,
  prose: Prose & { readonly trace: Trace },
  fragments: readonly Fragment[],
  grammar: Grammar,
): TextEdit[] {
  const columns = fragments.map((fragment) => wholeColumns(source, prose, fragment));
  const parts = fragments.flatMap((fragment, at) => (columns[at] ? [] : selectProse(prose, fragment).parts));
  return [...columns.flatMap((each) => each ?? []), ...removalEdits(source, prose.trace, parts, grammar)];
}

/** The edits that remove whole columns of a table; `undefined` if the place is something else, or spanning cells reach in. */
function wholeColumns(
  source: string,
  prose: Prose & { readonly trace: Trace },
  fragment: Fragment,
): readonly TextEdit[] | undefined {
  if (fragment.kind !== 'table' || !fragment.cells || 'heading' in fragment.cells) return undefined;
  const { rows, columns } = fragment.cells;
  const table = numberedBlocks(prose.blocks, 'table')[fragment.from - 1]?.block;
  if (table?.type !== 'table' || !columns || (rows && (rows.from > 1 || rows.to < table.rows.length))) return undefined;
  selectProse(prose, fragment); // says what is not there
  return columnRemoval(
    { source, table, ...tableNodes(source, nodesOf(prose.trace, table)[0], table) },
    columns.from - 1,
    columns.to - 1,
  );
}

interface Cut {
  readonly from: number;
  readonly to: number;
}

class Removal {
  readonly #source: string;
  readonly #trace: Trace;
  readonly #grammar: Grammar;
  readonly #gone = new Set<SourceNode>();
  /** Removed units by paragraph. */
  readonly #cuts = new Map<SourceNode, Cut[]>();
  readonly #marked: SourceNode[] = [];
  /** Paragraphs that are removed only together with the text boxes anchored in them; otherwise only their words are. */
  readonly #anchors = new Set<SourceNode>();
  #edits: TextEdit[] = [];

  constructor(source: string, trace: Trace, grammar: Grammar) {
    this.#source = source;
    this.#trace = trace;
    this.#grammar = grammar;
  }

  mark({ block, from, to }: SelectedPart): void {
    const nodes = this.#trace.nodes.get(block) ?? [];
    if (nodes.length === 0) for (const child of childBlocks(block)) this.mark({ block: child });
    if (from === undefined || to === undefined || (from === 0 && to === leafUnits(block as LeafBlock).length))
      for (const node of nodes) this.#markWhole(node);
    else this.#markUnits(nodes, from, to);
    this.#marked.push(...nodes);
  }

  #markWhole(node: SourceNode): void {
    for (const before of node.joined) this.#gone.add(before);
    if (node.kind === 'leaf' && storiesIn(node).length > 0) {
      this.#anchors.add(node);
      this.#cuts.set(node, [{ from: 0, to: unitsOf(node) }]);
    } else this.#gone.add(node);
  }

  /** A block of several paragraphs, such as code, has a line end between them. */
  #markUnits(nodes: readonly SourceNode[], from: number, to: number): void {
    let at = 0;
    for (const node of nodes) {
      const length = unitsOf(node);
      const cut = { from: Math.max(0, from - at), to: Math.min(length, to - at) };
      if (cut.from === 0 && cut.to === length) this.#gone.add(node);
      else if (cut.from < cut.to) this.#cuts.set(node, [...(this.#cuts.get(node) ?? []), cut]);
      at += length + 1;
    }
  }

  edits(): TextEdit[] {
    this.#joinEnds();
    this.#settle(this.#trace.root);
    this.#remove(this.#trace.root);
    return this.#edits;
  }

  /** Joins the remainders of two paragraphs if the end of one, the start of the other and everything between is removed. */
  #joinEnds(): void {
    const first = this.#marked[0];
    const last = this.#marked.at(-1);
    if (!first || !last || first === last || first.parent !== last.parent) return;
    const [head] = this.#cuts.get(first) ?? [];
    const [tail] = this.#cuts.get(last) ?? [];
    if (!head || !tail || head.to !== unitsOf(first) || tail.from !== 0) return;
    if (this.#marked.slice(1, -1).some((node) => !this.#gone.has(node))) return;
    const rest = applyEdits(this.#source, this.#unitEdits(last, [tail]), {
      start: last.innerStart,
      end: last.innerEnd,
    });
    this.#gone.add(last);
    this.#cuts.delete(last);
    this.#edits.push({ start: first.innerEnd, end: first.innerEnd, replacement: rest });
  }

  /** Marks nodes whose contents are all removed, from the inside out; returns whether the node is removed or was empty. */
  #settle(node: SourceNode): boolean {
    if (this.#gone.has(node)) return true;
    if (node.kind === 'leaf') return this.#settleLeaf(node);
    if (node.kind === 'inline')
      return storiesIn(node)
        .map((story) => this.#settle(story))
        .every(Boolean);
    const settled = node.children.map((child) => this.#settle(child));
    const isEmpty = settled.every(Boolean);
    const loses = node.children.some((child) => this.#gone.has(child));
    if (!isEmpty || !loses) return isEmpty;
    if (node.kind === 'story' || node.tied) return true;
    this.#gone.add(node);
    return true;
  }

  #settleLeaf(leaf: SourceNode): boolean {
    const stories = storiesIn(leaf);
    const areEmpty = stories.map((story) => this.#settle(story)).every(Boolean);
    if (this.#anchors.has(leaf) && areEmpty) this.#gone.add(leaf);
    return this.#gone.has(leaf) || (areEmpty && !this.#cuts.has(leaf) && leaf.pieces.length === 0);
  }

  #remove(node: SourceNode): void {
    const goes = this.#gone.has(node);
    if (goes && node.kind !== 'cell' && node.kind !== 'story') return this.#removeWhole(node);
    if (node.kind === 'leaf') {
      this.#removeUnits(node);
      for (const story of storiesIn(node)) this.#remove(story);
      return;
    }
    if (node.kind === 'inline') {
      for (const story of storiesIn(node)) this.#remove(story);
      return;
    }
    const filled = node.children.filter(({ kind }) => kind !== 'inline');
    const stays = node.kind === 'cell' || node.kind === 'story';
    const leaf =
      !node.isRefilled && (goes || (stays && filled.length > 0 && filled.every((child) => this.#gone.has(child))))
        ? firstLeaf(node)
        : undefined;
    if (!leaf) {
      for (const child of node.children) this.#remove(child);
      return;
    }
    // Where something stands around some of them that is no element of ours, it stays: the first is emptied, the others go.
    const isWrapped = filled.some(
      (child, index) => index > 0 && this.#source.slice(filled[index - 1]?.end, child.start).includes('<'),
    );
    const last = isWrapped ? filled[0] : filled.at(-1);
    if (isWrapped)
      for (const child of filled.slice(1)) this.#edits.push({ start: child.start, end: child.end, replacement: '' });
    const [start, end] = [filled[0]?.start ?? node.innerStart, last?.end ?? node.innerEnd];
    this.#edits.push({
      start,
      end,
      replacement: this.#grammar.emptyParagraph(this.#source.slice(leaf.start, leaf.end)),
    });
  }

  #removeWhole(node: SourceNode): void {
    const source = this.#source.slice(node.start, node.end);
    if (this.#grammar.mustStay(source)) {
      const replacement = this.#grammar.emptyParagraph(source);
      this.#edits.push({ start: node.start, end: node.end, replacement });
      return;
    }
    const remains = this.#grammar.remains(source);
    const neighbour = remains !== '' && this.#grammar.remainsInside ? this.#neighbour(node) : undefined;
    if (neighbour) {
      const before = neighbour.start < node.start;
      const place = before ? neighbour.innerEnd : neighbour.innerStart;
      this.#edits.push(
        { start: node.start, end: node.end, replacement: '' },
        { start: place, end: place, replacement: remains },
      );
      return;
    }
    const extent = remains === '' ? this.#grammar.reach(this.#source, node) : node;
    this.#edits.push({ start: extent.start, end: extent.end, replacement: remains });
  }

  /** The nearest surviving paragraph; it receives markers orphaned by the removal. */
  #neighbour(node: SourceNode): SourceNode | undefined {
    const staying = leavesIn(this.#trace.root).filter(
      (leaf) =>
        !this.#isGone(leaf) && leaf.innerEnd > leaf.innerStart && (leaf.end <= node.start || leaf.start >= node.end),
    );
    return staying.findLast((leaf) => leaf.end <= node.start) ?? staying[0];
  }

  #isGone(node: SourceNode | undefined): boolean {
    for (let each = node; each; each = each.parent) if (this.#gone.has(each)) return true;
    return false;
  }

  #removeUnits(leaf: SourceNode): void {
    const cuts = this.#cuts.get(leaf);
    if (cuts) this.#edits.push(...this.#unitEdits(leaf, cuts));
  }

  #unitEdits(leaf: SourceNode, marked: readonly Cut[]): TextEdit[] {
    const words = leaf.pieces.map(unitWords).join('');
    const cuts = marked.map((cut) => withSpace(words, cut));
    const goes = (from: number, to: number): boolean => cuts.some((cut) => cut.from <= from && to <= cut.to);
    const edits: TextEdit[] = [];
    const left = new Map<SourceNode, number>();
    let at = 0;
    for (const piece of leaf.pieces) {
      const isGone = goes(at, at + piece.units);
      for (let owner: SourceNode | undefined = piece.owner; owner && owner !== leaf; owner = owner.parent)
        left.set(owner, (left.get(owner) ?? 0) + (isGone ? 0 : 1));
      if (isGone) edits.push({ start: piece.start, end: piece.end, replacement: '' });
      else edits.push(...this.#pieceEdits(piece, at, cuts));
      at += piece.units;
    }
    for (const [owner, pieces] of left) {
      const remains = this.#grammar.remains(this.#source.slice(owner.start, owner.end));
      if (pieces === 0 && remains === '') edits.push({ start: owner.start, end: owner.end, replacement: '' });
    }
    return edits;
  }

  #pieceEdits(piece: Piece, at: number, cuts: readonly Cut[]): TextEdit[] {
    const parts = cuts
      .map(({ from, to }) => ({ from: Math.max(from - at, 0), to: Math.min(to - at, piece.units) }))
      .filter(({ from, to }) => from < to);
    if (parts.length === 0) return [];
    return [
      ...parts.map(({ from, to }) => ({ ...this.#grammar.locate(this.#source, piece, from, to), replacement: '' })),
      ...this.#grammar.keepSpaces(this.#source, piece),
    ];
  }
}

/** The text boxes anchored in a paragraph. */
const storiesIn = (node: SourceNode): SourceNode[] =>
  node.children.flatMap((child) => (child.kind === 'story' ? [child] : storiesIn(child)));

const unitsOf = (leaf: SourceNode): number => leaf.pieces.reduce((units, piece) => units + piece.units, 0);

const unitWords = ({ words, units }: Piece): string => words ?? '\ufffc'.repeat(units);

/** Also removes an adjacent space where two would meet, or one would end up at an end, inside a bracket or before a full stop. */
function withSpace(words: string, { from, to }: Cut): Cut {
  const before = from === 0 ? '' : words[from - 1];
  const after = words[to] ?? '';
  const isSpace = (sign: string | undefined): boolean => sign === ' ';
  const opens = before === '' || /[\s\ufffc([{“‘*_~`]/.test(before ?? '');
  if (isSpace(after) && opens) return { from, to: to + 1 };
  if (isSpace(before) && (after === '' || /[.,;:!?)\]}’”]/.test(after))) return { from: from - 1, to };
  return { from, to };
}

function firstLeaf(node: SourceNode): SourceNode | undefined {
  if (node.kind === 'leaf') return node;
  for (const child of node.children) {
    const leaf = firstLeaf(child);
    if (leaf) return leaf;
  }
  return undefined;
}

// --- What markup languages share ---------------------------------------------------------------------------------------

/**
 * Locates units of a text in source that may contain character references and collapsed white space: walks both together,
 * skipping source white space that the text does not have.
 */
export function locateInMarkup(
  source: string,
  piece: Piece,
  from: number,
  to: number,
  decode: (reference: string) => string,
): Extent {
  const words = piece.words ?? '';
  if (source[piece.start] === '<')
    return from === 0 && to === piece.units ? piece : { start: piece.end, end: piece.end }; // an element goes whole or not
  let at = piece.start;
  let unit = 0;
  let start = piece.start;
  while (at < piece.end && unit < to) {
    const [, reference] = /^(&[#\w]{1,32};)/.exec(source.slice(at, at + 34)) ?? [];
    const sign = reference === undefined ? (source[at] ?? '') : decode(reference);
    const length = reference?.length ?? 1;
    const wanted = words.slice(unit, unit + sign.length);
    if (unit <= from) start = at;
    if (wanted === sign || (/^\s$/.test(sign) && /^\s$/.test(wanted))) unit += sign.length;
    at += length;
  }
  if (unit < to) throw notFoundInSource();
  return { start, end: at };
}

/** Refuses a change that could hit the wrong position. */
export const notFoundInSource = (): DrawerError => new DrawerError('unsupported/words-not-cuttable');
