import { parse } from 'parse5';
import { type Block, type Inline, joinText, text } from '../../content/index.ts';
import { type Insertion, type ReadTools, readWhole, type Source } from '../format.ts';
import type { BlockTarget, WordTarget } from '../insertion-grammar.ts';
import type { EditableProse, ProseLanding } from '../prose-format.ts';
import { decodeExactly, encodeText } from '../text/encoding.ts';
import { lineEndOf, lineStart } from '../text/positions.ts';
import { applyEdits, type TextEdit } from '../text-edits.ts';
import type { Extent, SourceNode } from '../trace.ts';
import { attribute, elementsIn, isElement, type Node } from './dom.ts';
import { dropped } from './elements.ts';
import { noteItems, noteSection } from './fragment.ts';
import { htmlGrammar } from './grammar.ts';
import { markup } from './markup.ts';
import { encodingOfPage, readPage } from './read.ts';
import { type HtmlWriter, writeBlocks, writeItems } from './write-blocks.ts';
import { writeInlines } from './write-inlines.ts';

/** A page whose body changes in places; nothing of its head or its styles does. */
export async function editHtml(source: Source, tools: ReadTools): Promise<EditableProse> {
  const bytes = await readWhole(source, 'text');
  const decoded = decodeExactly(bytes, encodingOfPage(bytes));
  const page = decoded.text;
  return {
    source: decoded,
    grammar: htmlGrammar,
    read: async (request) => readPage(page, tools, request),
    end: () => ({ start: endOfBody(page), end: page.length }),
    landing: async (_, insertion) => landingIn(page, insertion),
    save: async (text) => encodeText(text, decoded),
  };
}

/** In front of the end tag of the body; without one, the end of the page, but not inside what the page leaves open. */
function endOfBody(text: string): number {
  const { childNodes } = parse(text, { sourceCodeLocationInfo: true });
  const elements = [...elementsIn(childNodes)];
  for (const name of ['body', 'html']) {
    const end = elements.find(({ tagName }) => tagName === name)?.sourceCodeLocation?.endTag;
    if (end) return end.startOffset;
  }
  const open = elements.find(
    ({ tagName, sourceCodeLocation: place }) =>
      dropped.has(tagName) && place && !place.endTag && place.endOffset >= text.length,
  );
  return Math.min(open?.sourceCodeLocation?.startOffset ?? text.length, endOfFinished(text, childNodes));
}

/**
 * A position, or where the page begins a tag or comment that it does not finish: elements that are open there end with the page,
 * but nothing behind that is part of it.
 */
const withinPage = (text: string, position: number): number =>
  position < text.length
    ? position
    : Math.min(position, endOfFinished(text, parse(text, { sourceCodeLocationInfo: true }).childNodes));

const endOfFinished = (text: string, nodes: readonly Node[]): number =>
  unfinished(text, [...nodes, ...[...elementsIn(nodes)].flatMap(({ childNodes }) => childNodes)]);

/** Where a comment or tag begins that the page does not finish; its end where there is none. */
function unfinished(text: string, nodes: readonly Node[]): number {
  let last = 0;
  for (const node of nodes) {
    const { startOffset = 0, endOffset = 0 } = node.sourceCodeLocation ?? {};
    const { startTag, endTag } = (isElement(node) && node.sourceCodeLocation) || {};
    if (node.nodeName === '#comment' && !text.slice(0, endOffset).endsWith('>')) return startOffset;
    last = Math.max(last, ...(isElement(node) ? [startTag?.endOffset ?? 0, endTag?.endOffset ?? 0] : [endOffset]));
  }
  const start = text.indexOf('<', last);
  return start < 0 ? text.length : start;
}

/** A bookmark lies beside another that ends at the place, not in it. */
function behindBookmarks(page: string, position: number): number {
  const { childNodes } = parse(page, { sourceCodeLocationInfo: true });
  const ends = [...elementsIn(childNodes)].flatMap((each) =>
    attribute(each, 'id') === undefined ? [] : (each.sourceCodeLocation?.endTag ?? []),
  );
  const next = ends.find(
    ({ startOffset }) => startOffset >= position && page.slice(position, startOffset).trim() === '',
  );
  return next ? behindBookmarks(page, next.endOffset) : position;
}

/** The start and end tag of the element of an id (HTML, section 3.2.6). */
function tagsOf(page: string, id: string): readonly { readonly startOffset: number; readonly endOffset: number }[] {
  const { childNodes } = parse(page, { sourceCodeLocationInfo: true });
  const place = [...elementsIn(childNodes)].find((each) => attribute(each, 'id') === id)?.sourceCodeLocation;
  return place?.startTag && place.endTag ? [place.startTag, place.endTag] : [];
}

/** The highest number that a note of ours has in the page. */
const notesIn = (text: string): number =>
  [...text.matchAll(/id="note-(\d{1,6})"/g)].reduce((most, [, number]) => Math.max(most, Number(number)), 0);

