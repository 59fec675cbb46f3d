import { type Block, childBlocks } from '../content/index.ts';

/** From `start` up to, not including, `end`, in UTF-16 units of the text of a part. */
export interface Extent {
  readonly start: number;
  readonly end: number;
}

/** A stretch of a paragraph's content and the source that shows it: a text, or one thing such as a break or a picture. */
export interface Piece extends Extent {
  /** Its length in the flat text of `quote.ts`. */
  readonly units: number;
  /** The words as they were read; `undefined` for anything but text. */
  readonly words?: string;
  /** The innermost element around it that may go with it. */
  readonly owner: SourceNode;
}

/**
 * What becomes of an element when all that is in it goes: a `group` (list, row, section of a file) goes too, a `cell` or a
 * `story` stays with the paragraph it must have, a `leaf` is a paragraph, an `inline` stands inside one.
 */
export type NodeKind = 'story' | 'group' | 'row' | 'cell' | 'leaf' | 'inline';

/** An element of the source, with where it stands. */
export class SourceNode implements Extent {
  readonly kind: NodeKind;
  readonly parent: SourceNode | undefined;
  readonly children: SourceNode[] = [];
  /** Of a leaf, in reading order. */
  readonly pieces: Piece[] = [];
  start: number;
  end = 0;
  /** What stands between its tags. */
  innerStart: number;
  innerEnd = 0;
  /** Whether it must stay although all its words go, such as a row tied to others by cells that span them. */
  tied = false;
  /** Paragraphs before it that go on in it, and go when it does. */
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

/** The paragraphs in an element, in reading order. */
export const leavesIn = (node: SourceNode): SourceNode[] => [
  ...(node.kind === 'leaf' ? [node] : []),
  ...node.children.flatMap(leavesIn),
];

/** A point in a text, between two units of a leaf. */
export interface Point {
  readonly leaf: SourceNode;
  readonly at: number;
}

/** Two points, or one where the end is the same. */
export interface Bookmark {
  readonly start: Point;
  end: Point;
}

/** Where blocks come from; a reader fills one in when it is asked to. */
export class Trace {
  readonly root = new SourceNode('story', undefined, 0, 0);
  /** The elements that a block was read from. */
  readonly nodes = new Map<Block, SourceNode[]>();
  readonly bookmarks = new Map<string, Bookmark>();

  link(block: Block, nodes: readonly SourceNode[]): void {
    if (nodes.length > 0) this.nodes.set(block, [...(this.nodes.get(block) ?? []), ...nodes]);
  }
}

/** The elements that a block was read from, or those of the blocks in it. */
export function nodesOf(trace: Trace, block: Block): SourceNode[] {
  const own = trace.nodes.get(block) ?? [];
  return own.length > 0 ? own : childBlocks(block).flatMap((child) => nodesOf(trace, child));
}

/** Follows a reader through its source and keeps the element that is open; does nothing when nobody asked for a trace. */
export class Tracker {
  readonly trace: Trace | undefined;
  /** Where the event being heard stands. */
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

  /** The nearest element of a kind around what is being heard. */
  around(kind: NodeKind): SourceNode | undefined {
    let { node } = this;
    while (node && node.kind !== kind) node = node.parent;
    return node;
  }

  /** What is being heard, as something inside the open element. */
  get source(): { readonly extent: Extent; readonly owner: SourceNode } | undefined {
    return this.node && { extent: this.extent, owner: this.node };
  }
}
