import { type Content, run } from '../../content/index.ts';
import { formatNamed, sourceOf, type Taken } from '../../formats/index.ts';
import { type Snapshot, snapshot } from './snapshot.ts';

/**
 * What a range of the page holds: words when it lies within one paragraph, whole blocks otherwise. Read by the same rules
 * as a page in a file, so that nothing in it can run.
 */
export const takeRange = (range: Range): Promise<Taken> => takeSnapshot(snapshot(range));

/** What was taken down of a page, as content. */
export async function takeSnapshot({ root, isWithinParagraph }: Snapshot): Promise<Taken> {
  await holdPictures(root);
  const taken = await takeMarkup(root.innerHTML);
  return { ...taken, content: isWithinParagraph ? asRun(taken.content) : alone(taken.content) };
}

/** Markup of any origin as content. */
export async function takeMarkup(markup: string, address = document.baseURI): Promise<Taken> {
  const { take } = await formatNamed('html').load();
  const source = sourceOf(new TextEncoder().encode(`<meta charset="utf-8">${markup}`), 'selection.html');
  return (await take?.(source, { kind: 'whole' }, { address })) as Taken;
}

/**
 * Markup that an editor wrote for what it copied, as content: with the bytes of the pictures that the page shows there, and as
 * words where they are from within one paragraph.
 */
export async function takeEdited(markup: string, seen: Snapshot | undefined): Promise<Taken> {
  if (!seen) return takeMarkup(markup);
  await holdPictures(seen.root);
  const held = [...seen.root.querySelectorAll('img')].map((picture) => picture.getAttribute('src') ?? '');
  let at = 0;
  const isSame = (markup.match(/<img\b/gi)?.length ?? 0) === held.length;
  const whole = !isSame
    ? markup
    : markup.replace(/<img\b[^>]*>/gi, (tag) => {
        const address = held[at++] ?? '';
        return address.startsWith('data:')
          ? tag.replace(/\ssrc\s*=\s*(?:"[^"]*"|'[^']*'|[^\s>]+)/i, ` src="${address}"`)
          : tag;
      });
  const taken = await takeMarkup(whole);
  return { ...taken, content: seen.isWithinParagraph ? asRun(taken.content) : alone(taken.content) };
}

/** Typed words as content: a run when they are one line, paragraphs otherwise. */
export async function takeWords(words: string): Promise<Taken> {
  if (!/[\n\r]/.test(words)) return { content: run(words), media: new Map(), notes: [] };
  const { take } = await formatNamed('text').load();
  return (await take?.(sourceOf(new TextEncoder().encode(words), 'selection.txt'), { kind: 'whole' })) as Taken;
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
 * Puts the bytes of pictures in the place of their addresses. They are the ones that the page shows: read from the browser's
 * own store of what it has loaded, or as the site allows; a picture that cannot be read stays an address.
 */
export async function holdPictures(root: Element): Promise<void> {
  await Promise.all([...root.querySelectorAll('img[src]')].map(hold));
}

async function hold(picture: Element): Promise<void> {
  const address = picture.getAttribute('src') ?? '';
  if (/^data:/i.test(address)) return;
  try {
    const answer = await fetch(address, { cache: 'force-cache' });
    const type = answer.headers.get('content-type') ?? '';
    if (!answer.ok || !/^image\//i.test(type)) return;
    const blob = await answer.blob();
    if (blob.size <= largest) picture.setAttribute('src', await asDataUri(blob));
  } catch {
    // another site's, which does not let its bytes be read: the reader says that it was left out
  }
}

const asDataUri = (blob: Blob): Promise<string> =>
  new Promise((done, failed) => {
    const reader = new FileReader();
    reader.onload = () => done(String(reader.result));
    reader.onerror = () => failed(reader.error);
    reader.readAsDataURL(blob);
  });
