import { type Inline, inlineText, joinText, text } from '../content/index.ts';
import type { SourceNode } from './trace.ts';

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
  const opens = /[\s([{“‘/–—-]$/u;
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
