import { type Block, type Content, countOf, lineBreak, measure, preview, text } from '../../content/index.ts';
import type { TextPositionFragment } from '../../places/index.ts';
import { InlineCollector } from '../flow/inline-collector.ts';
import { NoteCounter, type Outline, type OutlineEntry, readWhole, type Source } from '../format.ts';
import type { ProseDocument } from '../prose-format.ts';
import { type Extent, SourceNode, type Trace } from '../trace.ts';
import { decodeText } from './encoding.ts';
import { isLong, outlineLongText, readLongLines } from './long-text.ts';
import { positionsOf } from './positions.ts';

export async function openText(source: Source): Promise<ProseDocument> {
  const whole = async () => readWhole(source, 'text');
  return {
    read: async ({ trace }) => ({
      blocks: readParagraphs(decodeText(await whole()).text, trace),
      notes: new NoteCounter(),
      trace,
    }),
    readPosition: (fragment) => readPosition(source, fragment),
    fetchPicture: async () => undefined,
    outline: () => outlineText(source),
  };
}

async function readPosition(source: Source, fragment: TextPositionFragment) {
  const notes = new NoteCounter();
  if (isLong(source) && fragment.kind === 'line' && fragment.length === undefined && fragment.md5 === undefined) {
    const { words, place } = await readLongLines(source, fragment);
    return { content: contentOf(words, 'line'), place, notes };
  }
  const bytes = await readWhole(source, 'text');
  const words = decodeText(bytes).text;
  const { start, end, place } = positionsOf(words, fragment, bytes);
  return { content: contentOf(words.slice(start, end), fragment.kind), place, notes };
}

/** Whole lines are paragraphs; characters within one paragraph are words. */
function contentOf(words: string, kind: 'line' | 'char'): Content {
  const blocks = readParagraphs(words);
  const [only] = blocks;
  return kind === 'char' && blocks.length === 1 && only?.type === 'paragraph'
    ? { shape: 'run', inlines: spaced(words, only.inlines) }
    : { shape: 'blocks', blocks };
}

/** Spaces at the ends, which a paragraph does not have, count among characters. */
function spaced(words: string, inlines: Extract<Block, { type: 'paragraph' }>['inlines']) {
  const [before = ''] = /^[ \t]*/.exec(words) ?? [];
  const [after = ''] = /[ \t]*$/.exec(words) ?? [];
  return [...(before === '' ? [] : [text(before)]), ...inlines, ...(after === '' ? [] : [text(after)])];
}

async function outlineText(source: Source): Promise<Outline> {
  if (isLong(source)) return { entries: await outlineLongText(source), notes: [] };
  const words = decodeText(await readWhole(source, 'text')).text;
  const paragraphs = readParagraphs(words);
  const entries = paragraphs.map((block, index): OutlineEntry => {
    const content: Content = { shape: 'blocks', blocks: [block] };
    return paragraphEntry(content, index + 1);
  });
  return { entries, notes: [] };
}

const paragraphEntry = (content: Content, number: number): OutlineEntry => ({
  place: `paragraph=${number}`,
  kind: 'paragraph',
  depth: 0,
  label: preview(content, 60),
  size: countOf('words', measure(content).words),
});

const lineEnd = /\r\n|[\n\r]/g;

/** Paragraphs are parted by blank lines; the line ends inside one are kept. */
export function readParagraphs(words: string, trace?: Trace): Block[] {
  const blocks: Block[] = [];
  let paragraph: Extent[] = [];
  const flush = (): void => {
    if (paragraph.length > 0) blocks.push(readParagraph(words, paragraph, trace));
    paragraph = [];
  };
  for (const line of linesOf(words)) {
    if (words.slice(line.start, line.end).trim() === '') flush();
    else paragraph.push(line);
  }
  flush();
  return blocks;
}

/** Lines without their ends. */
export function linesOf(words: string): Extent[] {
  const lines: Extent[] = [];
  let start = 0;
  for (const match of words.matchAll(lineEnd)) {
    lines.push({ start, end: match.index });
    start = match.index + match[0].length;
  }
  if (start < words.length) lines.push({ start, end: words.length });
  return lines;
}

function readParagraph(words: string, lines: readonly Extent[], trace: Trace | undefined): Block {
  const [start, end] = [lines[0]?.start ?? 0, lines.at(-1)?.end ?? 0];
  const node = trace && new SourceNode('leaf', trace.root, start, start);
  const collector = new InlineCollector();
  lines.forEach((line, index) => {
    const before = lines[index - 1];
    const source = (extent: Extent) => node && { extent, owner: node };
    if (before) collector.add(lineBreak, source({ start: before.end, end: line.start }));
    const shown = words.slice(line.start, line.end).trimEnd();
    collector.addText(shown, {}, true, source({ start: line.start, end: line.start + shown.length }));
  });
  const { inlines = [], pieces = [] } = collector.finish() ?? {};
  const block: Block = { type: 'paragraph', inlines };
  node?.close(end, end);
  node?.pieces.push(...pieces);
  if (node) trace?.link(block, [node]);
  return block;
}
