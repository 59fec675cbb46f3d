import { type Block, type Inline, isSafeHref, type Link, type Marks } from '../../../content/index.ts';
import { Budget } from '../../bounds.ts';
import { assemble, type RawBlock, type RawParagraph } from '../../flow/assemble.ts';
import { InlineCollector } from '../../flow/inline-collector.ts';
import { isInlineCode, isLinkStyle, marksOf, meaningOf, type ParagraphMeaning, type RunLook } from '../../flow/look.ts';
import type { NoteCounter } from '../../format.ts';
import type { SectionFilter } from '../../prose.ts';
import { type SourceNode, type Trace, Tracker } from '../../trace.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import type { Style, StyleBook } from '../styles.ts';
import { closers, openers, simplifiedElements, skipped } from './elements.ts';
import { FrameReader } from './frame.ts';
import { ListReader, OdtTableReader } from './table.ts';

export interface TextContext {
  readonly styles: StyleBook;
  readonly notes: NoteCounter;
  readonly sectionFilter?: SectionFilter | undefined;
  readonly trace?: Trace | undefined;
  /** After how many blocks no more need be heard. */
  readonly enough?: number | undefined;
  /** Whether where everything stands in the source is told. */
  readonly tells: boolean;
}

interface Span {
  readonly style?: Style;
  readonly link?: Link;
}

/**
 * Hears the text of a document (ISO/IEC 26300-1, section 5) and keeps its blocks. Stories nest: a cell's, a note's and a
 * text box's paragraphs stand inside a paragraph or a table of the story around it.
 */
export class TextReader implements XmlHandler {
  readonly context: TextContext;
  readonly #stories: RawBlock[][] = [[]];
  readonly #paragraphs: OpenParagraph[] = [];
  readonly #spans: Span[][] = [[]];
  readonly #lists: ListReader[] = [];
  readonly #tables: OdtTableReader[] = [];
  readonly #frames: FrameReader[] = [];
  /** The last number each numbered list gave, for those that go on counting. */
  readonly lastNumbers = new Map<string, number>();
  #inBody = false;
  #skipped = 0;
  readonly #budget = new Budget();
  #quiet: boolean;
  #marks: Marks | undefined;

  readonly tracker: Tracker;
  readonly at?: (start: number, end: number) => void;

  constructor(context: TextContext) {
    this.context = context;
    this.#quiet = context.sectionFilter !== undefined;
    this.tracker = new Tracker(context.trace);
    if (context.tells)
      this.at = (start, end) => {
        this.tracker.extent = { start, end };
      };
  }

