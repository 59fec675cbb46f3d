import { type Content, run } from '../../content/index.ts';
import type { PageNode } from '../../formats/html/index.ts';
import { type Excerpt, formatNamed, sourceOf } from '../../formats/index.ts';
import { isElement, isText } from '../dom.ts';
import { type Snapshot, snapshot } from './snapshot.ts';

/**
 * What a range of the page holds: words when it lies within one paragraph, whole blocks otherwise. Read by the same rules
 * as a page in a file, so that nothing in it can run.
 */
export const readRange = (range: Range): Promise<Excerpt> => readSnapshot(snapshot(range));

/** What was taken down of a page, as content. */
export async function readSnapshot({ root, isWithinParagraph }: Snapshot): Promise<Excerpt> {
  const [{ excerptOfNodes }, pictures] = await Promise.all([import('../../formats/html/index.ts'), picturesIn(root)]);
  const taken = await excerptOfNodes(
    () => [...root.childNodes].map((node) => treeOf(node, undefined)),
    { address: document.baseURI },
    async (address) => pictures.get(address),
  );
  return { ...taken, content: isWithinParagraph ? asRun(taken.content) : alone(taken.content) };
}

/** Markup of any origin as content. */
export const readMarkup = (markup: string, address = document.baseURI): Promise<Excerpt> =>
  readMarkupWith(markup, new Map(), address);

async function readMarkupWith(
  markup: string,
  pictures: ReadonlyMap<string, Uint8Array>,
  address: string,
): Promise<Excerpt> {
  const { excerptOfMarkup } = await import('../../formats/html/index.ts');
  return excerptOfMarkup(markup, { address }, async (picture) => pictures.get(picture));
}

/**
 * Markup that an editor wrote for what it copied, as content: with the bytes of the pictures that the page shows there, and as
 * words where they are from within one paragraph.
 */
export async function readEdited(markup: string, seen: Snapshot | undefined): Promise<Excerpt> {
  if (!seen) return readMarkup(markup);
  const pictures = await picturesIn(seen.root);
  const shown = [...seen.root.querySelectorAll('img')].map((picture) => picture.getAttribute('src') ?? '');
  let at = 0;
  const isSame = (markup.match(/<img\b/gi)?.length ?? 0) === shown.length;
  const whole = !isSame
    ? markup
    : markup.replace(/<img\b[^>]*>/gi, (tag) => {
        const address = shown[at++] ?? '';
        return pictures.has(address) || address.startsWith('data:')
          ? tag.replace(/\ssrc\s*=\s*(?:"[^"]*"|'[^']*'|[^\s>]+)/i, () => ` src="${address.replaceAll('&', '&amp;')}"`)
          : tag;
      });
  const taken = await readMarkupWith(whole, pictures, document.baseURI);
  return { ...taken, content: seen.isWithinParagraph ? asRun(taken.content) : alone(taken.content) };
}

/** Typed words as content: a run when they are one line, paragraphs otherwise. */
export async function readWords(words: string): Promise<Excerpt> {
  if (!/[\n\r]/.test(words)) return { content: run(words), media: new Map(), notes: [] };
  const { read } = await formatNamed('text').load();
  return (await read?.(sourceOf(new TextEncoder().encode(words), 'selection.txt'), { kind: 'whole' })) as Excerpt;
}

/** The words of a single paragraph, without it. */
function asRun(content: Content): Content {
  if (content.shape !== 'blocks') return content;
  const [only] = content.blocks;
  const block =
    only?.type === 'list'
      ? only.items[0]?.blocks[0]
      : only?.type === 'table'
        ? only.rows[0]?.cells[0]?.blocks[0]
        : only;
  const isAlone = content.blocks.length === 1 && (block?.type === 'paragraph' || block?.type === 'heading');
  return isAlone ? alone({ shape: 'run', inlines: block.inlines }) : alone(content);
}

/** A picture and nothing else is a picture. */
function alone(content: Content): Content {
  const inlines =
    content.shape === 'run'
      ? content.inlines
      : content.shape === 'blocks' && content.blocks.length === 1 && content.blocks[0]?.type === 'paragraph'
        ? content.blocks[0].inlines
        : [];
  const block = content.shape === 'blocks' && content.blocks.length === 1 ? content.blocks[0] : undefined;
  const picture =
    block?.type === 'picture' ? block : inlines.length === 1 && inlines[0]?.type === 'picture' ? inlines[0] : undefined;
  if (!picture) return content;
  const { type: _, ...facts } = picture;
  return { shape: 'picture', picture: facts };
}

/** No picture of a page is larger, in bytes. */
const largest = 64 * 2 ** 20;

/**
 * The bytes of pictures, by their addresses. They are the ones that the page shows: read from the browser's own store of what
 * it has loaded, or as the site allows; a picture that cannot be read is missing.
 */
async function picturesIn(root: Element): Promise<ReadonlyMap<string, Uint8Array>> {
  const addresses = [...root.querySelectorAll('img[src]')].map((picture) => picture.getAttribute('src') ?? '');
  const found = await Promise.all(
    [...new Set(addresses)].map(async (address) => [address, await fetchShown(address)] as const),
  );
  return new Map(found.flatMap(([address, bytes]) => (bytes ? [[address, bytes] as const] : [])));
}

async function fetchShown(address: string): Promise<Uint8Array | undefined> {
  if (/^data:/i.test(address)) return undefined; // it holds its bytes itself
  try {
    const answer = await fetch(address, { cache: 'force-cache' });
    const type = answer.headers.get('content-type') ?? '';
    if (!answer.ok || !/^image\//i.test(type)) return undefined;
    const blob = await answer.blob();
    return blob.size <= largest ? new Uint8Array(await blob.arrayBuffer()) : undefined;
  } catch {
    return undefined; // another site's, which does not let its bytes be read: the reader says that it was left out
  }
}

/** Nodes of a page as the reader of pages knows them. */
function treeOf(node: ChildNode, parent: PageElement | undefined): PageNode {
  const parentNode = parent ?? null;
  if (isText(node)) return { nodeName: '#text', value: node.data, parentNode } as PageNode;
  if (!isElement(node)) return { nodeName: '#comment', data: node.nodeValue ?? '', parentNode } as PageNode;
  const attrs = [...node.attributes].map(({ name, value }) => ({ name, value }));
  const { localName: nodeName, namespaceURI } = node;
  const element = {
    nodeName,
    tagName: nodeName,
    namespaceURI,
    attrs,
    childNodes: [],
    parentNode,
  } as unknown as PageElement;
  element.childNodes = [...node.childNodes].map((child) => treeOf(child, element));
  return element;
}

type PageElement = Extract<PageNode, { tagName: string }>;
