import type { List, Nodes } from 'mdast';
import type { Grammar } from '../removal.ts';
import { lineEndOf, lineStart } from '../text/positions.ts';
import { plainGrammar, wholeLines } from '../text/text.ts';
import type { TextEdit } from '../text-edits.ts';
import { type Extent, SourceNode } from '../trace.ts';
import { parseMarkdown } from './parse.ts';

/** The text that is left: the numbers of a list that loses items follow on, and lists stay apart. */
export function mendMarkdown(text: string, edits: readonly TextEdit[]): readonly TextEdit[] {
  const tree = parseMarkdown(text);
  return [...renumber(text, tree, edits), ...keptApart(text, tree, edits)];
}

export const markdownGrammar: Grammar = {
  ...plainGrammar,
  reach: (source, extent) => {
    const lineStart =
      Math.max(source.lastIndexOf('\n', extent.start - 1), source.lastIndexOf('\r', extent.start - 1)) + 1;
    const isFirst = /^[ \t>]*$/.test(source.slice(lineStart, extent.start));
    // A table ends with a blank line, which its last row leaves behind.
    if (extent instanceof SourceNode && extent.kind === 'row' && isFirst)
      return { start: source.slice(0, lineStart).search(/\r?\n?$/), end: extent.end };
    return isFirst ? wholeLines(source, { start: lineStart, end: extent.end }) : extent;
  },
};

/** New numbers for the items left of the lists that lost some, where their numbers followed one another. */
function renumber(text: string, tree: Nodes, edits: readonly TextEdit[]): TextEdit[] {
  return orderedLists(tree).flatMap((list) => {
    const numbers = list.children.map((item) => {
      const { start } = extentOf(item);
      const [digits = ''] = /^\d{1,9}/.exec(text.slice(start, start + 10)) ?? [];
      return { start, end: start + digits.length, digits, gone: isGone(item, edits) };
    });
    const follow = numbers.every(({ digits }, at) => Number(digits) === Number(numbers[0]?.digits) + at);
    if (!follow || !numbers.some(({ gone }) => gone)) return [];
    return numbers
      .filter(({ gone }) => !gone)
      .map(({ start, end }, at) => ({ start, end, replacement: String(Number(numbers[0]?.digits) + at) }));
  });
}

/** A comment between lists that would be one without what stood between them (CommonMark 0.31.2, section 5.3). */
function keptApart(text: string, tree: Nodes, edits: readonly TextEdit[]): TextEdit[] {
  return everyParent(tree).flatMap(({ children }) => {
    const left = children.map((child, at) => ({ child, at })).filter(({ child }) => !isGone(child, edits));
    return left.flatMap(({ child, at }, index) => {
      const before = left[index - 1];
      if (!before || at === before.at + 1 || !wouldJoin(text, before.child, child)) return [];
      const { start } = extentOf(child);
      const line = lineStart(text, start);
      const [prefix, end] = [text.slice(line, start), lineEndOf(text)];
      return { start: line, end: line, replacement: `${prefix}<!-- -->${end}${prefix.trimEnd()}${end}` };
    });
  });
}

/** Whether two lists have the same signs, and so are one where nothing stands between them. */
function wouldJoin(text: string, one: Nodes, other: Nodes): boolean {
  const signOf = (list: Nodes): string | undefined =>
    list.type === 'list' ? /^\d*([-*+.)])/.exec(text.slice(extentOf(list).start))?.[1] : undefined;
  const sign = signOf(one);
  return sign !== undefined && sign === signOf(other);
}

/** Whether an edit takes it out, or all that it is made of. */
function isGone(node: Nodes, edits: readonly TextEdit[]): boolean {
  const { start, end } = extentOf(node);
  if (edits.some((edit) => edit.start <= start && end <= edit.end)) return true;
  return node.type === 'list' && node.children.every((item) => isGone(item, edits));
}

const extentOf = ({ position }: Nodes): Extent => ({
  start: position?.start.offset ?? 0,
  end: position?.end.offset ?? 0,
});

const everyParent = (node: Nodes): { readonly children: readonly Nodes[] }[] =>
  'children' in node ? [node, ...node.children.flatMap(everyParent)] : [];

const orderedLists = (node: Nodes): List[] => [
  ...(node.type === 'list' && node.ordered ? [node] : []),
  ...('children' in node ? node.children.flatMap(orderedLists) : []),
];
