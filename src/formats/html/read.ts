// Node's own decoder takes Windows-1252 for Latin-1.
import { TextDecoder } from '@exodus/bytes/encoding-lite.js';
import htmlEncodingSniffer from 'html-encoding-sniffer';
import { parse } from 'parse5';
import { type Block, type Content, DrawerError, findLanguage, type Table } from '../../content/index.ts';
import { Budget, checkBound } from '../bounds.ts';
import { type Excerpt, NoteCounter, type ReadTools, readWhole, type Source } from '../format.ts';
import { fetchPicture } from '../pictures.ts';
import { selectProse } from '../prose.ts';
import { type ProseDocument, type ProseRequest, type ReadProse, readDocument } from '../prose-format.ts';
import { isUtf8 } from '../text/encoding.ts';
import { attribute, type Element, elementsIn, isText, type Node, textOf } from './dom.ts';
import { FragmentMarks, findNoteTexts } from './note-texts.ts';
import { BlockReader, type Shared } from './read-blocks.ts';
import { outermost } from './surroundings.ts';
import { valuedCells } from './tables.ts';
import { markElements } from './trace.ts';

export async function openHtml(source: Source, tools: ReadTools): Promise<ProseDocument> {
  const text = decodePage(await readWhole(source, 'text'));
  return {
    read: async (request) => readPage(text, tools, request),
    fetchPicture: (address) => fetchPicture(address, tools),
  };
}

/** Whether a place holds nothing of what is hidden: then it reads the same, or is even found, without it. */
function isSame(content: Content, withoutHidden: () => Content): boolean {
  try {
    return JSON.stringify(withoutHidden()) === JSON.stringify(content);
  } catch (error) {
    if (DrawerError.is(error)) return false;
    throw error;
  }
}

/** Elements whose names people may know; those around large parts of a page are its programmers' own. */
const isNamed = ({ tagName }: Element): boolean =>
  !['html', 'body', 'div', 'span', 'main', 'li', 'input'].includes(tagName);

/** A table alone, with a spreadsheet's values behind it, is a range of cells. */
function withValues(content: Content, values: Shared['values']): Content {
  const [only, ...others] = content.shape === 'blocks' ? content.blocks : [];
  const known = only?.type === 'table' && others.length === 0 ? values.get(only) : undefined;
  return known ? valuedCells(only as Table, known) : content;
}

/** By this a page says that a part of it is to be kept as a secret: `<p data-drawer="secret">`. */
const isSecret = (element: Element): boolean => attribute(element, 'data-drawer') === 'secret';

/** Puts signs in the place of all that an element shows. */
function hide(element: Element): void {
  for (const { attrs, childNodes } of elementsIn([element])) {
    for (const attribute of attrs) if (/^(?:src|alt)$/.test(attribute.name)) attribute.value = '•';
    for (const node of childNodes) if (isText(node)) node.value = node.value.replace(/\S/gu, '•');
  }
}

/** The encoding of a page, sniffed as the HTML standard says (section 13.2.3). */
export const encodingOfPage = (bytes: Uint8Array): string =>
  htmlEncodingSniffer(bytes, { defaultEncoding: isUtf8(bytes) ? 'utf-8' : 'windows-1252' }).toLowerCase();

const decodePage = (bytes: Uint8Array): string => new TextDecoder(encodingOfPage(bytes)).decode(bytes);

/** A page by the HTML standard's own parsing rules (HTML, section 13.2). */
export function readPage(text: string, tools: ReadTools, request: ProseRequest): ReadProse {
  const html = withoutClipboardHeader(text);
  checkBound('tags', html.split('<').length - 1);
  const parseNodes = () => parse(html, { sourceCodeLocationInfo: request.trace !== undefined }).childNodes;
  return readNodes(parseNodes, /<!--\s*StartFragment\s*-->/.test(html), tools, request);
}

type FetchPicture = ProseDocument['fetchPicture'];

/** What the nodes of something that is shown hold, such as a selection; its pictures are fetched by their addresses. */
export const excerptOfNodes = (
  nodes: () => readonly Node[],
  tools: ReadTools,
  picture: FetchPicture,
): Promise<Excerpt> => excerptOf((request) => readNodes(nodes, false, tools, request), tools, picture);

/** What markup holds that is text already. */
export const excerptOfMarkup = (markup: string, tools: ReadTools, picture: FetchPicture): Promise<Excerpt> =>
  excerptOf((request) => readPage(markup, tools, request), tools, picture);

function excerptOf(
  read: (request: ProseRequest) => ReadProse,
  tools: ReadTools,
  picture: FetchPicture,
): Promise<Excerpt> {
  const document: ProseDocument = {
    read: async (request) => read(request),
    fetchPicture: async (address) => (await picture(address)) ?? fetchPicture(address, tools),
  };
  return readDocument('html', document, { kind: 'whole' }, tools);
}

/** @param nodes - makes them anew each time, since hiding secrets changes them */
function readNodes(
  nodes: () => readonly Node[],
  hasFragmentMarks: boolean,
  tools: ReadTools,
  request: ProseRequest,
  hidesSecrets = false,
): ReadProse {
  const { trace, outlines } = request;
  const roots = nodes();
  const elements = [...elementsIn(roots)];
  const secrets = elements.filter(isSecret);
  if (hidesSecrets) secrets.forEach(hide);
  const first = (tag: string): Element | undefined => elements.find((element) => element.tagName === tag);
  const root = first('html');
  const language = findLanguage(root && attribute(root, 'lang'));
  const base = first('base');
  const shared: Shared = {
    notes: new NoteCounter(),
    noteTexts: findNoteTexts(elements),
    budget: new Budget(),
    base: baseOf(base && attribute(base, 'href'), tools.address),
    fragment: new FragmentMarks(hasFragmentMarks),
    values: new Map(),
    trace,
  };
  const title = first('title');
  const blocks = BlockReader.read(
    root ? (first('body')?.childNodes ?? []) : roots,
    shared,
    outermost(language, trace?.root),
  );
  if (trace) markElements(trace, outlines ? elements.filter(isNamed) : elements);
  return {
    blocks,
    notes: shared.notes,
    trace,
    language,
    ...(title && { title: textOf(title).replace(/\s+/g, ' ').trim() }),
    ...(tools.address && { url: tools.address }),
    refine: (selected, fragment) => {
      const hidden = () => selectProse(readNodes(nodes, hasFragmentMarks, tools, request, true), fragment).content;
      const content = withValues(selected, shared.values);
      return secrets.length > 0 && !isSame(selected, hidden) ? { content, secret: true } : { content };
    },
  };
}

/** Some systems put lines in front of a page on the clipboard that say where its parts begin; blanked, so that places stay. */
const withoutClipboardHeader = (text: string): string =>
  /^Version:[\d.]+\s/.test(text) ? text.replace(/^[^<]*/, (header) => ' '.repeat(header.length)) : text;

function baseOf(base: string | undefined, address: string | undefined): string | undefined {
  try {
    return base === undefined ? address : new URL(base, address).href;
  } catch {
    return address;
  }
}

/** The blocks of a piece of HTML inside another text. */
export const readHtmlBlocks = (html: string, notes: NoteCounter): Block[] => {
  const page = readPage(html, {}, {});
  notes.addAll(page.notes.notes);
  return [...page.blocks];
};
