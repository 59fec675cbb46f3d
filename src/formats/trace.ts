import { type Block, childBlocks } from '../content/index.ts';

/** From `start` up to, not including, `end`, in UTF-16 units of the text of a part. */
export interface Extent {
  readonly start: number;
  readonly end: number;
}

/** A run of a paragraph's content and its source: text, or one object such as a break or a picture. */
export interface Piece extends Extent {
  /** Its length in the flat text of `quote.ts`. */
  readonly units: number;
  /** The text that was read; `undefined` for anything else. */
  readonly words?: string;
  /** The innermost element around it that can be removed with it. */
  readonly owner: SourceNode;
}

/**
 * How an element behaves when all its content is removed: a `group` (list, row, section of a file) is removed too; a `cell` or
 * a `story` stays with the paragraph it requires; a `leaf` is a paragraph; an `inline` is inside one.
 */
export type NodeKind = 'story' | 'group' | 'row' | 'cell' | 'leaf' | 'inline';

/** An element of the source, with its position. */
export class SourceNode implements Extent {
  readonly kind: NodeKind;
  readonly parent: SourceNode | undefined;
  readonly children: SourceNode[] = [];
  /** The runs of a leaf, in reading order. */
  readonly pieces: Piece[] = [];
  start: number;
  end = 0;
  /** The range between its tags. */
  innerStart: number;
  innerEnd = 0;
  /** Whether it must stay even if all its words are removed, such as a row with cells that span several rows. */
  tied = false;
  /** Whether new blocks land in it; then it needs no empty paragraph once its own are removed. */
  isRefilled = false;
  /** Earlier paragraphs that continue in it, and are removed with it. */
  readonly joined: SourceNode[] = [];

  constructor(kind: NodeKind, parent: SourceNode | undefined, start: number, innerStart: number) {
    this.kind = kind;
    this.parent = parent;
    this.start = start;
    this.innerStart = innerStart;
    parent?.children.push(this);
  }

  close(innerEnd: number, end: number): void {
    this.innerEnd = innerEnd;
    this.end = end;
  }
}

/** The paragraphs of an element, in reading order. */
export const leavesIn = (node: SourceNode): SourceNode[] => [
  ...(node.kind === 'leaf' ? [node] : []),
  ...node.children.flatMap(leavesIn),
];

/** A point in a text, between two units of a leaf. */
export interface Point {
  readonly leaf: SourceNode;
  readonly at: number;
}

/** A range between two points, which may be equal. */
export interface Bookmark {
  readonly start: Point;
  end: Point;
  /** Whether it lies around whole blocks, and not in a cell or item. */
  readonly isAround?: boolean;
}

/** The source positions of blocks; a reader fills it in on request. */
export class Trace {
  readonly root = new SourceNode('story', undefined, 0, 0);
  /** The source elements of a block. */
  readonly nodes = new Map<Block, SourceNode[]>();
  readonly bookmarks = new Map<string, Bookmark>();

  link(block: Block, nodes: readonly SourceNode[]): void {
    if (nodes.length > 0) this.nodes.set(block, [...(this.nodes.get(block) ?? []), ...nodes]);
  }
}

/** The source elements of a block, or of the blocks in it. */
export function nodesOf(trace: Trace, block: Block): SourceNode[] {
  const own = trace.nodes.get(block) ?? [];
  return own.length > 0 ? own : childBlocks(block).flatMap((child) => nodesOf(trace, child));
}

/** Tracks the open element while a reader goes through its source; does nothing without a trace. */
export class Tracker {
  readonly trace: Trace | undefined;
  /** The position of the current event. */
  extent: Extent = { start: 0, end: 0 };
  node: SourceNode | undefined;

  constructor(trace: Trace | undefined) {
    this.trace = trace;
    this.node = trace?.root;
  }

  open(kind: NodeKind): SourceNode | undefined {
    if (this.trace) this.node = new SourceNode(kind, this.node, this.extent.start, this.extent.end);
    return this.trace && this.node;
  }

  close(): SourceNode | undefined {
    const { node } = this;
    if (!this.trace || !node) return undefined;
    node.close(this.extent.start, this.extent.end);
    this.node = node.parent;
    return node;
  }

  /** The nearest enclosing element of a kind. */
  around(kind: NodeKind): SourceNode | undefined {
    let { node } = this;
    while (node && node.kind !== kind) node = node.parent;
    return node;
  }

  /** The current event as a run inside the open element. */
  get source(): { readonly extent: Extent; readonly owner: SourceNode } | undefined {
    return this.node && { extent: this.extent, owner: this.node };
  }
}
