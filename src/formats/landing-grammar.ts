import type { Block, Inline, List } from '../content/index.ts';
import type { Prose } from './prose.ts';
import type { Grammar } from './removal.ts';
import type { TextEdit } from './text-edits.ts';
import type { Piece, SourceNode, Trace } from './trace.ts';

export type TracedProse = Prose & { readonly trace: Trace };

/** Between two blocks of the source. */
export interface BlockSpot {
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
export interface WordSpot {
  readonly leaf: SourceNode;
  readonly position: number;
  /** What the place lies in or beside; `undefined` in an empty paragraph. */
  readonly piece?: Piece | undefined;
}

/** What a markup language needs for something to land in it. */
export interface InsertGrammar extends Grammar {
  blocks(blocks: readonly Block[], spot: BlockSpot, source: string): TextEdit;
  words(inlines: readonly Inline[], spot: WordSpot, source: string): readonly TextEdit[];
  /** What closes a paragraph at a place and opens it again behind it; `undefined` where it cannot be parted. */
  part(spot: WordSpot, source: string): { readonly close: string; readonly open: string } | undefined;
}

/** What lands things, on the back of what takes them out. */
export abstract class LandingGrammar implements InsertGrammar {
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

  abstract blocks(blocks: readonly Block[], spot: BlockSpot, source: string): TextEdit;
  abstract words(inlines: readonly Inline[], spot: WordSpot, source: string): readonly TextEdit[];
  abstract part(spot: WordSpot, source: string): { readonly close: string; readonly open: string } | undefined;
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
