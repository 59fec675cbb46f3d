import type { Content } from '../content/index.ts';
import { formatNamed, sourceOf, type Taken } from '../formats/index.ts';

/**
 * What a range of the page holds: words when it lies within one paragraph, whole blocks otherwise. Read by the same rules
 * as a page in a file, so that nothing in it can run.
 */
export async function takeRange(range: Range): Promise<Taken> {
  const { take } = await formatNamed('html').load();
  const markup = withSurroundings(range);
  const source = sourceOf(new TextEncoder().encode(`<meta charset="utf-8">${markup}`), 'selection.html');
  const taken = (await take?.(source, { kind: 'whole' })) as Taken;
  return { ...taken, content: isWithinParagraph(range) ? asRun(taken.content) : taken.content };
}

const paragraphs = 'p, h1, h2, h3, h4, h5, h6, li, td, th, dt, dd, pre, blockquote, figcaption, caption';

const elementOf = (node: Node): Element | null => (node instanceof Element ? node : node.parentElement);

const isWithinParagraph = ({ startContainer, endContainer, commonAncestorContainer }: Range): boolean => {
  const around = elementOf(commonAncestorContainer)?.closest(paragraphs);
  return (
    around !== null &&
    around !== undefined &&
    elementOf(startContainer)?.closest(paragraphs) === elementOf(endContainer)?.closest(paragraphs)
  );
};

/**
 * The range's markup within the elements around it that give it its meaning: a few items of a list are still a list, rows
 * of a table still a table, and emphasised words emphasised.
 */
function withSurroundings(range: Range): string {
  const holder = document.createElement('div');
  holder.append(range.cloneContents());
  let around = elementOf(range.commonAncestorContainer);
  while (around?.matches(meaningful)) {
    const copy = around.cloneNode(false) as Element;
    copy.append(...holder.childNodes);
    holder.append(copy);
    around = around.parentElement;
  }
  return holder.innerHTML;
}

const meaningful =
  'ul, ol, li, table, thead, tbody, tfoot, tr, b, strong, i, em, u, s, del, code, sup, sub, a, span, mark, pre';

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
  return isAlone ? { shape: 'run', inlines: block.inlines } : content;
}
