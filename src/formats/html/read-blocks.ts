import {
  type Block,
  DrawerError,
  type Inline,
  isSafeHref,
  type ListItem,
  type Marks,
  type ParagraphProperties,
  type TableCell,
  type TableRow,
} from '../../content/index.ts';
import type { NoteCounter } from '../notes.ts';
import { colour, declarations, isHidden, pixels, points } from './css.ts';
import { attribute, type Element, isElement, isText, type Node, textOf } from './dom.ts';
import { dropped, readers } from './elements.ts';
import { checkBox, isList, listMarker } from './lists.ts';
import { InlineCollector } from './read-inlines.ts';
import { alignAttribute, plainSurroundings, type Surroundings, within } from './surroundings.ts';
import { cellsOf, columnWidths, spanOf, tableRows } from './tables.ts';

/** How deep elements may lie in one another: deeper ones are an attack on the reader's stack. */
const maxElementDepth = 800;

/** Reads one document: keeps the blocks so far and the paragraph being gathered. */
export class BlockReader {
  readonly #blocks: Block[] = [];
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
    return reader.#blocks;
  }

  #readAll(nodes: readonly Node[], around: Surroundings): void {
    for (const node of nodes) {
      if (isText(node)) this.#addText(node.value, around);
      else if (isElement(node)) this.#readElement(node, around);
    }
  }

  #addText(words: string, around: Surroundings): void {
    if (this.#inlines.isEmpty) this.#properties = around.properties;
    this.#inlines.addText(words, around.marks, around.keepsSpaces);
  }

  #addInline(inline: Inline, around: Surroundings): void {
    if (this.#inlines.isEmpty) this.#properties = around.properties;
    this.#inlines.add(inline);
  }

  /** Ends the paragraph being gathered. */
  #flush(): void {
    const inlines = this.#inlines.finish();
    if (!inlines) return;
    const [only] = inlines;
    if (inlines.length === 1 && only?.type === 'picture') this.#blocks.push(only);
    else this.#blocks.push({ type: 'paragraph', inlines, ...this.#properties });
  }

  #push(block: Block): void {
    this.#flush();
    this.#blocks.push(block);
  }

  #readElement(element: Element, outside: Surroundings): void {
    if (outside.depth > maxElementDepth) {
      throw new DrawerError({
        code: 'too-large',
        what: `Its elements are nested more than ${maxElementDepth} deep, which no page needs`,
      });
    }
    const css = declarations(attribute(element, 'style'));
    if (dropped.has(element.tagName) || isHidden(css) || attribute(element, 'hidden') !== undefined) return;
    if (attribute(element, 'role') === 'doc-endnotes' && this.#shared.noteTexts.size > 0) return;
    const around = within(element, css, outside);
    const read = readers[element.tagName];
    if (read) read(this, element, around);
    else this.#readAll(element.childNodes, around);
  }

  // What single elements do; called from the table of readers.

  readContainer(element: Element, around: Surroundings): void {
    this.#flush();
    this.#readAll(element.childNodes, around);
    this.#flush();
  }

  readHeading(element: Element, around: Surroundings): void {
    const level = Number(element.tagName[1]) as 1 | 2 | 3 | 4 | 5 | 6;
    for (const block of this.#blocksOf(element, around)) {
      this.#push(block.type === 'paragraph' ? { ...block, type: 'heading', level } : block);
    }
  }

  readInline(element: Element, around: Surroundings, marks: Marks): void {
    this.#readAll(element.childNodes, { ...around, marks: { ...around.marks, ...marks } });
  }

  readLink(element: Element, around: Surroundings): void {
    const note = this.#shared.noteTexts.get(attribute(element, 'href')?.slice(1) ?? '');
    if (attribute(element, 'role') === 'doc-backlink') return;
    if (attribute(element, 'role') === 'doc-noteref' && note) {
      this.#addInline({ type: 'footnote', blocks: this.#blocksOf(note, plainSurroundings(around)) }, around);
      return;
    }
    const href = absolute(attribute(element, 'href'), this.#shared.base);
    const title = attribute(element, 'title');
    if (href === undefined && attribute(element, 'href'))
      this.#shared.notes.add('link that leads nowhere outside its page, as plain words');
    this.readInline(
      element,
      around,
      href === undefined ? {} : { link: { href, ...(title !== undefined && { title }) } },
    );
  }

  readBreak(around: Surroundings): void {
    if (this.#inlines.isEmpty) this.#properties = around.properties;
    this.#inlines.addBreak();
  }

  readPicture(element: Element, around: Surroundings): void {
    const css = declarations(attribute(element, 'style'));
    const width = points(css.get('width')) ?? pixels(attribute(element, 'width'));
    const height = points(css.get('height')) ?? pixels(attribute(element, 'height'));
    const alt = attribute(element, 'alt');
    const picture: Inline = {
      type: 'picture',
      media: attribute(element, 'src') ?? '',
      mediaType: 'image/png',
      ...(width && { width }),
      ...(height && { height }),
      ...(alt && { alt }),
    };
    this.#addInline(picture, around);
  }

  readQuote(element: Element, around: Surroundings): void {
    this.#push({ type: 'quote', blocks: this.#blocksOf(element, around) });
  }

  readCode(element: Element): void {
    const [only, ...others] = element.childNodes.filter((node) => !isText(node) || node.value.trim() !== '');
    const inner = only && others.length === 0 && isElement(only) && only.tagName === 'code' ? only : undefined;
    const syntax = /(?:^|\s)language-(\S+)/.exec((inner && attribute(inner, 'class')) ?? '')?.[1];
    this.#push({ type: 'code', text: textOf(element), ...(syntax !== undefined && { syntax }) });
  }

  readRule(): void {
    this.#push({ type: 'rule' });
  }

  readList(element: Element, around: Surroundings): void {
    const ordered = element.tagName === 'ol';
    const start = Number.parseInt(attribute(element, 'start') ?? '', 10);
    const marker = listMarker(element, ordered);
    const items = this.#items(element, { ...around, properties: {} });
    if (items.length > 0)
      this.#push({
        type: 'list',
        ordered,
        ...(ordered && start >= 0 && start !== 1 && { start }),
        ...(marker && { marker }),
        items,
      });
  }

  /** A list directly inside a list, as some programs put it, belongs to the item before it. */
  #items(element: Element, around: Surroundings): ListItem[] {
    const items: { blocks: Block[]; checked?: boolean }[] = [];
    for (const node of element.childNodes) {
      if (!isElement(node)) continue;
      const blocks = this.#blocksOf(node, around, isList(node));
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
    const inside: Surroundings = { ...around, properties: {} };
    const found = tableRows(element);
    const rows = found.map(
      ({ row }): TableRow => ({ cells: cellsOf(row).map((cell) => this.#tableCell(cell, inside)) }),
    );
    const headerRows = found.findIndex(({ isHeader }) => !isHeader);
    const caption = element.childNodes.find((node) => isElement(node) && node.tagName === 'caption');
    if (caption && isElement(caption)) for (const block of this.#blocksOf(caption, inside)) this.#push(block);
    const widths = columnWidths(element);
    if (rows.length === 0) return;
    const headers = headerRows < 0 ? rows.length : headerRows;
    this.#push({
      type: 'table',
      rows,
      ...(headers > 0 && { headerRows: headers }),
      ...(widths && { columnWidths: widths }),
    });
  }

  #tableCell(element: Element, around: Surroundings): TableCell {
    const background = colour(
      declarations(attribute(element, 'style')).get('background-color') ?? attribute(element, 'bgcolor'),
    );
    const { background: _, ...marks } = within(element, declarations(attribute(element, 'style')), around).marks;
    const { properties } = within(element, declarations(attribute(element, 'style')), around);
    const align = alignAttribute(element);
    const blocks = BlockReader.read(element.childNodes, this.#shared, {
      ...around,
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
  readonly notes: NoteCounter;
  /** The elements that hold footnotes, by id. */
  readonly noteTexts: ReadonlyMap<string, Element>;
  /** The address that relative links start from. */
  readonly base: string | undefined;
}

const isEmptyParagraph = (block: Block | undefined): boolean =>
  block?.type === 'paragraph' && block.inlines.length === 0;

function absolute(href: string | undefined, base: string | undefined): string | undefined {
  if (href === undefined) return undefined;
  const trimmed = href.trim();
  if (isSafeHref(trimmed)) return trimmed;
  try {
    const { href: whole } = new URL(trimmed, base);
    return isSafeHref(whole) ? whole : undefined;
  } catch {
    return undefined; // relative, and the page's own address is not known
  }
}
