import type { Element, ElementContent } from 'xast';
import type { Block, Inline, List, Text } from '../../../content/index.ts';
import type { ReadTools, Source } from '../../format.ts';
import { type BlockTarget, InsertionGrammar, nearestPlain, type WordTarget } from '../../insertion-grammar.ts';
import type { EditableProse, ProseLanding } from '../../prose-format.ts';
import type { TextEdit } from '../../text-edits.ts';
import type { SourceNode } from '../../trace.ts';
import { Declarations, x } from '../../xml/element.ts';
import { childOf } from '../../xml/source-tree.ts';
import { escapeText, xmlSource } from '../../xml/write-xml.ts';
import { contentTypes, type OpcPackage, openPackage, readRelationships, relatedPart, relationshipsOf } from '../opc.ts';
import { OpcEdit } from '../package-edit.ts';
import { readTheme } from '../theme.ts';
import { adaptStyles } from './adapt-styles.ts';
import { BodyFacts } from './body-facts.ts';
import { docxGrammar } from './grammar.ts';
import { propertiesOf, type SourceProperty } from './properties.ts';
import { checkMayChange, readPackage } from './read.ts';
import { readStyles } from './styles.ts';
import { Surroundings } from './surroundings.ts';
import { targetStyles } from './target-numbering.ts';
import { type DocumentParts, type LandingContext, TargetParts } from './target-parts.ts';
import { type StoryWriter, writeBlockOf, writeBlocks, writeInlines, writeItemBlocks } from './write-blocks.ts';

/**
 * A document in which only the main part changes, and that only in places; numbering, notes, relationships and content types
 * are added to, and every other part is byte for byte as it was.
 */
export async function editDocx(source: Source, tools: ReadTools): Promise<EditableProse> {
  const opened = await openPackage(source, tools);
  const { zip, main } = opened;
  await checkMayChange(opened);
  const edit = new OpcEdit(source, zip, tools);
  await edit.load(main);
  const decoded = edit.get(main);
  let known: BodyFacts | undefined;
  const facts = (): BodyFacts => {
    known ??= new BodyFacts(decoded.text, main);
    return known;
  };
  return {
    source: decoded,
    grammar: docxGrammar((source) => facts().fragment(source)),
    read: (request) => readPackage(opened, request, decoded),
    end: () => ({ start: facts().bodyEnd, end: decoded.text.length }),
    async landing(prose, insertion) {
      const parts = await findParts(opened);
      await edit.load(
        relationshipsOf(main),
        contentTypes,
        ...Object.values(parts),
        parts.footnotes && relationshipsOf(parts.footnotes),
      );
      const styles = await readStyles(zip, parts.styles, await readTheme(zip, parts.theme));
      const surroundings = new Surroundings(decoded.text, facts());
      return new DocxInsertion({ edit, main, parts, styles, prose, surroundings, insertion });
    },
    save(text) {
      edit.setText(main, text);
      return edit.bytes();
    },
  };
}

async function findParts({ zip, main }: OpcPackage): Promise<DocumentParts> {
  const relationships = await readRelationships(zip, main);
  const part = (type: string): string | undefined => relatedPart(zip, relationships, type);
  return {
    styles: part('styles'),
    numbering: part('numbering'),
    footnotes: part('footnotes'),
    settings: part('settings'),
    theme: part('theme'),
  };
}

/** Writes content so that it belongs to a document: into its main part, and into the parts that it leans on. */
export class DocxInsertion extends InsertionGrammar implements ProseLanding {
  readonly #context: LandingContext;
  readonly #target: TargetParts;
  readonly #declarations: Declarations;
  readonly #tracking: Tracking | undefined;
  readonly #nextId: () => number;

  constructor(context: LandingContext) {
    const { surroundings, insertion, styles } = context;
    const { source, facts } = surroundings;
    const { bookmark } = insertion;
    super(
      docxGrammar(
        (fragment) => facts.fragment(fragment),
        bookmark === undefined ? undefined : facts.bookmarkIds.get(bookmark),
      ),
    );
    this.#context = context;
    const { author, date } = insertion;
    this.#target = new TargetParts(context, targetStyles(styles, facts.tableStyle));
    this.#declarations = new Declarations(source, this.#target.namespaces);
    let id = facts.lastChange;
    this.#nextId = () => ++id;
    this.#tracking = author === undefined ? undefined : { author, date, nextId: this.#nextId };
  }

