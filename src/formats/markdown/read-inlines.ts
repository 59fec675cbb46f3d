import type { PhrasingContent } from 'mdast';
import { type Inline, isSafeHref, type Marks } from '../../content/index.ts';
import { byName } from '../by-name.ts';
import { InlineCollector } from '../flow/inline-collector.ts';
import type { SourceNode } from '../trace.ts';
import type { MarkdownReader } from './read-blocks.ts';

/** HTML that Markdown texts use for what it has no signs for. */
const htmlMarks: Readonly<Record<string, Marks>> = byName({
  b: { bold: true },
  strong: { bold: true },
  i: { italic: true },
  em: { italic: true },
  u: { underline: true },
  ins: { underline: true },
  s: { strike: true },
  del: { strike: true },
  sup: { position: 'superscript' },
  sub: { position: 'subscript' },
  kbd: { code: true },
  code: { code: true },
  mark: { background: '#ffff00' },
});

/** Reads the phrasing content of one paragraph. */
export class InlineReader {
  readonly #reader: MarkdownReader;
  readonly #leaf: SourceNode | undefined;
  readonly #collector = new InlineCollector();
  /** HTML elements that are open, innermost last. */
  readonly #html: { readonly tag: string; readonly marks: Marks }[] = [];

  constructor(reader: MarkdownReader, leaf: SourceNode | undefined) {
    this.#reader = reader;
    this.#leaf = leaf;
  }

  read(nodes: readonly PhrasingContent[]): Inline[] {
    this.#readAll(nodes, {}, this.#leaf);
    const { inlines = [], pieces = [] } = this.#collector.finish() ?? {};
    this.#leaf?.pieces.push(...pieces);
    return inlines;
  }

  #readAll(nodes: readonly PhrasingContent[], marks: Marks, owner: SourceNode | undefined): void {
    for (const node of nodes) this.#readOne(node, marks, owner);
  }

  #readOne(node: PhrasingContent, around: Marks, owner: SourceNode | undefined): void {
    const marks = Object.assign({}, around, ...this.#html.map(({ marks: own }) => own)) as Marks;
    const within = (own: Marks): void => {
      if ('children' in node)
        this.#readAll(node.children, { ...around, ...own }, this.#reader.open('inline', node, owner));
    };
    switch (node.type) {
      case 'text':
        return this.#collector.addText(node.value, marks, false, this.#source(node, owner));
      case 'strong':
        return within({ bold: true });
      case 'emphasis':
        return within({ italic: true });
      case 'delete':
        return within({ strike: true });
      case 'inlineCode':
        return this.#collector.addText(
          node.value.replace(/[\r\n]+/g, ' '),
          { ...marks, code: true },
          true,
          this.#source(node, owner),
        );
      case 'break':
        return this.#collector.addBreak(this.#source(node, owner));
      case 'link':
        return within(this.#linkMarks(node.url, node.title));
      case 'linkReference': {
        const definition = this.#reader.definitions.get(node.identifier);
        return within(definition ? this.#linkMarks(definition.url, definition.title) : {});
      }
      case 'image':
        return this.#picture(node, node.url, node.alt, owner);
      case 'imageReference':
        return this.#picture(node, this.#reader.definitions.get(node.identifier)?.url ?? '', node.alt, owner);
      case 'footnoteReference': {
        const blocks = this.#reader.footnote(node.identifier);
        if (blocks) this.#collector.add({ type: 'footnote', blocks }, this.#source(node, owner));
        return;
      }
      case 'html':
        return this.#readTag(node.value, node, owner);
    }
  }

  #linkMarks(url: string, title: string | null | undefined): Marks {
    if (isSafeHref(url)) return { link: { href: url, ...(title && { title }) } };
    this.#reader.notes.add('link-inside-file');
    return {};
  }

  #picture(node: PhrasingContent, url: string, alt: string | null | undefined, owner: SourceNode | undefined): void {
    this.#collector.add(
      { type: 'picture', media: url, mediaType: 'image/png', ...(alt && { alt }) },
      this.#source(node, owner),
    );
  }

  /** A tag by itself: a line break, or the start or end of a mark; others are passed over, the words in them stay. */
  #readTag(source: string, node: PhrasingContent, owner: SourceNode | undefined): void {
    const [, slash = '', name = ''] = /^<(\/?)([a-z][a-z0-9]*)\b/i.exec(source) ?? [];
    const tag = name.toLowerCase();
    if (tag === 'br') return this.#collector.addBreak(this.#source(node, owner));
    const marks = htmlMarks[tag];
    if (!marks || source.endsWith('/>')) return;
    if (slash === '') this.#html.push({ tag, marks });
    else if (this.#html.at(-1)?.tag === tag) this.#html.pop();
  }

  #source({ position }: PhrasingContent, owner: SourceNode | undefined) {
    const start = position?.start.offset;
    const end = position?.end.offset;
    return owner && start !== undefined && end !== undefined ? { extent: { start, end }, owner } : undefined;
  }
}
