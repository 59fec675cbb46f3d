import type { Block } from '../../content/index.ts';
import type { Fragment } from '../../places/index.ts';
import { NoteCounter, type Outline, type ReadTools, readWhole, type Source, type Taken } from '../format.ts';
import { fetchPicture, resolvePictures } from '../pictures.ts';
import { type Prose, selectProse } from '../prose.ts';
import { outlineProse } from '../read-prose.ts';
import { decodeText } from '../text/encoding.ts';
import { positionsOf } from '../text/positions.ts';
import type { Trace } from '../trace.ts';
import { parseMarkdown } from './parse.ts';
import { MarkdownReader } from './read-blocks.ts';

export async function takeMarkdown(source: Source, fragment: Fragment, tools?: ReadTools): Promise<Taken> {
  const bytes = await readWhole(source, 'text');
  const { text } = decodeText(bytes);
  const notes = new NoteCounter();
  const byPosition =
    fragment.kind === 'line' || fragment.kind === 'char' ? positionsOf(text, fragment, bytes) : undefined;
  const words = byPosition ? text.slice(byPosition.start, byPosition.end) : text;
  const selected = selectProse(readMarkdown(words, notes), byPosition ? { kind: 'whole' } : fragment);
  const place = byPosition?.place ?? selected.place;
  const { content, media } = await resolvePictures(selected.content, (address) => fetchPicture(address, tools), notes);
  return { content, media, notes: notes.notes, ...(place !== undefined && { place }) };
}

export async function outlineMarkdown(source: Source, tools?: ReadTools): Promise<Outline> {
  const notes = new NoteCounter();
  return {
    entries: outlineProse(readMarkdown(decodeText(await readWhole(source, 'text')).text, notes), undefined, tools),
    notes: notes.notes,
  };
}

export function readMarkdown(
  text: string,
  notes: NoteCounter,
  trace?: Trace,
): Prose & { readonly blocks: readonly Block[] } {
  const root = parseMarkdown(text);
  const reader = new MarkdownReader(text, root, notes, trace);
  return { blocks: reader.readBlocks(root.children, trace?.root), ...(trace && { trace }) };
}
