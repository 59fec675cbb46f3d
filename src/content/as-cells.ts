import { sameMarks } from './build.ts';
import type { Block, Cell, Inline, Marks } from './model.ts';
import { blocksText, inlineText } from './plain-text.ts';

/** What blocks say as one cell; a single paragraph keeps its marks. */
export function blocksCell(blocks: readonly Block[]): Cell {
  const [only] = blocks;
  if (blocks.length === 1 && only?.type === 'paragraph') return runCell(only.inlines);
  const words = blocksText(blocks, '\n');
  return words === '' ? { type: 'empty' } : { type: 'text', value: words };
}

/** Words as one cell, with the marks that all of them have and that a whole cell can have. */
export function runCell(inlines: readonly Inline[]): Cell {
  const words = inlineText(inlines);
  if (words === '') return { type: 'empty' };
  const [first, ...others] = inlines.flatMap((inline) => (inline.type === 'text' ? [inline.marks ?? {}] : []));
  const marks = first && others.every((each) => sameMarks(first, each)) ? cellMarks(first) : {};
  return { type: 'text', value: words, ...(Object.keys(marks).length > 0 && { marks }) };
}

function cellMarks({ code: _, position: __, language: ___, background: ____, ...marks }: Marks): Marks {
  return marks;
}
