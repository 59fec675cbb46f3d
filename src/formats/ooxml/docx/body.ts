import { type Block, inlineUnits } from '../../../content/index.ts';
import { assemble, type RawBlock } from '../../flow/assemble.ts';
import type { SectionFilter } from '../../prose.ts';
import { type Trace, Tracker } from '../../trace.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { DrawingReader } from '../drawing.ts';
import { atoms, Bookmarks, Choices, closers, openers, Skipping, simplifiedElements, skipped } from './body-elements.ts';
import { paragraphProperties } from './look.ts';
import { type BodyContext, type OpenParagraph, openParagraph, TextFlows } from './paragraph.ts';
import { RunReader } from './runs.ts';
import { TableReader } from './table.ts';

export interface BodyOptions {
  /** Nothing is kept but headings until it says otherwise. */
  readonly sectionFilter?: SectionFilter | undefined;
  readonly trace?: Trace | undefined;
  /** After how many blocks no more need be heard. */
  readonly enough?: number | undefined;
  /** Whether where everything stands in the source is told. */
  readonly tells?: boolean;
}

/**
 * Hears a story (body, footnote, cell, text box) and keeps its blocks. Stories nest: a cell's or a text box's paragraphs
 * stand inside a paragraph or a table of the story around it, so paragraphs, tables and block lists are stacks.
 */
export class BodyReader implements XmlHandler {
  readonly #context: BodyContext;
  readonly #stories: TextFlows;
  readonly #paragraphs: OpenParagraph[] = [];
  readonly #tables: TableReader[] = [];
  readonly #drawings: DrawingReader[] = [];
  readonly #sectionFilter: SectionFilter | undefined;
  readonly #tracker: Tracker;
  readonly runs: RunReader;
  readonly at?: (start: number, end: number) => void;
  #inRunProperties = false;
  #inParagraphProperties = false;
  /** How deep inside an element that is passed over; 0 when outside. */
  #skipped = 0;
  /** Whether what is passed over is the rest of a paragraph. */
  #skipsRest = false;
  readonly #choices = new Choices();
  readonly #bookmarks: Bookmarks;
  readonly #passing: Skipping;
  #atom: Attributes | undefined;
  /** Of each content control that is open: whether it is an element of its own in the trace. */
  readonly #controls: { traced: boolean; inContent: boolean }[] = [];
  /** Where each element that is open begins; only for a trace. */
  readonly #starts: number[] = [];
  /** Whether what is being heard is not wanted. */
  #quiet: boolean;
  readonly #enough: number;

