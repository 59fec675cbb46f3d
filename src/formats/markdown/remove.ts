import type { List, Nodes } from 'mdast';
import type { Fragment } from '../../places/index.ts';
import { type Removed, readAll, type Source } from '../format.ts';
import { NoteCounter } from '../notes.ts';
import type { Grammar } from '../removal.ts';
import { decodeExactly, encodeText } from '../text/encoding.ts';
import { plainEdits, plainGrammar, wholeLines } from '../text/remove.ts';
import { applyEdits, type TextEdit } from '../text-edits.ts';
import { type Extent, Trace } from '../trace.ts';
import { parseMarkdown, readMarkdown } from './read.ts';

/** The text without a place; the numbers of a list that loses items follow on. */
export async function removeMarkdown(source: Source, fragments: readonly Fragment[]): Promise<Removed> {
  const bytes = await readAll(source);
  const decoded = decodeExactly(bytes);
  const { text } = decoded;
  const trace = new Trace();
  const prose = { ...readMarkdown(text, new NoteCounter(), trace), trace };
  const edits = plainEdits(text, prose, fragments, bytes, markdownGrammar);
  return { bytes: encodeText(applyEdits(text, [...edits, ...renumber(text, edits)]), decoded), notes: [] };
}

export const markdownGrammar: Grammar = {
  ...plainGrammar,
  reach: (source, extent) => {
    const lineStart =
      Math.max(source.lastIndexOf('\n', extent.start - 1), source.lastIndexOf('\r', extent.start - 1)) + 1;
    const isFirst = /^[ \t>]*$/.test(source.slice(lineStart, extent.start));
    return isFirst ? wholeLines(source, { start: lineStart, end: extent.end }) : extent;
  },
};

/** New numbers for the items left of the lists that lost some, where their numbers followed one another. */
function renumber(text: string, edits: readonly TextEdit[]): TextEdit[] {
  const isGone = ({ start, end }: Extent): boolean => edits.some((edit) => edit.start <= start && end <= edit.end);
  const extentOf = ({ position }: Nodes): Extent => ({
    start: position?.start.offset ?? 0,
    end: position?.end.offset ?? 0,
  });
  return orderedLists(parseMarkdown(text)).flatMap((list) => {
    const numbers = list.children.map((item) => {
      const { start } = extentOf(item);
      const [digits = ''] = /^\d{1,9}/.exec(text.slice(start, start + 10)) ?? [];
      return { start, end: start + digits.length, digits, gone: isGone(extentOf(item)) };
    });
    const follow = numbers.every(({ digits }, at) => Number(digits) === Number(numbers[0]?.digits) + at);
    if (!follow || !numbers.some(({ gone }) => gone)) return [];
    return numbers
      .filter(({ gone }) => !gone)
      .map(({ start, end }, at) => ({ start, end, replacement: String(Number(numbers[0]?.digits) + at) }));
  });
}

const orderedLists = (node: Nodes): List[] => [
  ...(node.type === 'list' && node.ordered ? [node] : []),
  ...('children' in node ? node.children.flatMap(orderedLists) : []),
];
