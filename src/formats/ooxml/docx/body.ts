import {
  type Block,
  type Inline,
  isSafeHref,
  joinText,
  type Link,
  lineBreak,
  type Marks,
  text,
} from '../../../content/index.ts';
import type { NoteCounter } from '../../notes.ts';
import type { Interest } from '../../prose.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import type { Relationships } from '../opc.ts';
import { assemble } from './assemble.ts';
import { broughtDown, closers, openers, skipped } from './body-elements.ts';
import { DrawingReader } from './drawing.ts';
import { type ParagraphLook, paragraphProperties, type RunLook, runProperties } from './look.ts';
import type { Numbering } from './numbering.ts';
import type { RawBlock, RawParagraph } from './raw.ts';
import { hiddenMarks, RunMarks } from './run-marks.ts';
import { meaningOf, type ParagraphMeaning } from './style-meaning.ts';
import type { Style, Styles } from './styles.ts';
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

interface OpenParagraph {
  readonly look: ParagraphLook;
  readonly inlines: Inline[];
  /** Blocks of text boxes anchored in it, which follow it. */
  readonly after: RawBlock[];
  /** Whether it is wanted; headings always are, since they tell what else is. */
  kept: boolean;
  style?: Style;
  meaning?: ParagraphMeaning;
  markHidden?: boolean;
  checked?: boolean;
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
  #look: RunLook = {};
  /** The marks of the run being read, once its first text has asked for them. */
  #marks: Marks | undefined;
  /** The drawing that is open, if one is. */
  drawing: DrawingReader | undefined;
  #words: string | undefined;
  #keepsSpace = false;
  #inRunProperties = false;
  #inParagraphProperties = false;
  /** How deep inside an element that is passed over; 0 when outside. */
  #skipped = 0;
  readonly #runMarks: RunMarks;
  readonly #interest: Interest | undefined;
  /** Whether what is being heard is not wanted. */
  #quiet: boolean;

  /** With an `interest`, nothing is kept but headings until it says otherwise. */
  constructor(context: BodyContext, interest?: Interest) {
    this.#context = context;
    this.#runMarks = new RunMarks(context.styles);
    this.#interest = interest;
    this.#quiet = interest !== undefined;
  }