  done(): boolean {
    return (this.#stories[0]?.length ?? 0) >= (this.context.enough ?? Number.POSITIVE_INFINITY);
  }

  get blocks(): Block[] {
    return assemble(this.#stories[0] ?? [], this.context.trace);
  }

  open(name: string, a: Attributes): void {
    if (!this.#inBody) {
      if (name === 'office:text') this.#inBody = true;
      else this.context.styles.open(name, a);
      return;
    }
    if (this.#skipped > 0 || skipped.has(name) || a['text:display'] === 'none') {
      if (this.#skipped++ === 0) this.#note(name);
      return;
    }
    this.#note(name);
    openers[name]?.(this, a);
  }

  close(name: string): void {
    if (!this.#inBody) return this.context.styles.close(name);
    if (this.#skipped > 0) {
      this.#skipped--;
      return;
    }
    closers[name]?.(this);
  }

  text(words: string): void {
    if (!this.#inBody) return this.context.styles.text(words);
    if (this.#skipped > 0) return;
    if (this.#frames.at(-1)?.hears(words)) return;
    this.addText(words, false);
  }

  #note(name: string): void {
    const what = this.#quiet ? undefined : simplifiedElements.get(name);
    if (what !== undefined) this.context.notes.add(what);
  }

  /** The row that is open keeps its place when its words go. */
  tieRow(): void {
    const row = this.tracker.around('row');
    if (row) row.tied = true;
  }

  // Paragraphs

  openParagraph(a: Attributes, outlineLevel: number | undefined): void {
    if (!this.#quiet) this.#budget.addBlock();
    const node = this.tracker.open('leaf');
    const style = this.context.styles.find('paragraph', a['text:style-name']);
    const meaning = meaningOf(style.name, outlineLevel === undefined ? undefined : outlineLevel - 1);
    const isHeading = meaning.kind === 'heading' && this.#stories.length === 1;
    this.#paragraphs.push({
      collector: new InlineCollector(),
      style,
      meaning,
      after: [],
      kept: !this.#quiet || isHeading,
      node,
    });
    this.#spans.push([]);
    this.#marks = undefined;
  }

  closeParagraph(): void {
    const paragraph = this.#paragraphs.pop();
    const story = this.#stories.at(-1);
    this.#spans.pop();
    this.#marks = undefined;
    this.tracker.close();
    if (!paragraph || !story) return;
    const raw = finishParagraph(paragraph, this.context.styles);
    if (paragraph.kept) story.push(raw);
    story.push(...paragraph.after);
    if (this.context.sectionFilter && this.#stories.length === 1 && this.#lists.length === 0) this.#askFilter(raw);
  }

  #askFilter(raw: RawParagraph): void {
    const [block] = assemble([raw]);
    if (block?.type === 'heading') this.#quiet = !this.context.sectionFilter?.(block);
  }

  // Words

  addText(words: string, keepsSpaces: boolean): void {
    const paragraph = this.#paragraphs.at(-1);
    if (!paragraph?.kept) return;
    this.#marks ??= this.#workOutMarks(paragraph);
    if (this.#marks !== hidden) paragraph.collector.addText(words, this.#marks, keepsSpaces, this.tracker.source);
  }

  addInline(inline: Inline): void {
    const paragraph = this.#paragraphs.at(-1);
    if (!paragraph?.kept) return;
    if (inline.type === 'break') paragraph.collector.addBreak(this.tracker.source);
    else paragraph.collector.add(inline, this.tracker.source);
  }

  openSpan(span: Span): void {
    this.tracker.open('inline');
    this.#spans.at(-1)?.push(span);
    this.#marks = undefined;
  }

  closeSpan(): void {
    this.tracker.close();
    this.#spans.at(-1)?.pop();
    this.#marks = undefined;
  }

  openStyledSpan(a: Attributes): void {
    this.openSpan({ style: this.context.styles.find('text', a['text:style-name']) });
  }

  openLink(a: Attributes): void {
    const address = (a['xlink:href'] ?? '').trim().replaceAll(' ', '%20');
    const title = a['office:title'];
    if (isSafeHref(address)) return this.openSpan({ link: { href: address, ...(title && { title }) } });
    this.context.notes.add('link-outside-web');
    this.openSpan({});
  }

  /** What a heading, quote or list looks like follows from what it is; only what was set in this place says more. */
  #workOutMarks({ style, meaning }: OpenParagraph): Marks {
    const { plain } = this.context.styles;
    const isPlain = meaning.kind === 'plain' || meaning.kind === 'named';
    // What a note or a list looks like follows from what it is, as in a heading; a style of the text's own says more.
    let look: RunLook =
      meaning.kind === 'named'
        ? style.run
        : meaning.kind === 'plain'
          ? { ...plain.run, ...style.direct.run }
          : style.direct.run;
    let marks: Marks = {};
    for (const { style: own, link } of this.#spans.at(-1) ?? []) {
      if (link) marks = { ...marks, link };
      if (!own) continue;
      const isCode = isInlineCode(own.name);
      if (isCode) marks = { ...marks, code: true };
      look = { ...look, ...(isCode || isLinkStyle(own.name) ? own.direct.run : own.run) };
    }
    if (look.hidden) return hidden;
    const { language } = plain.run;
    const base = isPlain ? plain.run : language === undefined ? {} : { language };
    return { ...marksOf(look, base), ...marks };
  }

  // Bookmarks

  openBookmark(name: string): void {
    const point = this.#point();
    if (point) this.context.trace?.bookmarks.set(name, { start: point, end: point });
  }

  closeBookmark(name: string): void {
    const point = this.#point();
    const bookmark = this.context.trace?.bookmarks.get(name);
    if (bookmark && point) bookmark.end = point;
  }

  #point() {
    const paragraph = this.#paragraphs.at(-1);
    return paragraph?.node && { leaf: paragraph.node, at: paragraph.collector.units };
  }

  // Lists

  openList(a: Attributes): void {
    this.tracker.open('group');
    const outer = this.#lists.at(-1);
    this.#lists.push(new ListReader(this.context.styles, a, outer?.isOpen ? outer : undefined, this.lastNumbers));
  }

  openItem(a: Attributes): void {
    this.tracker.open('group');
    this.#stories.push([]);
    this.#lists.at(-1)?.openItem(a);
  }

  closeItem(): void {
    this.tracker.close();
    const blocks = assemble(this.#stories.pop() ?? [], this.context.trace);
    this.#lists.at(-1)?.closeItem(blocks);
  }

  closeList(): void {
    const node = this.tracker.close();
    const blocks = this.#lists.pop()?.finish() ?? [];
    const [only] = blocks;
    if (blocks.length === 1 && only?.type === 'list' && node) this.context.trace?.link(only, [node]);
    const wanted = this.#quiet ? blocks.filter(({ type }) => type === 'heading') : blocks;
    this.#stories.at(-1)?.push(...wanted.map((block): RawBlock => ({ kind: 'block', block })));
    if (this.context.sectionFilter && this.#stories.length === 1)
      for (const block of blocks) if (block.type === 'heading') this.#quiet = !this.context.sectionFilter(block);
  }

  // Tables

  openTable(): void {
    this.tracker.open('group');
    this.#tables.push(new OdtTableReader(this.context.styles));
  }

  closeTable(): void {
    const node = this.tracker.close();
    const table = this.#tables.pop()?.finish();
    if (!table) return;
    if (node) this.context.trace?.link(table, [node]);
    if (!this.#quiet) this.#stories.at(-1)?.push({ kind: 'block', block: table });
  }

  get table(): OdtTableReader | undefined {
    return this.#tables.at(-1);
  }

  openCell(a: Attributes): void {
    this.tracker.open('cell');
    if (Number(a['table:number-rows-spanned']) > 1) this.tieRow();
    this.table?.openCell(a);
    this.#stories.push([]);
  }

  closeCell(): void {
    this.tracker.close();
    const story = this.#stories.pop() ?? [];
    const isBlank = story.every((raw) => raw.kind === 'paragraph' && raw.inlines.length === 0 && !raw.ruled);
    this.table?.closeCell(isBlank ? [] : assemble(story, this.context.trace));
  }

  // Frames, notes, text boxes

  openFrame(a: Attributes): void {
    this.tracker.open('inline');
    this.#frames.push(new FrameReader(a));
  }

  get frame(): FrameReader | undefined {
    return this.#frames.at(-1);
  }

  closeFrame(): void {
    const picture = this.#frames.pop()?.finish();
    this.#closeElement();
    if (!picture) return;
    if (this.#paragraphs.length > 0) this.addInline(picture);
    else if (!this.#quiet) this.#stories.at(-1)?.push({ kind: 'block', block: picture });
  }

  openStory(): void {
    this.tracker.open('story');
    this.#stories.push([]);
    this.#spans.push([]);
    this.#marks = undefined;
  }

  closeTextBox(): void {
    this.tracker.close();
    this.#spans.pop();
    const story = this.#stories.pop() ?? [];
    (this.#paragraphs.at(-1)?.after ?? this.#stories.at(-1))?.push(...story);
    this.#marks = undefined;
  }

  openNote(): void {
    this.tracker.open('inline');
  }

  /** The note stands where its reference is; all of its element goes with it. */
  closeNote(): void {
    this.#closeElement();
    if (this.#noteBlocks) this.addInline({ type: 'footnote', blocks: this.#noteBlocks });
    this.#noteBlocks = undefined;
  }

  /** What follows stands for the whole of the element. */
  #closeElement(): void {
    const node = this.tracker.close();
    if (node) this.tracker.extent = { start: node.start, end: node.end };
  }

  #noteBlocks: Block[] | undefined;

  openNoteBody(): void {
    this.#stories.push([]);
  }

  closeNoteBody(): void {
    this.#noteBlocks = assemble(this.#stories.pop() ?? [], undefined);
    this.#marks = undefined;
  }
}

/** Stands for the marks of hidden text, which is not read. */
const hidden: Marks = {};

/** A paragraph that is being heard. */
export interface OpenParagraph {
  readonly collector: InlineCollector;
  readonly style: Style;
  readonly meaning: ParagraphMeaning;
  /** Blocks of text boxes anchored in it, which follow it. */
  readonly after: RawBlock[];
  readonly kept: boolean;
  readonly node: SourceNode | undefined;
}

/** The paragraph as it counts. */
export function finishParagraph(
  { collector, style, meaning, node }: OpenParagraph,
  { plain }: StyleBook,
): RawParagraph {
  const { inlines = [], pieces = [] } = collector.finish({ keepsBreak: true }) ?? {};
  node?.pieces.push(...pieces);
  const look = { ...plain.paragraph, ...style.paragraph };
  const indent = meaning.kind === 'plain' || meaning.kind === 'named' ? look.indent : style.direct.paragraph.indent;
  const direction = look.direction ?? 'ltr';
  return {
    kind: 'paragraph',
    meaning,
    inlines,
    ...(look.align && { align: look.align }),
    ...(indent !== undefined && { indent }),
    ...(direction !== (plain.paragraph.direction ?? 'ltr') && { direction }),
    ...(look.ruled && { ruled: true }),
    ...(node && { source: node }),
  };
}