  get #isOriginal(): boolean {
    return this.#context.insertion.style === 'original';
  }

  blocks(blocks: readonly Block[], spot: BlockTarget): TextEdit {
    const { surroundings, prose } = this.#context;
    const node = spot.above ?? spot.below;
    const plain = this.#isOriginal
      ? undefined
      : this.#unnumbered(surroundings.plainLook(nearestPlain(prose, spot.position)));
    const page = surroundings.page(spot.position, node);
    const [only] = blocks;
    const written =
      spot.item && spot.list && only?.type === 'list'
        ? this.#items(only, spot.item)
            .map((element) => this.#source(element))
            .join('')
        : this.#blocksSource(this.#target.story(page), blocks, plain);
    const position = this.#behindBookmarks(spot);
    return {
      start: position,
      end: position,
      replacement: this.#parted(written, position),
    };
  }

  /** Two tables in a row would become one, and a cell or body has to end with a paragraph: an empty one stands between. */
  #parted(written: string, position: number): string {
    const { source } = this.#context.surroundings;
    const { prefix: p, emptyParagraph } = this.#target;
    const above = source.slice(Math.max(0, position - 80), position).trimEnd();
    const below = source.slice(position, position + 80).trimStart();
    const isBetween = above.endsWith(`</${p}tbl>`) && /^<w:tbl[\s>]/.test(written);
    const ends = [`<${p}tbl>`, `<${p}tbl `, `<${p}sectPr`, `</${p}tc>`, `</${p}body>`, `</${p}txbxContent>`];
    const isLast = written.endsWith('</w:tbl>') && ends.some((each) => below.startsWith(each));
    return (isBetween ? emptyParagraph : '') + written + (isLast ? emptyParagraph : '');
  }

  /** A block at a time, so that the elements of one are forgotten before those of the next are made. */
  #blocksSource(story: StoryWriter, blocks: readonly Block[], plain: PlainLook): string {
    const sourceOf = (of: readonly Block[], index: number): string =>
      this.#written(writeBlockOf(story, of, index), plain)
        .map((element) => this.#source(element))
        .join('');
    // Most paragraphs are bare words and differ in nothing else: they are written once, about a sign that is no character.
    const [open = '', close] = this.#tracking
      ? []
      : sourceOf([{ type: 'paragraph', inlines: [stand] }], 0).split(stand.text);
    let written = '';
    blocks.forEach((block, index) => {
      const bare = close !== undefined && blocks[index - 1]?.type !== 'table' ? bareParagraph(block) : undefined;
      written += bare === undefined ? sourceOf(blocks, index) : `${open}${escapeText(bare)}${close}`;
    });
    return written;
  }

  /** A style may number its paragraphs, and the one beside the place take that back in some other way (17.9.18). */
  #unnumbered(look: PlainLook): PlainLook {
    const id = look?.paragraph.find(({ name }) => name === 'pStyle')?.element?.attributes['w:val'];
    const { styles } = this.#context;
    const numbering = (styles.find(id) ?? styles.plain).paragraph.numberingId ?? '0';
    if (!look || numbering === '0' || look.paragraph.some(({ name }) => name === 'numPr')) return look;
    return { ...look, paragraph: [...look.paragraph, this.#target.noNumber] };
  }

  /** Each item goes on in the list as the one beside it: with its properties, and the look of its words. */
  #items(list: List, item: SourceNode): readonly Element[] {
    const { surroundings } = this.#context;
    const run = this.#isOriginal ? undefined : surroundings.runAround(item, item.pieces[0]);
    const base = {
      paragraph: surroundings.properties(item, 'w:pPr').filter(({ name }) => name !== 'sectPr' && name !== 'rPr'),
      run: run ? lookOf(surroundings.properties(run, 'w:rPr')) : [],
    };
    const story = this.#target.story(surroundings.page(item.start, item));
    return list.items.flatMap(({ blocks }) => {
      const [first, ...rest] = blocks;
      const lead: Block =
        first?.type === 'paragraph'
          ? { type: 'paragraph', inlines: first.inlines }
          : { type: 'paragraph', inlines: [] };
      const others = first?.type === 'paragraph' ? rest : blocks;
      return [
        ...this.#written(writeBlocks(story, [lead]), base),
        ...this.#written(writeItemBlocks(story, others), { paragraph: [], run: base.run }),
      ];
    });
  }

  words(inlines: readonly Inline[], spot: WordTarget): readonly TextEdit[] {
    const { surroundings } = this.#context;
    const { source } = surroundings;
    const { leaf, piece, position } = spot;
    const run = surroundings.runAround(leaf, piece);
    const isPlain = !this.#tracking && !this.#isOriginal && this.#context.insertion.bookmark === undefined;
    const bare = isPlain ? bareWords(inlines) : undefined;
    if (run && piece?.words !== undefined && source[piece.start] !== '<' && bare !== undefined)
      return [{ start: position, end: position, replacement: escapeText(bare) }, ...this.keepSpaces(source, piece)];
    const properties = run ? surroundings.properties(run, 'w:rPr') : lookOf(this.#markProperties(leaf));
    const base = { paragraph: [], run: this.#isOriginal ? [] : properties.filter(({ name }) => name !== 'rPrChange') };
    const story = this.#target.story(surroundings.page(position, leaf));
    const elements = this.#written(writeInlines(story, inlines), base);
    const inside = elements.map((element) => this.#source(element)).join('');
    const { bookmark } = this.#context.insertion;
    const written = bookmark === undefined ? inside : this.bookmarked(inside, bookmark);
    if (!run || !piece) {
      const { tree, element } = surroundings.element(leaf);
      return tree
        .append(element, written)
        .map(({ start, end, replacement }) => ({ start: leaf.start + start, end: leaf.start + end, replacement }));
    }
    const edge = surroundings.runEdge(leaf, run, position);
    if (edge !== undefined) return [{ start: edge, end: edge, replacement: written }];
    const { close, open } = surroundings.runSplit(run, piece);
    return [
      { start: position, end: position, replacement: close + written + open },
      ...(source[piece.start] === '<' ? [] : this.keepSpaces(source, piece)),
    ];
  }

  /** The look of a paragraph's mark, which an empty paragraph has for the words to come. */
  #markProperties(leaf: SourceNode): readonly SourceProperty[] {
    const { tree, element } = this.#context.surroundings.element(leaf);
    return propertiesOf(tree, childOf(childOf(element, 'w:pPr'), 'w:rPr'));
  }

  part({ leaf, piece }: WordTarget): { close: string; open: string } | undefined {
    const { surroundings } = this.#context;
    const run = surroundings.runAround(leaf, piece);
    const { tree, element } = surroundings.element(leaf);
    const properties = childOf(element, 'w:pPr');
    if (!run || !piece || run.parent !== leaf || childOf(properties, 'w:sectPr')) return undefined;
    const tag = `${tree.prefix('w', element)}p`;
    const { close, open } = surroundings.runSplit(run, piece);
    return { close: `${close}</${tag}>`, open: `<${tag}>${properties ? tree.source(properties) : ''}${open}` };
  }

  #written(
    elements: readonly Element[],
    plain: { paragraph: readonly SourceProperty[]; run: readonly SourceProperty[] } | undefined,
  ): readonly Element[] {
    const own = this.#tracking ? asInsertion(elements, this.#tracking) : elements;
    return adaptStyles(own, this.#target.retargeting(plain));
  }

  #source(element: Element): string {
    return this.#declarations.on(xmlSource([element]));
  }

  /** A bookmark lies beside another that ends at the place, not in it. */
  #behindBookmarks({ position, above }: BlockTarget): number {
    if (!above || this.#context.insertion.bookmark === undefined) return position;
    const { source, facts } = this.#context.surroundings;
    const marks = new Map([...facts.bookmarks.values()].flat().map(({ start, end }) => [start, end]));
    const tag = `<${this.#target.prefix}bookmarkEnd`;
    let end = position;
    for (let next = marks.get(end); next !== undefined && source.startsWith(tag, end); next = marks.get(end))
      end = next;
    return end;
  }

  /** Bookmarks may lie between paragraphs too (ISO/IEC 29500-1, 17.13.6), but some programs then lose them when they save. */
  bookmarked(source: string, name: string): string {
    const { prefix: p, emptyParagraph } = this.#target;
    const id = this.#nextId();
    const [start, end] = [
      `<${p}bookmarkStart ${p}id="${id}" ${p}name="${name}"/>`,
      `<${p}bookmarkEnd ${p}id="${id}"/>`,
    ];
    // What only parts a table from what follows is not of the content.
    const length = source.endsWith(`</w:tbl>${emptyParagraph}`) ? source.length - emptyParagraph.length : source.length;
    return withinParagraphs(source.slice(0, length), start, end) + source.slice(length);
  }

  withoutBookmark(name: string): readonly TextEdit[] {
    const { facts } = this.#context.surroundings;
    const extents = facts.bookmarks.get(facts.bookmarkIds.get(name) ?? '') ?? [];
    return extents.map((extent) => ({ ...extent, replacement: '' }));
  }

  /** Writes what the parts beside the main one gained; the main one is as it was edited. */
  finish(edited: string): string {
    this.#target.finish();
    return edited;
  }
}

