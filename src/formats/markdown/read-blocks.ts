import type {
  Definition,
  FootnoteDefinition,
  ListItem as MarkdownItem,
  Table as MarkdownTable,
  Nodes,
  PhrasingContent,
  Root,
  RootContent,
} from 'mdast';
import {
  type Block,
  type Inline,
  isSafeHref,
  type List,
  type ListItem,
  type Marks,
  type Table,
  type TableCell,
} from '../../content/index.ts';
import { Budget, checkBound } from '../bounds.ts';
import { InlineCollector } from '../flow/inline-collector.ts';
import type { NoteCounter } from '../format.ts';
import { readHtmlBlocks } from '../html/read.ts';
import { type NodeKind, SourceNode, type Trace } from '../trace.ts';
import { nullPrototype } from '../xml/element.ts';

/** Reads one text: what it says elsewhere (definitions, notes) and its blocks. */
export class MarkdownReader {
  readonly text: string;
  readonly notes: NoteCounter;
  readonly trace: Trace | undefined;
  readonly definitions = new Map<string, Definition>();
  readonly footnotes = new Map<string, FootnoteDefinition>();
  readonly #budget = new Budget();
  #depth = 0;

  constructor(text: string, root: Root, notes: NoteCounter, trace?: Trace) {
    this.text = text;
    this.notes = notes;
    this.trace = trace;
    this.#collect(root.children, 0);
  }

  /** The first definition of a name counts (CommonMark, section 4.7). */
  #collect(nodes: readonly Nodes[], depth: number): void {
    checkBound('nesting', depth);
    for (const node of nodes) {
      if (node.type === 'definition' && !this.definitions.has(node.identifier))
        this.definitions.set(node.identifier, node);
      if (node.type === 'footnoteDefinition' && !this.footnotes.has(node.identifier))
        this.footnotes.set(node.identifier, node);
      if ('children' in node) this.#collect(node.children, depth + 1);
    }
  }

  readBlocks(nodes: readonly RootContent[], parent?: SourceNode): Block[] {
    checkBound('nesting', ++this.#depth);
    const blocks = nodes.flatMap((node) => this.#readBlock(node, parent));
    this.#depth--;
    return blocks;
  }

  #readBlock(node: RootContent, parent: SourceNode | undefined): Block[] {
    switch (node.type) {
      case 'paragraph':
        return this.#leaf(node, parent, (own) => paragraphs(this.readInlines(node.children, own)));
      case 'heading':
        return this.#leaf(node, parent, (own) => {
          const inlines = this.readInlines(node.children, own);
          return inlines.length === 0 ? [] : [{ type: 'heading', level: node.depth, inlines }];
        });
      case 'blockquote': {
        const own = this.open('group', node, parent);
        const quote: Block = { type: 'quote', blocks: this.readBlocks(node.children, own) };
        return [this.#linked(quote, own)];
      }
      case 'list':
        return [this.#list(node, parent)];
      case 'code':
        return this.#leaf(node, parent, () => [
          { type: 'code', text: node.value, ...(node.lang && { syntax: node.lang.slice(0, 255) }) },
        ]);
      case 'html': {
        const own = this.open('leaf', node, parent);
        const blocks = readHtmlBlocks(node.value, this.notes);
        return blocks.map((block) => this.#linked(block, own));
      }
      case 'thematicBreak':
        return this.#leaf(node, parent, () => [{ type: 'rule' }]);
      case 'table':
        return [this.#table(node, parent)];
      default:
        return []; // definitions and notes are told where they are referred to
    }
  }

  #leaf(node: Nodes, parent: SourceNode | undefined, read: (own: SourceNode | undefined) => Block[]): Block[] {
    const own = this.open('leaf', node, parent);
    return read(own).map((block) => this.#linked(block, own));
  }

  #linked(block: Block, own: SourceNode | undefined): Block {
    if (own) this.trace?.link(block, [own]);
    return block;
  }

  #list(node: Extract<RootContent, { type: 'list' }>, parent: SourceNode | undefined): List {
    const own = this.open('group', node, parent);
    const start = node.start ?? 1;
    const list: List = {
      type: 'list',
      ordered: node.ordered === true,
      ...(node.ordered && start !== 1 && { start }),
      items: node.children.map((item) => this.#item(item, own)),
    };
    this.#linked(list, own);
    return list;
  }

  #item(item: MarkdownItem, parent: SourceNode | undefined): ListItem {
    const own = this.open('group', item, parent);
    return {
      blocks: this.readBlocks(item.children, own),
      ...(typeof item.checked === 'boolean' && { checked: item.checked }),
    };
  }

  #table(node: MarkdownTable, parent: SourceNode | undefined): Table {
    const own = this.open('group', node, parent);
    const rows = node.children.map((row, index) => {
      const line = this.open('row', row, own);
      if (line && index === 0) line.tied = true; // a table has to have a heading
      const cells = row.children.map((cell, column): TableCell => {
        const place = this.open('cell', cell, line);
        const leaf = place && cellLeaf(this.text, place);
        const inlines = this.readInlines(cell.children, leaf);
        const align = alignmentOf(node.align?.[column]);
        const block: Block = { type: 'paragraph', inlines, ...(align && { align }) };
        return { blocks: inlines.length === 0 ? [] : [this.#linked(block, leaf)] };
      });
      return { cells: evenRow(cells, node.children[0]?.children.length ?? 0) };
    });
    const isHeading = rows.length === 1 || rows[0]?.cells.some(({ blocks }) => blocks.length > 0) === true;
    const table: Table = { type: 'table', ...(isHeading && { headerRows: 1 }), rows: isHeading ? rows : rows.slice(1) };
    this.#linked(table, own);
    return table;
  }

  readInlines(nodes: Parameters<InlineReader['read']>[0], own: SourceNode | undefined): Inline[] {
    return new InlineReader(this, own).read(nodes);
  }

  /** The blocks of a note, which all that refer to it share; none inside itself. @throws DrawerError `too-large` */
  footnote(identifier: string): readonly Block[] | undefined {
    const note = this.footnotes.get(identifier);
    return note && this.#budget.readNote(identifier, () => this.readBlocks(note.children));
  }

  open(kind: NodeKind, { position }: Nodes, parent: SourceNode | undefined): SourceNode | undefined {
    const start = position?.start.offset;
    const end = position?.end.offset;
    if (!this.trace || !parent || start === undefined || end === undefined) return undefined;
    const node = new SourceNode(kind, parent, start, start);
    node.close(end, end);
    return node;
  }
}

