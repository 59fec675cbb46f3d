import { NoteCounter, type ReadTools, readWhole, type Source } from '../format.ts';
import { fetchPicture } from '../pictures.ts';
import { selectProse } from '../prose.ts';
import type { ProseDocument, ProseRequest, ReadProse } from '../prose-format.ts';
import { decodeText } from '../text/encoding.ts';
import { positionsOf } from '../text/positions.ts';
import { leavesIn, type Trace } from '../trace.ts';
import { parseMarkdown } from './parse.ts';
import { MarkdownReader } from './read-blocks.ts';

export async function openMarkdown(source: Source, tools: ReadTools): Promise<ProseDocument> {
  const bytes = await readWhole(source, 'text');
  const { text } = decodeText(bytes);
  return {
    read: async (request) => readMarkdown(text, request),
    readPosition: async (fragment) => {
      const { start, end, place } = positionsOf(text, fragment, bytes);
      const prose = readMarkdown(text.slice(start, end), {});
      return { content: selectProse(prose, { kind: 'whole' }).content, notes: prose.notes, place };
    },
    fetchPicture: (address) => fetchPicture(address, tools),
  };
}

export function readMarkdown(text: string, { trace }: ProseRequest): ReadProse {
  const root = parseMarkdown(text);
  const notes = new NoteCounter();
  const reader = new MarkdownReader(text, root, notes, trace);
  const blocks = reader.readBlocks(root.children, trace?.root);
  if (trace) markComments(text, trace);
  return { blocks, notes, trace };
}

/** The comment at the start or end of a bookmark. */
export const commentOf = (name: string, isEnd = false): string => `<!-- ${isEnd ? '/' : ''}bookmark: ${name} -->`;

/** Bookmarks are comments on lines of their own, around whole blocks. */
function markComments(text: string, trace: Trace): void {
  const leaves = leavesIn(trace.root);
  for (const { index, 0: comment, 1: name = '' } of text.matchAll(/^<!-- bookmark: ([A-Za-z]\w{0,39}) -->[ \t]*$/gm)) {
    const end = text.indexOf(commentOf(name, true), index);
    const first = leaves.find(({ start }) => start >= index + comment.length);
    const last = leaves.findLast((leaf) => leaf.end <= end);
    if (end < 0 || !first || !last || last.start < first.start) continue;
    const units = last.pieces.reduce((sum, piece) => sum + piece.units, 0);
    trace.bookmarks.set(name, { start: { leaf: first, at: 0 }, end: { leaf: last, at: units }, isAround: true });
  }
}
