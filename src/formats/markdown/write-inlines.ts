import type { PhrasingContent } from 'mdast';
import { type Inline, joinText, type Marks, text } from '../../content/index.ts';
import { encodeDataUri } from '../data-uri.ts';
import type { MarkdownWriter } from './write-blocks.ts';

/** Inlines as phrasing content: neighbours that share a mark share its node. */
export const writeInlines = (writer: MarkdownWriter, inlines: readonly Inline[]): PhrasingContent[] =>
  nest(writer, joinText(inlines.flatMap(spacesOutside)), wraps);

/** Markdown cannot begin or end emphasis with a space, so such spaces stand outside it. */
function spacesOutside(inline: Inline): readonly Inline[] {
  if (inline.type !== 'text' || !inline.marks || inline.marks.code) return [inline];
  const [, before = '', words = '', after = ''] = /^(\s*)(.*?)(\s*)$/s.exec(inline.text) ?? [];
  if (before === '' && after === '') return [inline];
  return [text(before), ...(words === '' ? [] : [{ ...inline, text: words }]), text(after)];
}

interface Wrap {
  readonly mark: keyof Marks;
  readonly node: (marks: Marks, children: PhrasingContent[]) => PhrasingContent[];
}

/** From the outermost in. Marks that Markdown has no sign for are left out, but for raised and lowered text. */
const wraps: readonly Wrap[] = [
  {
    mark: 'link',
    node: ({ link }, children) => [
      { type: 'link', url: link?.href ?? '', title: link?.title ?? null, children } as PhrasingContent,
    ],
  },
  { mark: 'bold', node: (_, children) => [{ type: 'strong', children }] },
  { mark: 'italic', node: (_, children) => [{ type: 'emphasis', children }] },
  { mark: 'strike', node: (_, children) => [{ type: 'delete', children }] },
  { mark: 'position', node: ({ position }, children) => raised(position === 'superscript' ? 'sup' : 'sub', children) },
];

/** GFM has no sign for these, but keeps the two HTML elements. */
const raised = (tag: 'sup' | 'sub', children: PhrasingContent[]): PhrasingContent[] => [
  { type: 'html', value: `<${tag}>` },
  ...children,
  { type: 'html', value: `</${tag}>` },
];

function nest(
  writer: MarkdownWriter,
  inlines: readonly Inline[],
  [wrap, ...inner]: readonly Wrap[],
): PhrasingContent[] {
  if (!wrap) return inlines.map((inline) => leaf(writer, inline));
  const nodes: PhrasingContent[] = [];
  for (let start = 0; start < inlines.length; ) {
    const marks = marksOf(inlines[start]);
    const key = markKey(marks, wrap.mark);
    let end = start + 1;
    while (end < inlines.length && markKey(marksOf(inlines[end]), wrap.mark) === key) end++;
    const children = nest(writer, inlines.slice(start, end), inner);
    nodes.push(...(key === undefined ? children : wrap.node(marks, children)));
    start = end;
  }
  return nodes;
}

const marksOf = (inline: Inline | undefined): Marks => (inline?.type === 'text' ? (inline.marks ?? {}) : {});

const markKey = (marks: Marks, mark: keyof Marks): string | undefined =>
  marks[mark] === undefined ? undefined : JSON.stringify(marks[mark]);

function leaf(writer: MarkdownWriter, inline: Inline): PhrasingContent {
  switch (inline.type) {
    case 'text':
      return inline.marks?.code ? { type: 'inlineCode', value: inline.text } : { type: 'text', value: inline.text };
    case 'break':
      return { type: 'break' };
    case 'picture': {
      const bytes = writer.options.media.get(inline.media);
      const url = writer.options.pictureAddress?.(inline) ?? (bytes ? encodeDataUri(bytes, inline.mediaType) : '');
      return { type: 'image', url, alt: inline.alt ?? '' };
    }
    case 'footnote':
      return { type: 'footnoteReference', identifier: String(writer.footnotes.push(inline)) };
  }
}
