import { NoteCounter, type ReadTools, readWhole, type Source } from '../format.ts';
import { fetchPicture } from '../pictures.ts';
import { selectProse } from '../prose.ts';
import type { ProseDocument, ProseRequest, ReadProse } from '../prose-format.ts';
import { decodeText } from '../text/encoding.ts';
import { positionsOf } from '../text/positions.ts';
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
  return { blocks: reader.readBlocks(root.children, trace?.root), notes, trace };
}