  /** What has been heard so far, as blocks. */
  get blocks(): Block[] {
    return assemble(this.#stories[0] ?? []);
  }

  open(name: string, attributes: Attributes): void {
    if (this.#skipped > 0 || skipped.has(name)) {
      if (this.#skipped++ === 0) this.#note(name);
      return;
    }
    if (this.#inRunProperties) return this.#readRunProperty(name, attributes);
    if (this.#inParagraphProperties && name !== 'w:rPr') return this.#readParagraphProperty(name, attributes);
    this.#note(name);
    openers[name]?.(this, attributes);
  }

  close(name: string): void {
    if (this.#skipped > 0) {
      this.#skipped--;
      return;
    }
    closers[name]?.(this);
  }

  text(words: string): void {
    if (this.#words !== undefined && this.#skipped === 0) this.#words += words;
  }

  #note(name: string): void {
    const what = this.#quiet ? undefined : broughtDown.get(name);
    if (what !== undefined) this.#context.notes.add(what);
  }

  // Paragraphs

  openParagraph(): void {
    this.#paragraphs.push({ look: {}, inlines: [], after: [], kept: !this.#quiet });
    this.#look = {};
  }

  closeParagraph(): void {
    const paragraph = this.#paragraphs.pop();
    const story = this.#stories.at(-1);
    if (!paragraph || !story) return;
    const raw = this.#finishParagraph(paragraph);
    if (raw && paragraph.kept) story.push(raw);
    story.push(...paragraph.after);
    if (raw && this.#interest && this.#stories.length === 1) this.#askInterest(raw, this.#interest);
  }

  #askInterest(raw: RawParagraph, interest: Interest): void {
    const [block] = assemble([raw]);
    if (block?.type === 'heading') this.#quiet = !interest(block);
  }

  openParagraphProperties(): void {
    this.#inParagraphProperties = true;
  }

  closeParagraphProperties(): void {
    this.#inParagraphProperties = false;
    const paragraph = this.#paragraphs.at(-1);
    if (paragraph && this.#knowMeaning(paragraph).kind === 'heading' && this.#stories.length === 1)
      paragraph.kept = true;
  }

  #readParagraphProperty(name: string, attributes: Attributes): void {
    const paragraph = this.#paragraphs.at(-1);
    if (!paragraph) return;
    if (name === 'w:pStyle') {
      const style = this.#context.styles.find(attributes['w:val']);
      if (style) paragraph.style = style;
    } else paragraphProperties.get(name)?.(paragraph.look, attributes);
  }

  #knowMeaning(paragraph: OpenParagraph): ParagraphMeaning {
    const style = paragraph.style ?? this.#context.styles.plain;
    paragraph.meaning ??= meaningOf(style.name, paragraph.look.outlineLevel ?? style.paragraph.outlineLevel);
    return paragraph.meaning;
  }

  #finishParagraph(paragraph: OpenParagraph): RawParagraph | undefined {
    const meaning = this.#knowMeaning(paragraph);
    const inlines = joinText(paragraph.inlines);
    if (inlines.length === 0 && paragraph.markHidden) return undefined; // a hidden paragraph mark shows nothing
    const inherited = paragraph.style?.paragraph ?? this.#context.styles.plain.paragraph;
    const look: ParagraphLook = { ...inherited, ...paragraph.look };
    const ownIndent = meaning.kind === 'plain' || meaning.kind === 'named' ? look.indent : paragraph.look.indent;
    const direction = look.direction ?? 'ltr';
    const item = meaning.kind === 'heading' ? undefined : this.#itemNumber(look);
    return {
      kind: 'paragraph',
      meaning,
      inlines,
      ...(look.align && { align: look.align }),
      ...(ownIndent !== undefined && { indent: ownIndent }),
      ...(direction !== (this.#context.styles.plain.paragraph.direction ?? 'ltr') && { direction }),
      ...(item && { item }),
      ...(paragraph.checked !== undefined && { checked: paragraph.checked }),
      ...(look.ruled && { ruled: true }),
    };
  }

  #itemNumber({ numberingId, numberingLevel = 0 }: ParagraphLook) {
    return numberingId === undefined || numberingId === '0'
      ? undefined
      : this.#context.numbering.next(numberingId, numberingLevel);
  }

  // Runs

  openRun(): void {
    this.#look = {};
    this.#marks = undefined;
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

  #readRunProperty(name: string, attributes: Attributes): void {
    runProperties.get(name)?.(this.#look, attributes);
  }

  openText(attributes: Attributes): void {
    this.#words = this.#paragraphs.at(-1)?.kept ? '' : undefined;
    this.#keepsSpace = attributes['xml:space'] === 'preserve';
  }

  closeText(): void {
    const words = this.#words;
    this.#words = undefined;
    if (words === undefined) return;
    this.addText(this.#keepsSpace ? words : words.trim());
  }

  addText(words: string): void {
    const paragraph = this.#paragraphs.at(-1);
    if (!paragraph?.kept || words === '') return;
    const inLink = this.#links.at(-1) !== undefined;
    this.#marks ??= this.#runMarks.of(this.#look, {
      kind: this.#knowMeaning(paragraph).kind,
      style: paragraph.style,
      inLink,
    });
    if (this.#marks === hiddenMarks) return;
    const link = this.#links.at(-1);
    paragraph.inlines.push(text(cleaned(words), link ? { ...this.#marks, link } : this.#marks));
  }

  addBreak(type: string | undefined): void {
    const paragraph = this.#paragraphs.at(-1);
    if (!paragraph?.kept) return;
    if (type === 'page' || type === 'column') this.#context.notes.add(`${type} break, left out`);
    else paragraph.inlines.push(lineBreak);
  }

  // Links, notes, check boxes

  openLink(attributes: Attributes): void {
    this.#links.push(this.#findLink(attributes));
    this.#marks = undefined;
  }

  closeLink(): void {
    this.#links.pop();
    this.#marks = undefined;
  }

  #findLink(attributes: Attributes): Link | undefined {
    const anchor = attributes['w:anchor'];
    const target = this.#context.relationships.get(attributes['r:id'] ?? '')?.target ?? '';
    const address =
      target === '' && anchor !== undefined ? `#${encodeURIComponent(anchor)}` : target.trim().replaceAll(' ', '%20');
    const title = attributes['w:tooltip'];
    if (isSafeHref(address)) return title === undefined ? { href: address } : { href: address, title };
    this.#context.notes.add('link to a place outside the web, as plain words');
    return undefined;
  }

  addFootnote(id: string | undefined, kind: 'footnote' | 'endnote'): void {
    const blocks = id === undefined ? undefined : this.#context.footnote(id, kind);
    const paragraph = this.#paragraphs.at(-1);
    if (blocks && paragraph?.kept) paragraph.inlines.push({ type: 'footnote', blocks });
  }

  /** A check box at the start of an item is the item's own; its sign is not part of the words. */
  addCheckBox(attributes: Attributes): void {
    const paragraph = this.#paragraphs.at(-1);
    const numbering = paragraph && (paragraph.look.numberingId ?? paragraph.style?.paragraph.numberingId ?? '0');
    if (paragraph?.inlines.length === 0 && numbering !== '0')
      paragraph.checked = ['1', 'true'].includes(attributes['w14:val'] ?? '');
  }

  closeContentControl(): void {
    const paragraph = this.#paragraphs.at(-1);
    if (
      paragraph?.checked !== undefined &&
      paragraph.inlines.every((inline) => inline.type === 'text' && /^[☐☑☒]?\s*$/u.test(inline.text))
    )
      paragraph.inlines.length = 0;
  }

  // Pictures

  openDrawing(): void {
    this.drawing = new DrawingReader(this.#context.relationships);
  }

  closeDrawing(): void {
    const picture = this.drawing?.finish();
    this.drawing = undefined;
    const paragraph = this.#paragraphs.at(-1);
    if (picture && paragraph?.kept) paragraph.inlines.push(picture);
  }

  // Stories inside stories

  openStory(): void {
    this.#stories.push([]);
  }

  closeTextBox(): void {
    const story = this.#stories.pop() ?? [];
    this.#paragraphs.at(-1)?.after.push(...story);
  }

  openTable(): void {
    this.#tables.push(new TableReader());
  }

  closeTable(): void {
    const table = this.#tables.pop()?.finish();
    if (table && !this.#quiet) this.#stories.at(-1)?.push({ kind: 'table', table });
  }

  closeCell(): void {
    this.table?.closeCell(assemble(withoutRequiredParagraph(this.#stories.pop() ?? [])));
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
  return isEmpty && (story.length === 1 || before?.kind === 'table') ? story.slice(0, -1) : story;
}
