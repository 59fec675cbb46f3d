import {
  type Block,
  blocksText,
  type Cell,
  type Inline,
  type ListItem,
  type Marks,
  type ParagraphProperties,
  type Table,
  type TableCell,
  type TableRow,
} from '../../content/index.ts';
import { type Budget, checkBound } from '../bounds.ts';
import { assemble, type ItemNumber, type RawBlock, type RawParagraph, toBlock } from '../flow/assemble.ts';
import { InlineCollector } from '../flow/inline-collector.ts';
import type { NoteCounter } from '../format.ts';
import type { NodeKind, Trace } from '../trace.ts';
import { colour, declarations, isHidden, pixels, points } from './css.ts';
import { absolute, attribute, type Element, isElement, isText, type Node, textOf } from './dom.ts';
import { dropped, readers } from './elements.ts';
import { checkBox, disguisedItem, isItemSign, isList, listMarker } from './lists.ts';
import { type FragmentMarks, findNote, isBackLink, isNoteText } from './note-texts.ts';
import { alignAttribute, plainSurroundings, type Surroundings, within } from './surroundings.ts';
import { cellsOf, cellValue, columnWidths, spanOf, tableRows } from './tables.ts';
import { elementNode, LeafTracker, textPieces } from './trace.ts';

/** Reads one document: keeps the blocks so far and the paragraph being gathered. */
export class BlockReader {
  readonly #blocks: RawBlock[] = [];
  /** The list item that paragraphs of a clipboard say they are. */
  #item: ItemNumber | undefined;
  #leaf: LeafTracker | undefined;
  readonly #inlines = new InlineCollector();
  #properties: ParagraphProperties = {};
  readonly #shared: Shared;

  constructor(shared: Shared) {
    this.#shared = shared;
  }

  static read(nodes: readonly Node[], shared: Shared, around: Surroundings): Block[] {
    const reader = new BlockReader(shared);
    reader.#readAll(nodes, around);
    reader.#flush();
    return assemble(reader.#blocks, shared.trace);
  }

  #readAll(nodes: readonly Node[], around: Surroundings): void {
    for (const node of nodes) {
      if (isText(node)) this.#addText(node, around);
      else if (isElement(node)) this.#readElement(node, around);
      else if (node.nodeName === '#comment' && 'data' in node) this.#shared.fragment.hear(node.data);
    }
  }

  #addText(node: Extract<Node, { readonly value: string }>, around: Surroundings): void {
    if (!this.#shared.fragment.isInside) return;
    const isFirst = this.#inlines.isEmpty;
    if (isFirst) this.#properties = around.properties;
    const source = /^[ \t\n\f\r]*$/.test(node.value) && isFirst ? undefined : this.#sourceOf(node, around);
    this.#inlines.addText(node.value, around.marks, around.keepsSpaces, source);
  }

