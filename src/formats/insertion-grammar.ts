import { type Block, type Inline, inlineText, joinText, type List, text } from '../content/index.ts';
import type { Prose } from './prose.ts';
import type { Grammar } from './removal.ts';
import type { TextEdit } from './text-edits.ts';
import type { Piece, SourceNode, Trace } from './trace.ts';

export type TracedProse = Prose & { readonly trace: Trace };

/** Between two blocks of the source. */
export interface BlockTarget {
  readonly position: number;
  /** The elements it lies between, as far as they are siblings. */
  readonly above?: SourceNode | undefined;
  readonly below?: SourceNode | undefined;
  /** The paragraph whose list goes on here. */
  readonly item?: SourceNode | undefined;
  readonly list?: List | undefined;
  /** How many items of that list stand in front. */
  readonly itemsBefore?: number;
}

/** Between two units of a paragraph. */
export interface WordTarget {
  readonly leaf: SourceNode;
  readonly position: number;
  /** What the place lies in or beside; `undefined` in an empty paragraph. */
  readonly piece?: Piece | undefined;
}

/** What a markup language needs for something to land in it. */
export interface InsertGrammar extends Grammar {
  blocks(blocks: readonly Block[], spot: BlockTarget, source: string): TextEdit;
  words(inlines: readonly Inline[], spot: WordTarget, source: string): readonly TextEdit[];
  /** What closes a paragraph at a place and opens it again behind it; `undefined` where it cannot be parted. */
  part(spot: WordTarget, source: string): { readonly close: string; readonly open: string } | undefined;
}

/** What lands things, on the back of what takes them out. */
export abstract class InsertionGrammar implements InsertGrammar {
  readonly remains: Grammar['remains'];
  readonly remainsInside: boolean;
  readonly emptyParagraph: Grammar['emptyParagraph'];
  readonly mustStay: Grammar['mustStay'];
  readonly locate: Grammar['locate'];
  readonly keepSpaces: Grammar['keepSpaces'];
  readonly reach: Grammar['reach'];

  constructor(grammar: Grammar) {
    this.remains = grammar.remains;
    this.remainsInside = grammar.remainsInside;
    this.emptyParagraph = grammar.emptyParagraph;
    this.mustStay = grammar.mustStay;
    this.locate = grammar.locate;
    this.keepSpaces = grammar.keepSpaces;
    this.reach = grammar.reach;
  }

  abstract blocks(blocks: readonly Block[], spot: BlockTarget, source: string): TextEdit;
  abstract words(inlines: readonly Inline[], spot: WordTarget, source: string): readonly TextEdit[];
  abstract part(spot: WordTarget, source: string): { readonly close: string; readonly open: string } | undefined;
}

/** The plain paragraph of the text's own level that is nearest to a place: what others there should look like. */
export function nearestPlain({ blocks, trace }: TracedProse, position: number): SourceNode | undefined {
  const distance = ({ start, end }: SourceNode): number =>
    Math.min(Math.abs(start - position), Math.abs(end - position));
  let nearest: SourceNode | undefined;
  for (const block of blocks) {
    const [node] = block.type === 'paragraph' && block.inlines.length > 0 ? (trace.nodes.get(block) ?? []) : [];
    if (node && (!nearest || distance(node) < distance(nearest))) nearest = node;
  }
  return nearest;
}

/** The signs that words come to stand between. */
export interface Around {
  readonly before: string;
  readonly after: string;
}

export function signsAround(leaf: SourceNode, from: number, to: number): Around {
  const words = leaf.pieces.map((piece) => piece.words ?? '\ufffc'.repeat(piece.units)).join('');
  return { before: words.slice(0, from).slice(-1), after: words.slice(to, to + 1) };
}

/** A space where two words would run together, and none beside one that is there. */
export function spaced(inlines: readonly Inline[], { before, after }: Around): Inline[] {
  const words = inlineText(inlines);
  const starts = /^[\p{L}\p{N}“‘"'(£$€]/u;
  const opens = /[\s([{“‘/–—*_~`-]$/u; // the signs of Markdown too
  const needsBefore = before !== '' && words !== '' && !opens.test(before) && starts.test(words);
  const needsAfter = after !== '' && words !== '' && !opens.test(words) && starts.test(after);
  const first = inlines[0]?.type === 'text' ? inlines[0].marks : undefined;
  const kept = /\s/.test(before) ? trimStart(inlines) : inlines;
  return joinText([
    ...(needsBefore ? [text(' ', plainMarks(first))] : []),
    ...(/^\s/.test(after) ? trimEnd(kept) : kept),
    ...(needsAfter ? [text(' ', plainMarks(lastMarks(inlines)))] : []),
  ]);
}

/** A space beside a link is not part of it. */
function plainMarks(marks: Extract<Inline, { type: 'text' }>['marks'] = {}) {
  const { link: _, underline: __, strike: ___, code: ____, ...rest } = marks;
  return rest;
}
const lastMarks = (inlines: readonly Inline[]) => {
  const last = inlines.at(-1);
  return last?.type === 'text' ? last.marks : undefined;
};

const trimStart = (inlines: readonly Inline[]): Inline[] =>
  inlines.map((inline, at) =>
    at === 0 && inline.type === 'text' ? { ...inline, text: inline.text.trimStart() } : inline,
  );
const trimEnd = (inlines: readonly Inline[]): Inline[] =>
  inlines.map((inline, at) =>
    at === inlines.length - 1 && inline.type === 'text' ? { ...inline, text: inline.text.trimEnd() } : inline,
  );