/** A paragraph that holds only a picture is one between paragraphs. */
function paragraphs(inlines: Inline[]): Block[] {
  const [only] = inlines;
  if (inlines.length === 1 && only?.type === 'picture') return [only];
  return inlines.length === 0 ? [] : [{ type: 'paragraph', inlines }];
}

/** As many cells as the heading has: further ones are not shown, missing ones are empty (GFM, section 4.10). */
const evenRow = (cells: readonly TableCell[], count: number): TableCell[] =>
  Array.from({ length: count }, (_, at) => cells[at] ?? { blocks: [] });

const alignmentOf = (align: string | null | undefined) =>
  align === 'right' ? 'end' : align === 'center' ? 'center' : undefined;

/** The words of a cell, between the lines that part it from its neighbours, which stay when they go. */
function cellLeaf(source: string, cell: SourceNode): SourceNode {
  const words = source.slice(cell.start, cell.end);
  // An empty cell takes its words behind one space, and keeps the others behind them.
  const [lead = ''] = (/^\|?[ \t]*\|?$/.test(words) ? /^\|?[ \t]?/ : /^\|?[ \t]*/).exec(words) ?? [];
  const [tail = ''] = /[ \t]*(?<!\\)\|?$/.exec(words.slice(lead.length)) ?? [];
  const leaf = new SourceNode('leaf', cell, cell.start + lead.length, cell.start + lead.length);
  leaf.close(cell.end - tail.length, cell.end - tail.length);
  return leaf;
}

/** HTML that Markdown texts use for what it has no signs for. */
const htmlMarks: Readonly<Record<string, Marks>> = nullPrototype({
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