  constructor(context: BodyContext, { sectionFilter, trace, enough, tells = false }: BodyOptions = {}) {
    this.#context = context;
    this.#enough = enough ?? Number.POSITIVE_INFINITY;
    this.#sectionFilter = sectionFilter;
    this.#quiet = sectionFilter !== undefined;
    this.#tracker = new Tracker(trace);
    this.#stories = new TextFlows(context, trace);
    this.#bookmarks = new Bookmarks(trace);
    this.#passing = new Skipping(context.styles);
    this.runs = new RunReader(context, this.#tracker, () => this.#paragraphs.at(-1), tells);
    if (tells)
      this.at = (start, end) => {
        this.#tracker.extent = { start, end };
      };
  }

  /** Passes over paragraphs of the text's own level that are not wanted. */
  take(text: string, start: number): number {
    const isBetween = this.#paragraphs.length === 0 && this.#tables.length === 0 && this.#stories.depth === 1;
    if (!this.#quiet || !isBetween || this.#skipped > 0 || this.#controls.length > 0) return -1;
    return this.#passing.paragraph(text, start);
  }

  done(): boolean {
    return this.#stories.count >= this.#enough;
  }

  /** What has been heard so far, as blocks. */
  get blocks(): Block[] {
    return this.#stories.blocks;
  }

  open(name: string, attributes: Attributes): void {
    if (this.at) this.#starts.push(this.#tracker.extent.start);
    if (this.#skipped > 0) {
      this.#skipped++;
      return;
    }
    if (skipped.has(name) || (name.startsWith('mc:') && this.#choices.isOther(name, attributes))) {
      if (name === 'w:del') this.#markDeleted();
      this.#skipped = 1;
      return this.#note(name);
    }
    if (this.#inRunProperties) return this.runs.setProperty(name, attributes);
    if (this.#inParagraphProperties && name !== 'w:rPr') return this.#readParagraphProperty(name, attributes);
    if (this.#controls.at(-1)?.inContent === false && name !== 'w:sdtContent' && name !== 'w14:checked') return;
    if (this.#quiet && this.#isUnwanted(name)) {
      this.#skipsRest = true;
      this.#skipped = 2; // this element, and the rest of the paragraph
      return;
    }
    this.#note(name);
    if (atoms[name]) this.#atom = attributes;
    openers[name]?.(this, attributes);
  }

  close(name: string): void {
    const start = this.#starts.pop();
    if (this.#skipped > 0) {
      this.#skipped--;
      if (this.#skipped > 0 || !this.#skipsRest) return;
      this.#skipsRest = false; // what ends is the paragraph itself
    }
    if (this.#isPassedOver(name)) return;
    if (name.startsWith('mc:')) this.#choices.close(name);
    const atom = this.#atom;
    if (atom && atoms[name]) {
      this.#atom = undefined;
      if (start !== undefined) this.#tracker.extent = { start, end: this.#tracker.extent.end };
      atoms[name]?.(this, atom);
    } else closers[name]?.(this);
  }

  text(words: string): void {
    if (this.#skipped > 0) return;
    this.runs.text(words);
  }

  /** Whether nothing in the paragraph is wanted, now that its properties have said that it is no heading. */
  #isUnwanted(name: string): boolean {
    const paragraph = this.#paragraphs.at(-1);
    return paragraph !== undefined && !paragraph.kept && !this.#inParagraphProperties && name !== 'w:pPr';
  }

  /** Whether the element that ends was only read as a property. */
  #isPassedOver(name: string): boolean {
    if (this.#inRunProperties) return name !== 'w:rPr';
    if (this.#inParagraphProperties) return name !== 'w:pPr' && name !== 'w:rPr';
    return this.#controls.at(-1)?.inContent === false && name !== 'w:sdt';
  }

  #note(name: string): void {
    const what = this.#quiet ? undefined : simplifiedElements.get(name);
    if (what !== undefined) this.#context.notes.add(what);
  }

  // Paragraphs

  openParagraph(): void {
    if (!this.#quiet) this.#context.budget.addBlock();
    const paragraph = openParagraph(this.#context.styles, this.#tracker.open('leaf'), !this.#quiet);
    // A cell's own paragraphs have its table's style, those of a text box in it have not.
    if (this.table?.isBetween(this.#stories.depth - 1)) paragraph.cellLook = this.table.cellLook;
    this.#paragraphs.push(paragraph);
    this.runs.forget();
    this.#bookmarks.openParagraph(this.#point());
  }

  closeParagraph(): void {
    this.#bookmarks.closeParagraph(this.#point());
    this.#tracker.close();
    const paragraph = this.#paragraphs.pop();
    const raw = paragraph && this.#stories.add(paragraph);
    if (raw?.meaning.kind !== 'heading' || !this.#sectionFilter || this.#stories.depth > 1) return;
    const [block] = assemble([raw]);
    if (block?.type === 'heading') this.#quiet = !this.#sectionFilter(block);
  }

  openParagraphProperties(): void {
    this.#inParagraphProperties = true;
  }

  closeParagraphProperties(): void {
    this.#inParagraphProperties = false;
    const paragraph = this.#paragraphs.at(-1);
    if (paragraph && paragraph.meaning.kind === 'heading' && this.#stories.depth === 1) paragraph.kept = true;
  }

  #readParagraphProperty(name: string, attributes: Attributes): void {
    const paragraph = this.#paragraphs.at(-1);
    if (name === 'w:pStyle') paragraph?.setStyle(this.#context.styles.find(attributes['w:val']));
    else if (paragraph) paragraphProperties.get(name)?.(paragraph.look, attributes);
  }

  #markDeleted(): void {
    const paragraph = this.#paragraphs.at(-1);
    if (this.#inParagraphProperties && this.#inRunProperties && paragraph) paragraph.markDeleted = true;
    else if (this.table?.isBetween(this.#stories.depth)) this.table.deleteRow();
  }

  openRunProperties(): void {
    this.#inRunProperties = true;
    this.runs.openProperties();
  }

  closeRunProperties(): void {
    this.#inRunProperties = false;
    this.runs.closeProperties(this.#inParagraphProperties);
  }

  // Notes, bookmarks, content controls

  addFootnote(id: string | undefined, kind: 'footnote' | 'endnote'): void {
    const blocks = id === undefined ? undefined : this.#context.footnote(id, kind);
    const paragraph = this.#paragraphs.at(-1);
    if (!blocks || !paragraph?.kept) return;
    this.#context.budget.addNote(blocks);
    this.runs.add(paragraph, { type: 'footnote', blocks });
  }

  openBookmark(attributes: Attributes): void {
    this.#bookmarks.start(attributes, this.#point());
  }

  closeBookmark(attributes: Attributes): void {
    this.#bookmarks.end(attributes, this.#point());
  }

  #point() {
    const paragraph = this.#paragraphs.at(-1);
    if (!paragraph?.node) return undefined;
    const at = paragraph.inlines.reduce((units, inline) => units + inlineUnits(inline).length, 0);
    return { leaf: paragraph.node, at };
  }

  openContentControl(): void {
    const inline = this.#paragraphs.length > 0 && this.#stories.depth <= this.#paragraphs.length + this.#tables.length;
    const between = this.table?.isBetween(this.#stories.depth) === true;
    this.#controls.push({ traced: !between, inContent: false });
    if (!between) this.#tracker.open(inline ? 'inline' : 'group');
  }

  openControlContent(): void {
    const control = this.#controls.at(-1);
    if (control) control.inContent = true;
  }

  /** A check box at the start of an item is the item's own; its sign is not part of the words. */
  addCheckBox(attributes: Attributes): void {
    const paragraph = this.#paragraphs.at(-1);
    if (paragraph?.inlines.length === 0 && paragraph.isNumbered)
      paragraph.checked = ['1', 'true'].includes(attributes['w14:val'] ?? '');
  }

  closeContentControl(): void {
    if (this.#controls.pop()?.traced) this.#tracker.close();
    const paragraph = this.#paragraphs.at(-1);
    if (
      paragraph?.checked !== undefined &&
      paragraph.inlines.every((inline) => inline.type === 'text' && /^[☐☑☒]?\s*$/u.test(inline.text))
    ) {
      paragraph.inlines.length = 0;
      if (paragraph.node) paragraph.node.pieces.length = 0;
    }
  }

  // Pictures

  openDrawing(): void {
    this.#tracker.open('inline');
    this.#drawings.push(new DrawingReader(this.#context.relationships));
  }

  get drawing(): DrawingReader | undefined {
    return this.#drawings.at(-1);
  }

  closeDrawing(): void {
    const drawing = this.#drawings.pop();
    const node = this.#tracker.close();
    const picture = drawing?.finish();
    const paragraph = this.#paragraphs.at(-1);
    if (!paragraph?.kept) return;
    if (drawing?.isLinked) this.#context.notes.add('picture-outside-left');
    if (node) this.#tracker.extent = { start: node.start, end: node.end };
    if (picture) this.runs.add(paragraph, picture);
  }

  // Stories inside stories

  openStory(): void {
    this.#tracker.open('story');
    this.#stories.open();
  }

  closeTextBox(): void {
    this.#tracker.close();
    this.#paragraphs.at(-1)?.after.push(...this.#stories.close());
  }

  openTable(): void {
    this.#stories.flush();
    this.#tracker.open('group');
    this.#tables.push(new TableReader(this.#stories.depth));
  }

  closeTable(): void {
    const node = this.#tracker.close();
    const table = this.#tables.pop()?.finish();
    if (!table || this.#quiet) return;
    if (node) this.#tracker.trace?.link(table, [node]);
    this.#stories.addBlock(table);
  }

  setTableStyle(id: string | undefined): void {
    this.table?.setStyle(id === undefined ? undefined : this.#context.styles.findTable(id));
  }

  openRow(): void {
    this.#tracker.open('row');
    this.table?.openRow();
  }

  closeRow(): void {
    this.#tracker.close();
  }

  openCell(): void {
    this.#tracker.open('cell');
    this.table?.openCell();
    this.#stories.open();
  }

  /** Rows tied to one another by a cell cannot go alone. */
  setMerge(attributes: Attributes): void {
    const row = this.#tracker.around('row');
    if (row) row.tied = true;
    this.table?.setMerge(attributes);
  }

  closeCell(): void {
    this.#tracker.close();
    this.table?.closeCell(assemble(withoutRequiredParagraph(this.#stories.close()), this.#tracker.trace));
  }

  get table(): TableReader | undefined {
    return this.#tables.at(-1);
  }
}

/** A cell must end with a paragraph (17.4.65): alone or after a table, an empty one is not the author's. */
function withoutRequiredParagraph(story: readonly RawBlock[]): readonly RawBlock[] {
  const last = story.at(-1);
  const before = story.at(-2);
  const isEmpty = last?.kind === 'paragraph' && last.inlines.length === 0 && !last.ruled && !last.item;
  return isEmpty && (story.length === 1 || before?.kind === 'block') ? story.slice(0, -1) : story;
}