/** Our own source with something at the start of its first paragraph and at the end of its last; around it, if it has none. */
function withinParagraphs(source: string, start: string, end: string): string {
  const paragraphs = [...source.matchAll(/<w:p(?:\s[^<>]*?)?(\/)?>|<\/w:p>/g)];
  const [first, last] = [paragraphs[0], paragraphs.at(-1)];
  if (!first || !last) return start + source + end;
  const [open, isSingle] = first;
  const inside = first.index + open.length;
  if (first === last && isSingle) return `${source.slice(0, inside - 2)}>${start}${end}</w:p>${source.slice(inside)}`;
  const [properties = ''] = isSingle ? [] : (/^<w:pPr(?:\/>|>[\s\S]*?<\/w:pPr>)/.exec(source.slice(inside)) ?? []);
  const lead = isSingle
    ? `${source.slice(0, inside - 2)}>${start}</w:p>`
    : source.slice(0, inside) + properties + start;
  const between = source.slice(inside + properties.length, last.index);
  const tail = source.slice(last.index + last[0].length);
  return lead + between + (last[1] ? `${last[0].slice(0, -2)}>${end}</w:p>` : `${end}${last[0]}`) + tail;
}

type PlainLook = ReturnType<Surroundings['plainLook']>;

/** A text about which others are written. */
const stand: Text = { type: 'text', text: '\ue000' };

