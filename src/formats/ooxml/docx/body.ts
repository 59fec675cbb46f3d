import type { Block, Inline, Link, Marks } from '../../../content/index.ts';
import { lineBreak, text } from '../../../content/index.ts';
import { inlineUnits } from '../../flat-text.ts';
import { assemble } from '../../flow/assemble.ts';
import type { RawBlock } from '../../flow/raw.ts';
import type { NoteCounter } from '../../notes.ts';
import type { Interest } from '../../prose.ts';
import { type SourceNode, type Trace, Tracker } from '../../trace.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { DrawingReader } from '../drawing.ts';
import type { Relationships } from '../opc.ts';
import { atoms, broughtDown, closers, isUnderstood, openers, skipped } from './body-elements.ts';
import { Fields, linkOf, safeLink } from './fields.ts';
import { type DocxRunLook, paragraphProperties, runProperties } from './look.ts';
import type { Numbering } from './numbering.ts';
import { finishParagraph, type OpenParagraph, openParagraph } from './paragraph.ts';
import { hiddenMarks, RunMarks } from './run-marks.ts';
import type { Styles } from './styles.ts';
import { isSymbolFont, symbolText, symbolWords } from './symbols.ts';
import { TableReader } from './table.ts';

/** What the other parts of the package say about the body. */
export interface BodyContext {
  readonly styles: Styles;
  readonly numbering: Numbering;
  readonly relationships: Relationships;
  /** The blocks of a footnote or endnote. */
  readonly footnote: (id: string, kind: 'footnote' | 'endnote') => readonly Block[] | undefined;
  readonly notes: NoteCounter;
}

export interface BodyOptions {
  /** Nothing is kept but headings until it says otherwise. */
  readonly interest?: Interest | undefined;
  readonly trace?: Trace | undefined;
  /** Whether where everything stands in the source is told. */
  readonly tells?: boolean;
}

/**
 * Hears a story (body, footnote, cell, text box) and keeps its blocks. Stories nest: a cell's or a text box's paragraphs
 * stand inside a paragraph or a table of the story around it, so paragraphs, tables and block lists are stacks.
 */
export class BodyReader implements XmlHandler {
  readonly #context: BodyContext;
  readonly #stories: RawBlock[][] = [[]];
  readonly #paragraphs: OpenParagraph[] = [];
  readonly #tables: TableReader[] = [];
  readonly #links: (Link | undefined)[] = [];
  readonly #drawings: DrawingReader[] = [];
  readonly #fields = new Fields();
  readonly #runMarks: RunMarks;
  readonly #interest: Interest | undefined;
  readonly #tracker: Tracker;
  readonly at?: (start: number, end: number) => void;
  #look: DocxRunLook = {};
  /** The marks of the run being read, once its first text has asked for them. */
  #marks: Marks | undefined;
  #words: string | undefined;
  #wordsFrom = -1;
  #keepsSpace = false;
  #instructs = false;
  #inRunProperties = false;
  #inParagraphProperties = false;
  /** How deep inside an element that is passed over; 0 when outside. */
  #skipped = 0;
  /** Of each choice between contents that is open: whether one that is understood was met. */
  readonly #choices: boolean[] = [];
  #atom: Attributes | undefined;
  /** Of each content control that is open: whether it is an element of its own in the trace. */
  readonly #controls: { traced: boolean; inContent: boolean }[] = [];
  /** Where each element that is open begins; only for a trace. */
  readonly #starts: number[] = [];
  readonly #bookmarkNames = new Map<string, string>();
  /** Whether what is being heard is not wanted. */
  #quiet: boolean;

  constructor(context: BodyContext, { interest, trace, tells = false }: BodyOptions = {}) {
    this.#context = context;
    this.#runMarks = new RunMarks(context.styles);
    this.#interest = interest;
    this.#quiet = interest !== undefined;
    this.#tracker = new Tracker(trace);
    if (tells)
      this.at = (start, end) => {
        this.#tracker.extent = { start, end };
      };
  }