function landingIn(page: string, { media, bookmark }: Insertion): ProseLanding {
  const writer: HtmlWriter = { media, footnotes: [], firstNote: notesIn(page) + 1 };
  return {
    ...htmlGrammar,
    blocks: (blocks, spot, source) => {
      const edit = blockEdit(writer, blocks, spot, source);
      const start = bookmark === undefined || !spot.above ? edit.start : behindBookmarks(source, edit.start);
      return { ...edit, start, end: Math.max(start, edit.end) };
    },
    words: (inlines, { position }) => {
      const written = markup(writeWords(writer, inlines));
      const replacement = bookmark === undefined ? written : `<span id="${bookmark}">${written}</span>`;
      const start = withinPage(page, position);
      return [{ start, end: start, replacement }];
    },
    part: partParagraph,
    bookmarked: (source, name) =>
      source.replace(
        /^(\s*)([\s\S]*?)(\s*)$/,
        (_, lead, inside, trail) => `${lead}<div id="${name}">${inside}</div>${trail}`,
      ),
    withoutBookmark: (name) =>
      tagsOf(page, name).map(({ startOffset: start, endOffset: end }) => ({ start, end, replacement: '' })),
    finish: (edited) => withNotes(edited, writer),
  };
}

/**
 * Spaces at the ends stand between words here, so that they need no guard; and a break at the end of a paragraph needs a
 * second to be seen, while one inside it does not.
 */
function writeWords(writer: HtmlWriter, inlines: readonly Inline[]): ReturnType<typeof writeInlines> {
  const [first, ...rest] = inlines;
  const last = rest.at(-1);
  if (first?.type === 'text' && first.text.startsWith(' '))
    return [
      { type: 'text', value: ' ' },
      ...writeWords(writer, joinText([text(first.text.slice(1), first.marks), ...rest])),
    ];
  if (last?.type === 'text' && last.text.endsWith(' '))
    return [
      ...writeWords(writer, joinText([...inlines.slice(0, -1), text(last.text.slice(0, -1), last.marks)])),
      { type: 'text', value: ' ' },
    ];
  const written = writeInlines(writer, inlines);
  return inlines.length === 0 || inlines.at(-1)?.type === 'break' ? written.slice(0, -1) : written;
}

function blockEdit(writer: HtmlWriter, blocks: readonly Block[], spot: BlockTarget, source: string): TextEdit {
  const { list, item } = spot;
  const node = item ?? spot.above ?? spot.below;
  const own = node && (list && item ? itemOf(source, item) : elementOf(source, node));
  const [only] = blocks;
  const elements = list && only?.type === 'list' ? writeItems(writer, only) : writeBlocks(writer, blocks);
  const isFront = spot.below !== undefined;
  const position = own ? (isFront ? own.start : withinPage(source, own.end)) : spot.position;
  return onLinesOfItsOwn(
    source,
    position,
    elements.map((each) => markup([each])),
    isFront,
  );
}

/** Each element on a line of its own where what is beside it stands so, indented like it. */
function onLinesOfItsOwn(source: string, position: number, elements: readonly string[], isFront: boolean): TextEdit {
  const start = lineStart(source, position);
  const [indent = ''] = /^[ \t]*/.exec(source.slice(start, start + 200)) ?? [];
  const end = lineEndOf(source);
  const standsAlone = isFront
    ? source.slice(start, position).trim() === '' && start > 0
    : start > 0 && /^[ \t]*[\r\n]/.test(source.slice(position, position + 200));
  const joined = elements.join(standsAlone ? end + indent : '');
  const replacement = standsAlone ? (isFront ? joined + end + indent : end + indent + joined) : joined;
  return { start: position, end: position, replacement };
}

/** Tags whose element holds one paragraph and nothing else. */
const ownTags = /^<(?:p|h[1-6]|pre|address|dt|dd|figcaption|summary)[\s>]/i;

/** The element that a paragraph is all of; for bare words, the words. */
function elementOf(source: string, node: SourceNode): Extent {
  let own: SourceNode = node;
  while (
    node.kind === 'leaf' &&
    own.parent?.kind === 'group' &&
    ownTags.test(source.slice(own.parent.start, own.parent.start + 12))
  )
    own = own.parent;
  return own;
}

function itemOf(source: string, node: SourceNode): Extent {
  let own: SourceNode | undefined = node;
  while (own && !/^<li[\s>]/i.test(source.slice(own.start, own.start + 4))) own = own.parent;
  return own ?? elementOf(source, node);
}

/** A paragraph is closed and opened again, without the name that only one element may have. */
function partParagraph({ leaf, piece }: WordTarget, source: string): { close: string; open: string } | undefined {
  const own = elementOf(source, leaf);
  const [open, tag] = /^<([a-z][a-z\d]*)[^<>]*>/i.exec(source.slice(own.start, own.start + 2000)) ?? [];
  if (!open || !tag || piece?.owner !== leaf || own === leaf) return undefined;
  return { close: `</${tag}>`, open: open.replace(/\sid=(?:"[^"]*"|'[^']*'|[^\s>]+)/i, '') };
}

/** The texts of notes that came along: in the page’s list of notes, or in one of their own at its end. */
function withNotes(text: string, writer: HtmlWriter): string {
  if (writer.footnotes.length === 0) return text;
  const listEnd = /<section[^<>]*role="doc-endnotes"[^<>]*>[\s\S]*?(?=<\/ol>)/i.exec(text);
  const position = listEnd ? listEnd.index + listEnd[0].length : endOfBody(text);
  const replacement = (listEnd ? noteItems(writer) : noteSection(writer)).map((each) => markup([each])).join('');
  return applyEdits(text, [{ start: position, end: position, replacement }]);
}
