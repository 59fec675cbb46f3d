import { plainText } from '../../content/index.ts';
import type { Fragment, TextPositionFragment } from '../../places/index.ts';
import { checkedWrite, cleanTake } from '../checked-change.ts';
import { type Format, type Inserted, type Insertion, type Removed, readWhole, type Source } from '../format.ts';
import { insertionEdits } from '../insertion.ts';
import type { InsertGrammar } from '../insertion-grammar.ts';
import type { Prose } from '../prose.ts';
import { type Grammar, notFoundInSource, placeRemoval } from '../removal.ts';
import { applyEdits, type TextEdit } from '../text-edits.ts';
import { type Extent, Trace } from '../trace.ts';
import { decodeExactly, encodeText } from './encoding.ts';
import { lineEndOf, positionEdit, positionsOf, standing } from './positions.ts';
import { outlineText, readParagraphs, takeText } from './read.ts';

/** Plain text; written in UTF-8, lines ended by a line feed. */
export const text = {
  name: 'text',
  outline: outlineText,
  take: cleanTake(takeText),
  remove: removeText,
  insert: insertText,
  write: (content) => checkedWrite(content, async () => new TextEncoder().encode(`${plainText(content)}\n`)),
} satisfies Format;

/** The text with content at a place, as words only: a blank line parts it from what is around. */
export async function insertText(source: Source, fragment: Fragment, insertion: Insertion): Promise<Inserted> {
  const bytes = await readWhole(source, 'text');
  const decoded = decodeExactly(bytes);
  const { text } = decoded;
  const byPosition = positionEdit(text, fragment, insertion.side, bytes, plainText(insertion.content));
  const trace = new Trace();
  const prose = { blocks: readParagraphs(text, trace), trace };
  trace.root.close(text.length, text.length);
  const landing = byPosition ?? insertionEdits(text, prose, fragment, insertion, grammar);
  return { ...landing, bytes: encodeText(applyEdits(text, landing.edits), decoded) };
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

const grammar: InsertGrammar = {
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

/** The text without a place. */
export async function removeText(source: Source, fragments: readonly Fragment[]): Promise<Removed> {
  const bytes = await readWhole(source, 'text');
  const decoded = decodeExactly(bytes);
  const text = decoded.text;
  const trace = new Trace();
  const prose = { blocks: readParagraphs(text, trace), trace };
  const edits = plainEdits(text, prose, fragments, bytes, plainGrammar);
  return { bytes: encodeText(applyEdits(text, edits), decoded), notes: [] };
}

/** The edits that take places out of text that may be named by position too. */
export function plainEdits(
  text: string,
  prose: Prose & { readonly trace: Trace },
  fragments: readonly Fragment[],
  bytes: Uint8Array,
  grammar: Grammar,
): TextEdit[] {
  const isPosition = ({ kind }: Fragment): boolean => kind === 'line' || kind === 'char';
  const places = fragments.filter((fragment) => !isPosition(fragment));
  const edits = fragments
    .filter(isPosition)
    .map((fragment) => ({ ...positionsOf(text, fragment as TextPositionFragment, bytes), replacement: '' }));
  return [...edits, ...placeRemoval(text, prose, places, grammar)];
}

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
