import { leavesIn, type NodeKind, type Piece, SourceNode, type Trace } from '../trace.ts';
import { attribute, type Element, elementsIn, isElement, isText, type Node } from './dom.ts';
import { inlineTags } from './surroundings.ts';

/** The node of an element, by where its tags stand; without tags of its own in the source it has none. */
export function elementNode(kind: NodeKind, element: Element, parent: SourceNode): SourceNode | undefined {
  const place = element.sourceCodeLocation;
  if (!place) return undefined;
  const node = new SourceNode(kind, parent, place.startOffset, place.startTag?.endOffset ?? place.startOffset);
  node.close(place.endTag?.startOffset ?? place.endOffset, place.endOffset);
  return node;
}

/**
 * The paragraph being gathered: made when its first words come, stretching to its last. Elements inside it become nodes of
 * their own when they lie wholly in it.
 */
export class LeafTracker {
  readonly #group: SourceNode;
  readonly #inline = new Map<Element, SourceNode>();
  leaf: SourceNode | undefined;

  constructor(group: SourceNode) {
    this.#group = group;
  }

  /** Where a node stands, as a piece of the paragraph. */
  sourceOf(node: Node, inside: readonly Element[]) {
    const place = node.sourceCodeLocation;
    if (!place) return undefined;
    const extent = { start: place.startOffset, end: place.endOffset };
    this.leaf ??= new SourceNode('leaf', this.#group, extent.start, extent.start);
    let owner = this.leaf;
    for (const element of inside) owner = this.#inlineNode(element, owner);
    return { extent, owner };
  }

  #inlineNode(element: Element, parent: SourceNode): SourceNode {
    const known = this.#inline.get(element);
    if (known) return known;
    const holdsBlocks = [...elementsIn(element.childNodes)].some(
      ({ tagName }) => !inlineTags.has(tagName) && tagName !== 'br',
    );
    const node = holdsBlocks ? undefined : elementNode('inline', element, parent);
    this.#inline.set(element, node ?? parent);
    return node ?? parent;
  }

  /** The paragraph with its pieces; the next begins anew. */
  finish(pieces: readonly Piece[]): SourceNode | undefined {
    const { leaf } = this;
    this.leaf = undefined;
    if (!leaf) return undefined;
    const nodes = [...this.#inline.values()].filter((node) => node !== leaf);
    this.#inline.clear();
    leaf.start = Math.min(...[leaf, ...nodes].map(({ start }) => start), ...pieces.map(({ start }) => start));
    const end = Math.max(...nodes.map((node) => node.end), ...pieces.map((piece) => piece.end), leaf.start);
    leaf.innerStart = leaf.start;
    leaf.close(end, end);
    leaf.pieces.push(...pieces);
    return leaf;
  }
}

/** Elements that hold whole blocks. */
const around = new Set(['div', 'section', 'article', 'main', 'aside', 'table', 'ul', 'ol', 'figure', 'blockquote']);

/** Elements that people can point to by name, as bookmarks. */
export function markElements(trace: Trace, elements: readonly Element[]): void {
  const leaves = leavesIn(trace.root);
  for (const element of elements) {
    const name = attribute(element, 'id') ?? (element.tagName === 'a' ? attribute(element, 'name') : undefined);
    const place = element.sourceCodeLocation;
    if (!name || !place || trace.bookmarks.has(name)) continue;
    const first = leaves.find((leaf) => leaf.end > place.startOffset);
    const last = leaves.findLast((leaf) => leaf.start < place.endOffset) ?? first;
    if (!first || !last) continue;
    trace.bookmarks.set(name, {
      start: { leaf: first, at: unitsBefore(first, place.startOffset) },
      end:
        first.start >= place.endOffset
          ? { leaf: first, at: 0 }
          : { leaf: last, at: unitsBefore(last, place.endOffset) },
      isAround: around.has(element.tagName),
    });
  }
}

const unitsBefore = ({ pieces }: SourceNode, offset: number): number =>
  pieces.reduce((units, piece) => (piece.end <= offset ? units + piece.units : units), 0);

/** The words of an element in which spaces and line ends count. */
export const textPieces = (element: Element, leaf: SourceNode): Piece[] =>
  element.childNodes.flatMap((node): Piece[] => {
    if (isElement(node)) return textPieces(node, leaf);
    const place = node.sourceCodeLocation;
    if (!isText(node) || !place) return [];
    return [
      { start: place.startOffset, end: place.endOffset, units: node.value.length, words: node.value, owner: leaf },
    ];
  });
