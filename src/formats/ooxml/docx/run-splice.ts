import type { Piece, SourceNode } from '../../trace.ts';
import { propertiesSource } from './properties.ts';

/** The run that a piece of a paragraph lies in (ISO/IEC 29500-1, 17.3.2.25). */
export function runAround(source: string, leaf: SourceNode, piece: Piece | undefined): SourceNode | undefined {
  let node: SourceNode | undefined = piece?.owner;
  while (node && node !== leaf && !/^<(?:[\w.-]+:)?r[\s>]/.test(source.slice(node.start, node.start + 80)))
    node = node.parent;
  return node === leaf ? undefined : node;
}

/** Where something beside a run stands, when the place is at one of its ends: outside the links around it that end there too. */
export function runEdges(source: string, leaf: SourceNode, run: SourceNode, position: number): number | undefined {
  const inside = leaf.pieces.filter(({ start, end }) => start >= run.start && end <= run.end);
  if (position === inside[0]?.start) return outermost(source, leaf, run, 'start');
  return position === inside.at(-1)?.end ? outermost(source, leaf, run, 'end') : undefined;
}

function outermost(source: string, leaf: SourceNode, run: SourceNode, side: 'start' | 'end'): number {
  let node = run;
  for (let around = node.parent; around && around !== leaf; around = around.parent) {
    const between =
      side === 'start' ? source.slice(around.innerStart, node.start) : source.slice(node.end, around.innerEnd);
    if (around.kind !== 'inline' || between.trim() !== '') break;
    node = around;
  }
  return node[side];
}

/** What closes a run in the middle of a piece, and opens another that looks the same. */
export function runSplit(source: string, run: SourceNode, piece: Piece): { close: string; open: string } {
  const [, name = 'w:r'] = /^<([\w.:-]+)/.exec(source.slice(run.start, run.start + 80)) ?? [];
  const text = `${name.slice(0, -1)}t`;
  const properties = propertiesSource(source, run.innerStart, 'rPr');
  const inText = source[piece.start] !== '<';
  return {
    close: `${inText ? `</${text}>` : ''}</${name}>`,
    open: `<${name}>${properties}${inText ? `<${text} xml:space="preserve">` : ''}`,
  };
}
