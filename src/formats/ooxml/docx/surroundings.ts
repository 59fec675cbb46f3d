import type { Piece, SourceNode } from '../../trace.ts';
import { childOf, type SourceElement, type SourceTree } from '../../xml/source-tree.ts';
import type { BodyFacts } from './body-facts.ts';
import { propertiesOf, type SourceProperty } from './properties.ts';
import { type Page, pageFor } from './write-state.ts';

/** A traced element of the main part, with what is in it. */
export interface TracedElement {
  readonly tree: SourceTree;
  readonly element: SourceElement;
}

/** What is around the places of a document's main part. */
export class Surroundings {
  readonly source: string;
  readonly facts: BodyFacts;
  readonly #elements = new WeakMap<SourceNode, TracedElement>();

  constructor(source: string, facts: BodyFacts) {
    this.source = source;
    this.facts = facts;
  }

  /** The element of a traced node. */
  element(node: SourceNode): TracedElement {
    const known = this.#elements.get(node);
    if (known) return known;
    const tree = this.facts.fragment(this.source.slice(node.start, node.end));
    const found = { tree, element: tree.root.children[0] as SourceElement };
    this.#elements.set(node, found);
    return found;
  }

  /** The properties that an element tells of itself. */
  properties(node: SourceNode, name: 'w:pPr' | 'w:rPr'): SourceProperty[] {
    const { tree, element } = this.element(node);
    return propertiesOf(tree, childOf(element, name));
  }

  /** The room that there is for tables and pictures: the cell around the place, or the page of its section. */
  page(position: number, node: SourceNode | undefined): Page {
    for (let around = node; around; around = around.parent) {
      const width = around.kind === 'cell' ? cellWidth(this.element(around).element) : undefined;
      if (width !== undefined) return { width, height: width, margin: 0 };
    }
    // A section's properties stand at its end (ISO/IEC 29500-1, 17.6.17).
    return this.facts.sections.find(({ start }) => start >= position)?.page ?? pageFor('en-GB');
  }

  /** What a plain paragraph of the document looks like. */
  plainLook(nearest: SourceNode | undefined) {
    if (!nearest) return undefined;
    const run = this.runAround(
      nearest,
      nearest.pieces.find(({ words }) => words !== undefined),
    );
    const own = (kind: 'w:pPr' | 'w:rPr', node: SourceNode, names: readonly string[]): SourceProperty[] =>
      this.properties(node, kind).filter((property) => names.includes(property.name) || isUnnumbered(property));
    return {
      paragraph: own('w:pPr', nearest, paragraphLook),
      run: run ? own('w:rPr', run, ['rFonts', 'color', 'sz', 'szCs', 'lang']) : [],
    };
  }

  /** The run that a piece of a paragraph lies in (ISO/IEC 29500-1, 17.3.2.25). */
  runAround(leaf: SourceNode, piece: Piece | undefined): SourceNode | undefined {
    let node: SourceNode | undefined = piece?.owner;
    while (node && node !== leaf && this.element(node).element.name !== 'w:r') node = node.parent;
    return node === leaf ? undefined : node;
  }

  /** Where something beside a run stands, when the place is at one of its ends: outside the links around it that end there too. */
  runEdge(leaf: SourceNode, run: SourceNode, position: number): number | undefined {
    const inside = leaf.pieces.filter(({ start, end }) => start >= run.start && end <= run.end);
    if (position === inside[0]?.start) return this.#outermost(leaf, run, 'start');
    return position === inside.at(-1)?.end ? this.#outermost(leaf, run, 'end') : undefined;
  }

  #outermost(leaf: SourceNode, run: SourceNode, side: 'start' | 'end'): number {
    let node = run;
    for (let around = node.parent; around && around !== leaf; around = around.parent) {
      const [from, to] = side === 'start' ? [around.innerStart, node.start] : [node.end, around.innerEnd];
      if (around.kind !== 'inline' || this.source.slice(from, to).trim() !== '') break;
      node = around;
    }
    return node[side];
  }

  /** What closes a run in the middle of a piece, and opens another that looks the same. */
  runSplit(run: SourceNode, piece: Piece): { close: string; open: string } {
    const { tree, element } = this.element(run);
    const prefix = tree.prefix('w', element);
    const look = childOf(element, 'w:rPr');
    const inText = this.source[piece.start] !== '<';
    return {
      close: `${inText ? `</${prefix}t>` : ''}</${prefix}r>`,
      open: `<${prefix}r>${look ? tree.source(look) : ''}${inText ? `<${prefix}t xml:space="preserve">` : ''}`,
    };
  }
}

const paragraphLook = [
  'pStyle',
  'widowControl',
  'suppressAutoHyphens',
  'spacing',
  'ind',
  'contextualSpacing',
  'jc',
  'textAlignment',
];

/** A cell's width less the margins inside, of 5.4 points each. */
function cellWidth(cell: SourceElement): number | undefined {
  const { 'w:type': type, 'w:w': width } = childOf(childOf(cell, 'w:tcPr'), 'w:tcW')?.attributes ?? {};
  const twips = type === 'dxa' ? Number(width) : 0;
  return twips > 400 ? twips / 20 - 10.8 : undefined;
}

/** A paragraph may say that it has no number although its style has (17.9.18). */
const isUnnumbered = ({ name, element }: SourceProperty): boolean =>
  name === 'numPr' && childOf(element, 'w:numId')?.attributes['w:val'] === '0';