  /** What has been heard so far, as blocks. */
  get blocks(): Block[] {
    return assemble(this.#flush(this.#stories[0]), this.#tracker.trace);
  }

  open(name: string, attributes: Attributes): void {
    if (this.at) this.#starts.push(this.#tracker.extent.start);
    if (this.#skipped > 0 || skipped.has(name) || this.#isOtherChoice(name, attributes)) {
      if (name === 'w:del' && this.#skipped === 0) this.#markDeleted();
      if (this.#skipped++ === 0) this.#note(name);
      return;
    }
    if (this.#inRunProperties) return runProperties.get(name)?.(this.#look, attributes);
    if (this.#inParagraphProperties && name !== 'w:rPr') return this.#readParagraphProperty(name, attributes);
    if (this.#controls.at(-1)?.inContent === false && name !== 'w:sdtContent' && name !== 'w14:checked') return;
    this.#note(name);
    if (name in atoms) this.#atom = attributes;
    openers[name]?.(this, attributes);
  }

  close(name: string): void {
    const start = this.#starts.pop();
    if (this.#skipped > 0) {
      this.#skipped--;
      return;
    }
    if (this.#isPassedOver(name)) return;
    if (name === 'mc:AlternateContent') this.#choices.pop();
    const atom = this.#atom;
    if (atom && name in atoms) {
      this.#atom = undefined;
      if (start !== undefined) this.#tracker.extent = { start, end: this.#tracker.extent.end };
      atoms[name]?.(this, atom);
    } else closers[name]?.(this);
  }

  text(words: string): void {
    if (this.#skipped > 0) return;
    if (this.#instructs) this.#fields.instruct(words);
    if (this.#words === undefined) return;
    if (this.#wordsFrom < 0) this.#wordsFrom = this.#tracker.extent.start;
    this.#words += words;
  }

  /** Whether the element that ends was only read as a property. */
  #isPassedOver(name: string): boolean {
    if (this.#inRunProperties) return name !== 'w:rPr';
    if (this.#inParagraphProperties) return name !== 'w:pPr' && name !== 'w:rPr';
    return this.#controls.at(-1)?.inContent === false && name !== 'w:sdt';
  }

  /** Of several contents that stand for one another (ISO/IEC 29500-3, 10.2), the first that is understood is read. */
  #isOtherChoice(name: string, { Requires }: Attributes): boolean {
    if (name === 'mc:AlternateContent') this.#choices.push(false);
    const last = this.#choices.length - 1;
    if (name === 'mc:Fallback') return this.#choices[last] === true;
    if (name !== 'mc:Choice') return false;
    if (this.#choices[last] || !isUnderstood(Requires)) return true;
    this.#choices[last] = true;
    return false;
  }

  #note(name: string): void {
    const what = this.#quiet ? undefined : broughtDown.get(name);
    if (what !== undefined) this.#context.notes.add(what);
  }

  // Paragraphs

  openParagraph(): void {
    const paragraph = openParagraph(this.#context.styles, this.#tracker.open('leaf'), !this.#quiet);
    this.#paragraphs.push(paragraph);
    this.#look = {};
    for (const name of this.#waiting.splice(0)) this.#place(name);
  }

  closeParagraph(): void {
    this.#lastPoint = this.#point();
    this.#tracker.close();
    const paragraph = this.#paragraphs.pop();
    const story = this.#stories.at(-1);
    if (!paragraph || !story) return;
    const before = this.#joining.get(story);
    if (before) paragraph.inlines.unshift(...before.inlines);
    this.#joining.delete(story);
    if (paragraph.markDeleted) return void this.#joining.set(story, paragraph);
    this.#keep(paragraph, story);
  }

  #keep(paragraph: OpenParagraph, story: RawBlock[]): void {
    const raw = finishParagraph(paragraph, this.#context);
    if (raw && paragraph.kept) story.push(raw);
    story.push(...paragraph.after);
    if (!raw || !this.#interest || this.#stories.length > 1) return;
    const [block] = assemble([raw]);
    if (block?.type === 'heading') this.#quiet = !this.#interest(block);
  }

  /** Paragraphs whose end was deleted by a tracked change, by their story: as accepted, they go on in the next. */
  readonly #joining = new Map<RawBlock[], OpenParagraph>();

  /** There is no next paragraph. */
  #flush(story: RawBlock[] | undefined): RawBlock[] {
    const waiting = story && this.#joining.get(story);
    if (!story || !waiting) return story ?? [];
    this.#joining.delete(story);
    this.#keep(waiting, story);
    return story;
  }

  openParagraphProperties(): void {
    this.#inParagraphProperties = true;
  }

  closeParagraphProperties(): void {
    this.#inParagraphProperties = false;
    const paragraph = this.#paragraphs.at(-1);
    if (paragraph && paragraph.meaning.kind === 'heading' && this.#stories.length === 1) paragraph.kept = true;
  }

  #readParagraphProperty(name: string, attributes: Attributes): void {
    const paragraph = this.#paragraphs.at(-1);
    if (name === 'w:pStyle') paragraph?.setStyle(this.#context.styles.find(attributes['w:val']));
    else if (paragraph) paragraphProperties.get(name)?.(paragraph.look, attributes);
  }

  #markDeleted(): void {
    const paragraph = this.#paragraphs.at(-1);
    if (this.#inParagraphProperties && this.#inRunProperties && paragraph) paragraph.markDeleted = true;
    else if (this.table?.isBetween(this.#stories.length)) this.table.deleteRow();
  }

  // Runs

  openRun(): void {
    this.#tracker.open('inline');
    this.#look = {};
    this.#marks = undefined;
  }

  closeRun(): void {
    this.#tracker.close();
  }

  openRunProperties(): void {
    this.#inRunProperties = true;
    this.#look = {};
  }

  closeRunProperties(): void {
    this.#inRunProperties = false;
    const paragraph = this.#paragraphs.at(-1);
    if (!this.#inParagraphProperties || !paragraph) return;
    paragraph.markHidden = this.#look.hidden === true;
    this.#look = {};
  }

  openInline(): void {
    if (this.#paragraphs.length > 0) this.#tracker.open('inline');
  }

  closeInline(): void {
    if (this.#paragraphs.length > 0) this.#tracker.close();
  }

  openText(attributes: Attributes): void {
    this.#words = this.#paragraphs.at(-1)?.kept ? '' : undefined;
    this.#wordsFrom = -1;
    this.#keepsSpace = attributes['xml:space'] === 'preserve';
  }

  closeText(): void {
    const words = this.#words;
    this.#words = undefined;
    if (words === undefined || words === '') return;
    if (this.at) this.#tracker.extent = { start: this.#wordsFrom, end: this.#tracker.extent.start };
    const shown = this.#keepsSpace ? words : words.replace(/^[ \t\r\n]+|[ \t\r\n]+$/g, '');
    const font = this.#look.font;
    this.addText(font !== undefined && isSymbolFont(font) ? symbolWords(font, shown) : shown);
  }

  addSymbol(attributes: Attributes): void {
    this.addText(symbolText(attributes['w:font'], attributes['w:char']));
  }

  addText(words: string): void {
    const paragraph = this.#paragraphs.at(-1);
    if (!paragraph?.kept || words === '' || this.#fields.inCode) return;
    const link = this.#links.at(-1) ?? this.#fields.link;
    this.#marks ??= this.#runMarks.of(this.#look, {
      kind: paragraph.meaning.kind,
      style: paragraph.style,
      inLink: link !== undefined,
    });
    if (this.#marks !== hiddenMarks)
      this.#add(paragraph, text(cleaned(words), link ? { ...this.#marks, link } : this.#marks));
  }

  addBreak(type: string | undefined): void {
    const paragraph = this.#paragraphs.at(-1);
    if (!paragraph?.kept) return;
    if (type === 'page' || type === 'column') this.#context.notes.add(`${type} break, left out`);
    else this.#add(paragraph, lineBreak);
  }

  #add(paragraph: OpenParagraph, inline: Inline): void {
    paragraph.inlines.push(inline);
    const { source } = this.#tracker;
    if (!source || !this.at) return;
    const { extent, owner } = source;
    const words = inline.type === 'text' ? { words: inline.text } : {};
    paragraph.node?.pieces.push({ ...extent, owner, units: inlineUnits(inline).length, ...words });
  }

  // Links and fields

  openLink(attributes: Attributes): void {
    const target = this.#context.relationships.get(attributes['r:id'] ?? '')?.target ?? '';
    this.#pushLink(safeLink(target, attributes['w:anchor'], attributes['w:tooltip']));
  }

  openSimpleField(attributes: Attributes): void {
    const instruction = attributes['w:instr'] ?? '';
    if (/^\s*HYPERLINK\s/i.test(instruction)) this.#pushLink(linkOf(instruction));
    else {
      this.openInline();
      this.#links.push(this.#links.at(-1));
    }
  }

  #pushLink(link: Link | undefined): void {
    this.openInline();
    if (!link) this.#context.notes.add('link to a place outside the web, as plain words');
    this.#links.push(link);
    this.#marks = undefined;
  }

  closeLink(): void {
    this.closeInline();
    this.#links.pop();
    this.#marks = undefined;
  }

  changeField(type: string | undefined): void {
    this.#fields.change(type);
    this.#marks = undefined;
  }

  openInstruction(): void {
    this.#instructs = true;
  }

  closeInstruction(): void {
    this.#instructs = false;
  }

  // Notes, bookmarks, content controls

  addFootnote(id: string | undefined, kind: 'footnote' | 'endnote'): void {
    const blocks = id === undefined ? undefined : this.#context.footnote(id, kind);
    const paragraph = this.#paragraphs.at(-1);
    if (blocks && paragraph?.kept) this.#add(paragraph, { type: 'footnote', blocks });
  }

  openBookmark(attributes: Attributes): void {
    const name = attributes['w:name'] ?? '';
    this.#bookmarkNames.set(attributes['w:id'] ?? '', name);
    this.#place(name);
  }

  #place(name: string): void {
    const point = this.#point();
    if (point) this.#tracker.trace?.bookmarks.set(name, { start: point, end: point });
    else this.#waiting.push(name);
  }

  closeBookmark(attributes: Attributes): void {
    const name = this.#bookmarkNames.get(attributes['w:id'] ?? '') ?? '';
    const bookmark = this.#tracker.trace?.bookmarks.get(name);
    const point = this.#point() ?? this.#lastPoint; // one that ends between paragraphs ends with the last
    if (bookmark && point) bookmark.end = point;
  }

  /** Bookmarks that begin between paragraphs: at the start of the next. */
  readonly #waiting: string[] = [];
  #lastPoint: { leaf: SourceNode; at: number } | undefined;

  #point() {
    const paragraph = this.#paragraphs.at(-1);
    if (!paragraph?.node) return undefined;
    const at = paragraph.inlines.reduce((units, inline) => units + inlineUnits(inline).length, 0);
    return { leaf: paragraph.node, at };
  }

  openContentControl(): void {
    const inline = this.#paragraphs.length > 0 && this.#stories.length <= this.#paragraphs.length + this.#tables.length;
    const between = this.table?.isBetween(this.#stories.length) === true;
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
    if (drawing?.isLinked) this.#context.notes.add('picture outside the file, left out');
    if (node) this.#tracker.extent = { start: node.start, end: node.end };
    if (picture) this.#add(paragraph, picture);
  }

  // Stories inside stories

  openStory(): void {
    this.#tracker.open('story');
    this.#stories.push([]);
  }

  closeTextBox(): void {
    this.#tracker.close();
    const story = this.#flush(this.#stories.pop());
    this.#paragraphs.at(-1)?.after.push(...story);
  }

  openTable(): void {
    this.#flush(this.#stories.at(-1));
    this.#tracker.open('group');
    this.#tables.push(new TableReader(this.#stories.length));
  }

  closeTable(): void {
    const node = this.#tracker.close();
    const table = this.#tables.pop()?.finish();
    if (!table || this.#quiet) return;
    if (node) this.#tracker.trace?.link(table, [node]);
    this.#stories.at(-1)?.push({ kind: 'block', block: table });
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
    this.#stories.push([]);
  }

  /** Rows tied to one another by a cell cannot go alone. */
  setMerge(attributes: Attributes): void {
    const row = this.#tracker.around('row');
    if (row) row.tied = true;
    this.table?.setMerge(attributes);
  }

  closeCell(): void {
    this.#tracker.close();
    this.table?.closeCell(assemble(withoutRequiredParagraph(this.#flush(this.#stories.pop())), this.#tracker.trace));
  }

  get table(): TableReader | undefined {
    return this.#tables.at(-1);
  }
}

/** Without what a paragraph cannot hold; most words are as they should be. */
const cleaned = (words: string): string =>
  /[\u0000-\u0008\u000a-\u001f]/.test(words)
    ? words.replace(/[\n\r]+/g, ' ').replace(/[\u0000-\u0008\u000b-\u001f]/g, '')
    : words;

/** A cell must end with a paragraph (17.4.65): alone or after a table, an empty one is not the author's. */
function withoutRequiredParagraph(story: readonly RawBlock[]): readonly RawBlock[] {
  const last = story.at(-1);
  const before = story.at(-2);
  const isEmpty = last?.kind === 'paragraph' && last.inlines.length === 0 && !last.ruled && !last.item;
  return isEmpty && (story.length === 1 || before?.kind === 'block') ? story.slice(0, -1) : story;
}