  #addInline(inline: Inline, element: Element, around: Surroundings): void {
    if (!this.#shared.fragment.isInside) return;
    if (this.#inlines.isEmpty) this.#properties = around.properties;
    this.#inlines.add(inline, this.#sourceOf(element, around));
  }

  #sourceOf(node: Node, { group, inside = [] }: Surroundings) {
    if (!group) return undefined;
    this.#leaf ??= new LeafTracker(group);
    return this.#leaf.sourceOf(
      node,
      inside.filter((element) => element !== node),
    );
  }

  /** Ends the paragraph being gathered. */
  #flush(): void {
    const collected = this.#inlines.finish();
    const source = collected && this.#leaf?.finish(collected.pieces);
    this.#leaf = undefined;
    if (!collected) return;
    const raw: RawParagraph = {
      kind: 'paragraph',
      meaning: { kind: 'plain' },
      inlines: collected.inlines,
      ...(source && { source }),
    };
    this.#shared.budget.addBlock();
    if (this.#item) this.#blocks.push({ ...raw, item: this.#item });
    else {
      const block = toBlock(raw);
      const whole: Block = block.type === 'paragraph' ? { ...block, ...this.#properties } : block;
      if (source) this.#shared.trace?.link(whole, [source]);
      this.#blocks.push({ kind: 'block', block: whole });
    }
  }

  #push(block: Block): void {
    this.#shared.budget.addBlock();
    this.#flush();
    this.#blocks.push({ kind: 'block', block });
  }

  #readElement(element: Element, outside: Surroundings): void {
    checkBound('elements', outside.depth);
    const css = declarations(attribute(element, 'style'));
    if (dropped.has(element.tagName) || isHidden(css) || attribute(element, 'hidden') !== undefined) return;
    if (isNoteText(element, this.#shared.noteTexts) || isItemSign(element) || isFiller(element)) return;
    const around = within(element, css, outside);
    const read = readers[element.tagName];
    if (read) read(this, element, around);
    else this.#readAll(element.childNodes, around);
  }

  // What single elements do; called from the table of readers.

  readContainer(element: Element, around: Surroundings): void {
    this.#flush();
    this.#item = disguisedItem(element) ?? this.#item;
    this.#readAll(element.childNodes, this.#grouped('group', element, around));
    this.#flush();
    this.#item = undefined;
  }

  /** The element's insides are a group of their own in the trace. */
  #grouped(kind: NodeKind, element: Element, around: Surroundings): Surroundings {
    const group = around.group && elementNode(kind, element, around.group);
    return group ? { ...around, group, inside: [] } : around;
  }

  readHeading(element: Element, around: Surroundings): void {
    const level = Number(element.tagName[1]) as 1 | 2 | 3 | 4 | 5 | 6;
    for (const block of this.#blocksOf(element, this.#grouped('group', element, around))) {
      const heading: Block = block.type === 'paragraph' ? { ...block, type: 'heading', level } : block;
      const nodes = this.#shared.trace?.nodes.get(block);
      if (nodes && heading !== block) this.#shared.trace?.link(heading, nodes);
      this.#push(heading);
    }
  }

  readInline(element: Element, around: Surroundings, marks: Marks): void {
    this.#readAll(element.childNodes, { ...around, marks: { ...around.marks, ...marks } });
  }

  readLink(element: Element, around: Surroundings): void {
    const note = findNote(element, this.#shared.noteTexts);
    if (isBackLink(element)) return;
    if (note) {
      const blocks = this.#shared.budget.readNote(note, () => this.#blocksOf(note, plainSurroundings(around)));
      return blocks && this.#addInline({ type: 'footnote', blocks }, element, around);
    }
    const href = absolute(attribute(element, 'href'), this.#shared.base);
    const title = attribute(element, 'title');
    if (href === undefined && attribute(element, 'href')) this.#shared.notes.add('link-inside-page');
    this.readInline(
      element,
      around,
      href === undefined ? {} : { link: { href, ...(title !== undefined && { title }) } },
    );
  }

  readBreak(element: Element, around: Surroundings): void {
    if (this.#inlines.isEmpty) this.#properties = around.properties;
    this.#inlines.addBreak(this.#sourceOf(element, around));
  }

  readPicture(element: Element, around: Surroundings): void {
    const css = declarations(attribute(element, 'style'));
    const width = points(css.get('width')) ?? pixels(attribute(element, 'width'));
    const height = points(css.get('height')) ?? pixels(attribute(element, 'height'));
    const alt = attribute(element, 'alt');
    if ((width ?? 2) < 1.5 && (height ?? 2) < 1.5) return; // a mark to count readers by
    const picture: Inline = {
      type: 'picture',
      media: absolute(attribute(element, 'src'), this.#shared.base, /^data:/i) ?? attribute(element, 'src') ?? '',
      mediaType: 'image/png',
      ...(width && { width }),
      ...(height && { height }),
      ...(alt && { alt }),
    };
    this.#addInline(picture, element, around);
  }

  readQuote(element: Element, around: Surroundings): void {
    this.#push({ type: 'quote', blocks: this.#blocksOf(element, this.#grouped('group', element, around)) });
  }

  readCode(element: Element, around: Surroundings): void {
    const [only, ...others] = element.childNodes.filter((node) => !isText(node) || node.value.trim() !== '');
    const inner = only && others.length === 0 && isElement(only) && only.tagName === 'code' ? only : undefined;
    const syntax = /(?:^|\s)language-(\S+)/.exec((inner && attribute(inner, 'class')) ?? '')?.[1];
    // A line end before the end tag shows no line of its own.
    const text = textOf(element).replace(/\n$/, '');
    const block: Block = { type: 'code', text, ...(syntax !== undefined && { syntax }) };
    const leaf = around.group && elementNode('leaf', element, around.group);
    if (leaf) {
      leaf.pieces.push(...textPieces(element, leaf));
      this.#shared.trace?.link(block, [leaf]);
    }
    this.#push(block);
  }

  readRule(element: Element, around: Surroundings): void {
    const block: Block = { type: 'rule' };
    const leaf = around.group && elementNode('leaf', element, around.group);
    if (leaf) this.#shared.trace?.link(block, [leaf]);
    this.#push(block);
  }

  readList(element: Element, around: Surroundings): void {
    const ordered = element.tagName === 'ol';
    const start = Number.parseInt(attribute(element, 'start') ?? '', 10);
    const marker = listMarker(element, ordered);
    const inside = this.#grouped('group', element, around);
    const items = this.#items(element, { ...inside, properties: {} });
    if (items.length === 0) return;
    const list: Block = {
      type: 'list',
      ordered,
      ...(ordered && start >= 0 && start !== 1 && { start }),
      ...(marker && { marker }),
      items,
    };
    this.#linkGroup(list, inside, around);
    this.#push(list);
  }

  #linkGroup(block: Block, inside: Surroundings, around: Surroundings): void {
    if (inside.group && inside.group !== around.group) this.#shared.trace?.link(block, [inside.group]);
  }

  /** A list directly inside a list, as some programs put it, belongs to the item before it. */
  #items(element: Element, around: Surroundings): ListItem[] {
    const items: { blocks: Block[]; checked?: boolean }[] = [];
    for (const node of element.childNodes) {
      if (!isElement(node)) continue;
      const blocks = this.#blocksOf(node, isList(node) ? around : this.#grouped('group', node, around), isList(node));
      const box = node.tagName === 'li' ? checkBox(node) : undefined;
      if (isList(node) && items.length > 0) items.at(-1)?.blocks.push(...blocks);
      else
        items.push({
          blocks: blocks.filter((block) => !isEmptyParagraph(block)),
          ...(box !== undefined && { checked: box }),
        });
    }
    return items;
  }

  readTable(element: Element, around: Surroundings): void {
    const group = this.#grouped('group', element, around);
    const inside: Surroundings = { ...group, properties: {} };
    const found = tableRows(element);
    const isTied = found.some(({ row }) => cellsOf(row).some((cell) => spanOf(cell, 'rowspan') !== undefined));
    const values = new Map<TableCell, Cell>();
    const rows = found.map(({ row }): TableRow => {
      const line = this.#grouped('row', row, inside);
      if (line.group && line.group !== inside.group) line.group.tied = isTied;
      return {
        cells: cellsOf(row).map((element) => {
          const cell = this.#tableCell(element, line);
          const value = cellValue(element, blocksText(cell.blocks, '\n'));
          if (value) values.set(cell, value);
          return cell;
        }),
      };
    });
    const headerRows = found.findIndex(({ isHeader }) => !isHeader);
    const caption = element.childNodes.find((node) => isElement(node) && node.tagName === 'caption');
    if (caption && isElement(caption)) for (const block of this.#blocksOf(caption, inside)) this.#push(block);
    const widths = columnWidths(element);
    if (rows.length === 0) return;
    const headers = headerRows < 0 ? rows.length : headerRows;
    const table: Table = {
      type: 'table',
      rows,
      ...(headers > 0 && { headerRows: headers }),
      ...(widths && { columnWidths: widths }),
    };
    if (values.size > 0) this.#shared.values.set(table, values);
    if (!caption) this.#linkGroup(table, group, around);
    else if (group.group)
      this.#shared.trace?.link(
        table,
        group.group.children.filter(({ kind }) => kind === 'row'),
      ); // it stays
    this.#push(table);
  }

  #tableCell(element: Element, around: Surroundings): TableCell {
    const background = colour(
      declarations(attribute(element, 'style')).get('background-color') ?? attribute(element, 'bgcolor'),
    );
    const { marks: whole, properties } = within(element, declarations(attribute(element, 'style')), around);
    const { background: _, ...marks } = whole;
    const align = alignAttribute(element);
    const blocks = BlockReader.read(element.childNodes, this.#shared, {
      ...this.#grouped('cell', element, around),
      marks,
      properties: { ...properties, ...align },
      depth: around.depth + 1,
    });
    const [columnSpan, rowSpan] = [spanOf(element, 'colspan'), spanOf(element, 'rowspan')];
    return {
      blocks: blocks.length === 1 && isEmptyParagraph(blocks[0]) ? [] : blocks,
      ...(columnSpan && { columnSpan }),
      ...(rowSpan && { rowSpan }),
      ...(background && { background }),
    };
  }

  #blocksOf(element: Element, around: Surroundings, itself = false): Block[] {
    return BlockReader.read(
      itself ? [element] : element.childNodes,
      this.#shared,
      itself ? around : { ...around, depth: around.depth + 1 },
    );
  }
}

/** What all parts of a document share. */
export interface Shared {
  readonly budget: Budget;
  readonly notes: NoteCounter;
  /** The elements that hold footnotes, by id. */
  readonly noteTexts: ReadonlyMap<string, Element>;
  /** The address that relative links start from. */
  readonly base: string | undefined;
  readonly trace?: Trace | undefined;
  readonly fragment: FragmentMarks;
  /** The typed values behind tables that a spreadsheet made. */
  readonly values: Map<Table, ReadonlyMap<TableCell, Cell>>;
}

/** A no-break space that a word processor puts where a paragraph is empty. */
const isFiller = (element: Element): boolean => element.tagName === 'o:p' && /^[\s\u00a0]*$/.test(textOf(element));

const isEmptyParagraph = (block: Block | undefined): boolean =>
  block?.type === 'paragraph' && block.inlines.length === 0;
