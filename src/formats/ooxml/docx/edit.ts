import type { Element, ElementContent } from 'xast';
import type { Block, Inline, List, Text } from '../../../content/index.ts';
import type { ReadTools, Source } from '../../format.ts';
import { type BlockTarget, InsertionGrammar, nearestPlain, type WordTarget } from '../../insertion-grammar.ts';
import type { EditableProse, ProseLanding } from '../../prose-format.ts';
import type { TextEdit } from '../../text-edits.ts';
import type { SourceNode } from '../../trace.ts';
import { Declarations, highest, x } from '../../xml/element.ts';
import { escapeText, xmlSource } from '../../xml/write-xml.ts';
import { contentTypes, type OpcPackage, openPackage, readRelationships, relatedPart, relationshipsOf } from '../opc.ts';
import { OpcEdit } from '../package-edit.ts';
import { readTheme } from '../theme.ts';
import { adaptStyles } from './adapt-styles.ts';
import { docxGrammar } from './grammar.ts';
import { propertiesIn, propertiesSource, type SourceProperty } from './properties.ts';
import { checkMayChange, readPackage } from './read.ts';
import { readStyles } from './styles.ts';
import { pageAt, plainLook, runAround, runEdges, runSplit, tableStyleIn } from './surroundings.ts';
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
  return {
    source: decoded,
    grammar: docxGrammar,
    read: (request) => readPackage(opened, request, decoded),
    end: () => ({ start: endOfBody(decoded.text), end: decoded.text.length }),
    async landing(prose, insertion) {
      const parts = await findParts(opened);
      await edit.load(
        relationshipsOf(main),
        contentTypes,
        ...Object.values(parts),
        parts.footnotes && relationshipsOf(parts.footnotes),
      );
      const styles = await readStyles(zip, parts.styles, await readTheme(zip, parts.theme));
      return new DocxInsertion({ edit, main, parts, styles, prose, source: decoded.text, insertion });
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

/** In front of the properties of the last section, or of the end of the body (ISO/IEC 29500-1, 17.2.2). */
function endOfBody(text: string): number {
  const near = Math.max(0, text.lastIndexOf('body') - 80);
  const [end] = [...text.slice(near).matchAll(/<\/(?:[\w.-]+:)?body\s*>/g)].at(-1) ?? [];
  const bodyEnd = end === undefined ? text.length : text.lastIndexOf(end);
  const section = [...text.slice(Math.max(0, bodyEnd - 20_000), bodyEnd).matchAll(/<(?:[\w.-]+:)?sectPr[\s/>]/g)].at(
    -1,
  );
  if (!section) return bodyEnd;
  const at = Math.max(0, bodyEnd - 20_000) + section.index;
  return /<\/(?:[\w.-]+:)?(?:p|tbl|sdt)>/.test(text.slice(at, bodyEnd)) ? bodyEnd : at;
}

/** Writes content so that it belongs to a document: into its main part, and into the parts that it leans on. */
export class DocxInsertion extends InsertionGrammar implements ProseLanding {
  readonly #context: LandingContext;
  readonly #target: TargetParts;
  readonly #declarations: Declarations;
  readonly #tracking: Tracking | undefined;

  constructor(context: LandingContext) {
    super(docxGrammar);
    this.#context = context;
    const { source, insertion, styles } = context;
    const { author, date } = insertion;
    this.#target = new TargetParts(context, targetStyles(styles, tableStyleIn(source)));
    this.#declarations = new Declarations(source, this.#target.namespaces);
    let id = author === undefined ? 0 : highestId(source);
    this.#tracking = author === undefined ? undefined : { author, date, nextId: () => ++id };
  }

  get #isOriginal(): boolean {
    return this.#context.insertion.style === 'original';
  }

  blocks(blocks: readonly Block[], spot: BlockTarget): TextEdit {
    const { source, prose } = this.#context;
    const node = spot.above ?? spot.below;
    const plain = this.#isOriginal
      ? undefined
      : this.#unnumbered(plainLook(source, nearestPlain(prose, spot.position)));
    const page = pageAt(source, spot.position, node);
    const [only] = blocks;
    const written =
      spot.item && spot.list && only?.type === 'list'
        ? this.#items(only, spot.item)
            .map((element) => this.#source(element))
            .join('')
        : this.#blocksSource(this.#target.story(page), blocks, plain);
    const position = spot.position;
    return {
      start: position,
      end: position,
      replacement: parted(written, source, position, this.#target.emptyParagraph),
    };
  }

  /** A block at a time, so that the elements of one are forgotten before those of the next are made. */
  #blocksSource(story: StoryWriter, blocks: readonly Block[], plain: ReturnType<typeof plainLook>): string {
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
  #unnumbered(look: ReturnType<typeof plainLook>): ReturnType<typeof plainLook> {
    const id = /val="([^"]*)"/.exec(look?.paragraph.find(({ name }) => name === 'pStyle')?.source ?? '')?.[1];
    const { styles } = this.#context;
    const numbering = (styles.find(id) ?? styles.plain).paragraph.numberingId ?? '0';
    if (!look || numbering === '0' || look.paragraph.some(({ name }) => name === 'numPr')) return look;
    return { ...look, paragraph: [...look.paragraph, this.#target.noNumber] };
  }

  /** Each item goes on in the list as the one beside it: with its properties, and the look of its words. */
  #items(list: List, item: SourceNode): readonly Element[] {
    const { source } = this.#context;
    const base = {
      paragraph: propertiesIn(propertiesSource(source, item.innerStart, 'pPr')).filter(
        ({ name }) => name !== 'sectPr' && name !== 'rPr',
      ),
      run: this.#isOriginal ? [] : lookOf(runPropertiesIn(source, item)),
    };
    const story = this.#target.story(pageAt(source, item.start, item));
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
    const { source } = this.#context;
    const { leaf, piece, position } = spot;
    const run = runAround(source, leaf, piece);
    const bare = this.#tracking || this.#isOriginal ? undefined : bareWords(inlines);
    if (run && piece?.words !== undefined && source[piece.start] !== '<' && bare !== undefined)
      return [{ start: position, end: position, replacement: escapeText(bare) }, ...this.keepSpaces(source, piece)];
    const properties = run
      ? propertiesIn(propertiesSource(source, run.innerStart, 'rPr'))
      : lookOf(markProperties(source, leaf));
    const base = { paragraph: [], run: this.#isOriginal ? [] : properties.filter(({ name }) => name !== 'rPrChange') };
    const story = this.#target.story(pageAt(source, position, leaf));
    const elements = this.#written(writeInlines(story, inlines), base);
    const written = elements.map((element) => this.#source(element)).join('');
    if (!run || !piece) return [emptyParagraphEdit(source, leaf, written)];
    const edge = runEdges(source, leaf, run, position);
    if (edge !== undefined) return [{ start: edge, end: edge, replacement: written }];
    const { close, open } = runSplit(source, run, piece);
    return [
      { start: position, end: position, replacement: close + written + open },
      ...(source[piece.start] === '<' ? [] : this.keepSpaces(source, piece)),
    ];
  }

  part({ leaf, piece }: WordTarget): { close: string; open: string } | undefined {
    const { source } = this.#context;
    const run = runAround(source, leaf, piece);
    const properties = propertiesSource(source, leaf.innerStart, 'pPr');
    if (!run || !piece || run.parent !== leaf || /sectPr[\s/>]/.test(properties)) return undefined;
    const [, tag = 'w:p'] = /^<([\w.:-]+)/.exec(source.slice(leaf.start, leaf.start + 80)) ?? [];
    const { close, open } = runSplit(source, run, piece);
    return { close: `${close}</${tag}>`, open: `<${tag}>${properties}${open}` };
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

  /** Writes what the parts beside the main one gained; the main one is as it was edited. */
  finish(edited: string): string {
    this.#target.finish();
    return edited;
  }
}

/** A text about which others are written. */
const stand: Text = { type: 'text', text: '\ue000' };

/** The words of a paragraph that has nothing else. */
function bareParagraph(block: Block): string | undefined {
  if (block.type !== 'paragraph' || block.inlines.length !== 1 || Object.keys(block).length !== 2) return undefined;
  return bareWords(block.inlines);
}

/** Two tables in a row would become one, and a cell or body has to end with a paragraph: an empty one stands between. */
function parted(written: string, source: string, position: number, empty: string): string {
  const tableAbove = /<\/(?:[\w.-]+:)?tbl>\s*$/.test(source.slice(Math.max(0, position - 40), position));
  const behind = source.slice(position, position + 60);
  const needsBehind = /^\s*<(?:(?:[\w.-]+:)?tbl[\s>]|(?:[\w.-]+:)?sectPr|\/(?:[\w.-]+:)?(?:tc|body|txbxContent)>)/.test(
    behind,
  );
  return (
    (tableAbove && /^<w:tbl[\s>]/.test(written) ? empty : '') +
    written +
    (written.endsWith('</w:tbl>') && needsBehind ? empty : '')
  );
}

/** The highest id of a change, comment or bookmark: ids of changes have to differ. */
const highestId = (source: string): number => highest(source, /\s[\w.-]+:id="(\d{1,9})"/g);

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

function runPropertiesIn(source: string, leaf: SourceNode): SourceProperty[] {
  const run = runAround(source, leaf, leaf.pieces[0]);
  return run ? propertiesIn(propertiesSource(source, run.innerStart, 'rPr')) : [];
}

/** The look of a paragraph's mark, which an empty paragraph has for the words to come. */
function markProperties(source: string, leaf: SourceNode): SourceProperty[] {
  const own = propertiesIn(propertiesSource(source, leaf.innerStart, 'pPr')).find(({ name }) => name === 'rPr');
  return own ? propertiesIn(own.source) : [];
}

/** An empty paragraph may be written as one tag. */
function emptyParagraphEdit(source: string, leaf: SourceNode, written: string): TextEdit {
  const tag = source.slice(leaf.start, leaf.end);
  const [, name = 'w:p', attributes = ''] = /^<([\w.:-]+)([^<>]*?)\/>$/.exec(tag) ?? [];
  if (tag.endsWith('/>') && !tag.includes('><'))
    return { start: leaf.start, end: leaf.end, replacement: `<${name}${attributes}>${written}</${name}>` };
  return { start: leaf.innerEnd, end: leaf.innerEnd, replacement: written };
}

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
