import { type Inline, inlineUnits, type Link, lineBreak, type Marks, text } from '../../../content/index.ts';
import type { Tracker } from '../../trace.ts';
import type { Attributes } from '../../xml/read-xml.ts';
import type { BodyContext } from './body.ts';
import { Fields, linkOf, safeLink } from './fields.ts';
import { type DocxRunLook, runProperties } from './look.ts';
import type { OpenParagraph } from './paragraph.ts';
import { hiddenMarks, RunMarks } from './run-marks.ts';
import { isSymbolFont, symbolText, symbolWords } from './symbols.ts';

/** Hears what stands inside paragraphs (ISO/IEC 29500-1, 17.3.2): runs, their words, links and fields. */
export class RunReader {
  readonly #context: BodyContext;
  readonly #tracker: Tracker;
  readonly #current: () => OpenParagraph | undefined;
  readonly #tells: boolean;
  readonly #links: (Link | undefined)[] = [];
  readonly #fields = new Fields();
  readonly #runMarks: RunMarks;
  #look: DocxRunLook = {};
  /** The marks of the run being read, once its first text has asked for them. */
  #marks: Marks | undefined;
  #words: string | undefined;
  #wordsFrom = -1;
  #keepsSpace = false;
  #instructs = false;

  /** `current` gives the paragraph that is open; `tells` says whether where everything stands is known. */
  constructor(context: BodyContext, tracker: Tracker, current: () => OpenParagraph | undefined, tells: boolean) {
    this.#context = context;
    this.#tracker = tracker;
    this.#current = current;
    this.#tells = tells;
    this.#runMarks = new RunMarks(context.styles);
  }

  /** What a run looked like does not hold for the next paragraph. */
  forget(): void {
    this.#look = {};
  }

  setProperty(name: string, attributes: Attributes): void {
    runProperties.get(name)?.(this.#look, attributes);
  }

  text(words: string): void {
    if (this.#instructs) this.#fields.instruct(words);
    if (this.#words === undefined) return;
    if (this.#wordsFrom < 0) this.#wordsFrom = this.#tracker.extent.start;
    this.#words += words;
  }

  open(): void {
    this.#tracker.open('inline');
    this.#look = {};
    this.#marks = undefined;
  }

  close(): void {
    this.#tracker.close();
  }

  openProperties(): void {
    this.#look = {};
  }

  /** Those of a paragraph's mark tell only whether it is hidden. */
  closeProperties(inParagraph: boolean): void {
    const paragraph = this.#current();
    if (!inParagraph || !paragraph) return;
    paragraph.markHidden = this.#look.hidden === true;
    this.#look = {};
  }

  openInline(): void {
    if (this.#current() !== undefined) this.#tracker.open('inline');
  }

  closeInline(): void {
    if (this.#current() !== undefined) this.#tracker.close();
  }

  openText(attributes: Attributes): void {
    this.#words = this.#current()?.kept ? '' : undefined;
    this.#wordsFrom = -1;
    this.#keepsSpace = attributes['xml:space'] === 'preserve';
  }

  closeText(): void {
    const words = this.#words;
    this.#words = undefined;
    if (words === undefined || words === '') return;
    if (this.#tells) this.#tracker.extent = { start: this.#wordsFrom, end: this.#tracker.extent.start };
    const shown = this.#keepsSpace ? words : words.replace(/^[ \t\r\n]+|[ \t\r\n]+$/g, '');
    const font = this.#look.font;
    this.addText(font !== undefined && isSymbolFont(font) ? symbolWords(font, shown) : shown);
  }

  addSymbol(attributes: Attributes): void {
    this.addText(symbolText(attributes['w:font'], attributes['w:char']));
  }

  addText(words: string): void {
    const paragraph = this.#current();
    if (!paragraph?.kept || words === '' || this.#fields.inCode) return;
    const link = this.#links.at(-1) ?? this.#fields.link;
    this.#marks ??= this.#runMarks.of(this.#look, {
      kind: paragraph.meaning.kind,
      style: paragraph.style,
      cell: paragraph.cellLook,
      inLink: link !== undefined,
    });
    if (this.#marks !== hiddenMarks) this.add(paragraph, text(words, link ? { ...this.#marks, link } : this.#marks));
  }

  addBreak(type: string | undefined): void {
    const paragraph = this.#current();
    if (!paragraph?.kept) return;
    if (type === 'page' || type === 'column') this.#context.notes.add(`${type}-break-left`);
    else this.add(paragraph, lineBreak);
  }

  add(paragraph: OpenParagraph, inline: Inline): void {
    paragraph.inlines.push(inline);
    const { node: owner, extent } = this.#tracker;
    if (!owner || !this.#tells) return;
    const { start, end } = extent;
    const words = inline.type === 'text' ? { words: inline.text } : {};
    paragraph.node?.pieces.push({ start, end, owner, units: inlineUnits(inline).length, ...words });
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
    if (!link) this.#context.notes.add('link-outside-web');
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
}