/** The words of a paragraph that has nothing else. */
function bareParagraph(block: Block): string | undefined {
  if (block.type !== 'paragraph' || block.inlines.length !== 1 || Object.keys(block).length !== 2) return undefined;
  return bareWords(block.inlines);
}

/** Words without any mark, which take the look of the words that they land in. */
function bareWords(inlines: readonly Inline[]): string | undefined {
  let words = '';
  for (const inline of inlines) {
    if (inline.type !== 'text' || inline.text.includes('\t') || Object.keys(inline.marks ?? {}).length > 0)
      return undefined;
    words += inline.text;
  }
  return words;
}

/** What of a look is the text's own, and not what a link, a change or a hidden mark adds. */
const lookOf = (properties: readonly SourceProperty[]): SourceProperty[] =>
  properties.filter(({ name }) => ['rFonts', 'color', 'sz', 'szCs', 'lang'].includes(name));

/** Who put something in, and when (ISO/IEC 29500-1, 17.13.5). */
export interface Tracking {
  readonly author: string;
  /** ISO 8601. */
  readonly date: string | undefined;
  /** The next id that no change of the document has. */
  nextId(): number;
}

const mark = (name: string, { author, date, nextId }: Tracking, children: readonly ElementContent[] = []): Element =>
  x(
    name,
    { 'w:id': String(nextId()), 'w:author': author, 'w:date': date?.replace(/\.\d+Z$/, 'Z') },
    children as Element[],
  );

/** Elements of our own writing, changed in place, as an insertion that somebody may accept or reject. */
export function asInsertion(elements: readonly Element[], tracking: Tracking): readonly Element[] {
  return elements.map((element) => tracked(element, tracking));
}

function tracked(element: Element, tracking: Tracking): Element {
  if (element.name === 'w:r') return mark('w:ins', tracking, [element]);
  element.children = element.children.map((child) =>
    child.type === 'element' ? tracked(child, tracking) : child,
  ) as Element['children'];
  if (element.name === 'w:p') markParagraph(element, tracking);
  if (element.name === 'w:tr') markRow(element, tracking);
  return element;
}

/** The end of the paragraph is new too (17.13.5.20). */
function markParagraph(paragraph: Element, tracking: Tracking): void {
  const [first] = paragraph.children;
  const properties = first?.type === 'element' && first.name === 'w:pPr' ? first : x('w:pPr');
  if (properties !== first) paragraph.children.unshift(properties);
  properties.children.push(x('w:rPr', {}, [mark('w:ins', tracking)]));
}

/** A row (17.13.5.16). */
function markRow(row: Element, tracking: Tracking): void {
  const [first] = row.children;
  const properties = first?.type === 'element' && first.name === 'w:trPr' ? first : x('w:trPr');
  if (properties !== first) row.children.unshift(properties);
  properties.children.push(mark('w:ins', tracking));
}
