/**
 * Plain text (.txt) alone.
 * @packageDocumentation
 */

import { plainText } from '../../content/index.ts';
import { type Insertion, NoteCounter, readWhole, type Source } from '../format.ts';
import {
  type EditableProse,
  type ProseLanding,
  type ProseRequest,
  proseFormat,
  type ReadProse,
} from '../prose-format.ts';
import { type Grammar, notFoundInSource } from '../removal.ts';
import type { TextEdit } from '../text-edits.ts';
import type { Extent } from '../trace.ts';
import { decodeExactly, encodeText } from './encoding.ts';
import { lineEndOf, standing } from './positions.ts';
import { openText, readParagraphs } from './read.ts';

/** Plain text; written in UTF-8, lines ended by a line feed. */
export const text = proseFormat({
  name: 'text',
  open: openText,
  edit: editText,
  write: async (content) => new TextEncoder().encode(`${plainText(content)}\n`),
});

/** A text in which what lands is words only: a blank line parts it from what is around. */
async function editText(source: Source): Promise<EditableProse> {
  return editableText(source, {
    grammar: plainGrammar,
    read: (text, { trace }) => ({ blocks: readParagraphs(text, trace), notes: new NoteCounter(), trace }),
    landing: () => landing,
  });
}

/** Texts that are their own source, in which lines and characters are places too. */
export async function editableText(
  source: Source,
  {
    grammar,
    read,
    landing,
    mend,
  }: {
    readonly grammar: Grammar;
    read(text: string, request: ProseRequest): ReadProse;
    landing(text: string, insertion: Insertion): ProseLanding;
    mend?(text: string, edits: readonly TextEdit[]): readonly TextEdit[];
  },
): Promise<EditableProse> {
  const bytes = await readWhole(source, 'text');
  const decoded = decodeExactly(bytes);
  const { text } = decoded;
  return {
    source: decoded,
    bytes,
    grammar,
    read: async (request) => read(text, request),
    end: () => ({ start: text.length, end: text.length }),
    landing: async (_, insertion) => landing(text, insertion),
    ...(mend && { mend: (edits) => mend(text, edits) }),
    save: async (edited) => encodeText(edited, decoded),
  };
}

/** Of texts whose paragraphs are their lines. */
export const plainGrammar: Grammar = {
  remains: () => '',
  remainsInside: false,
  emptyParagraph: () => '',
  mustStay: () => false,
  locate: (source, { start, end, words = '' }, from, to) => locateInText(source, { start, end }, words, from, to),
  keepSpaces: () => [],
  reach: wholeLines,
};

const landing: ProseLanding = {
  ...plainGrammar,
  blocks: (blocks, { position }, source) => standing(source, position, plainText({ shape: 'blocks', blocks })),
  words: (inlines, { position }, source) => [
    {
      start: position,
      end: position,
      replacement: plainText({ shape: 'run', inlines }).replaceAll('\n', lineEndOf(source)),
    },
  ],
  part: () => ({ close: '', open: '' }),
};

/** Where units of words begin and end in source that may have more signs than they. */
export function locateInText(source: string, { start, end }: Extent, words: string, from: number, to: number): Extent {
  let at = start;
  let first = start;
  let unit = 0;
  for (; at < end && unit < to; at++) {
    if (unit <= from) first = at;
    if (source[at] === words[unit] || (/\s/.test(source[at] ?? '') && /\s/.test(words[unit] ?? ''))) unit++;
  }
  if (unit < to) throw notFoundInSource();
  return { start: first, end: at };
}

/** With the ends of its lines and the blank lines behind it; at the end of the text, with those in front of it. */
export function wholeLines(source: string, { start, end }: Extent): Extent {
  const [behind = ''] = /^[ \t]*(?:(?:\r\n|[\n\r])[ \t]*(?=[\r\n]|$))*(?:\r\n|[\n\r])?/.exec(source.slice(end)) ?? [];
  if (end + behind.length < source.length) return { start, end: end + behind.length };
  const [before = ''] =
    /(?:\r\n|[\n\r])(?:[ \t]*(?:\r\n|[\n\r]))*$/.exec(source.slice(Math.max(0, start - 4096), start)) ?? [];
  const keepsEnd = /[\n\r]$/.test(source) && before !== '' ? (/^(?:\r\n|[\n\r])/.exec(before)?.[0].length ?? 0) : 0;
  return { start: start - before.length + keepsEnd, end: source.length };
}
