import { codePoint } from 'dingbat-to-unicode';
import {
  type Inline,
  inlineUnits,
  isSafeHref,
  type Link,
  lineBreak,
  type Marks,
  text,
} from '../../../content/index.ts';
import { isInlineCode, isLinkStyle, marksOf, type ParagraphMeaning, type RunLook } from '../../flow/look.ts';
import type { Tracker } from '../../trace.ts';
import type { Attributes } from '../../xml/read-xml.ts';
import { type DocxRunLook, layered, runProperties } from './look.ts';
import type { BodyContext, OpenParagraph } from './paragraph.ts';
import { type Style, type Styles, withTheme } from './styles.ts';
import type { CellLook } from './table-styles.ts';

/** Reads the content of paragraphs (ISO/IEC 29500-1, 17.3.2): runs, their words, links and fields. */
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

  /**
   * @param current - returns the open paragraph
   * @param tells - whether source positions are known
   */
  constructor(context: BodyContext, tracker: Tracker, current: () => OpenParagraph | undefined, tells: boolean) {
    this.#context = context;
    this.#tracker = tracker;
    this.#current = current;
    this.#tells = tells;
    this.#runMarks = new RunMarks(context.styles);
  }

  /** Forgets the look of the last run at the end of a paragraph. */
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

  /** Closes run properties; those of a paragraph mark only tell whether it is hidden. */
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

/** Fonts whose characters are pictures at the places of letters, or in the private use area from U+F000 on. */
const symbolFonts = new Set(['Symbol', 'Webdings', 'Wingdings', 'Wingdings 2', 'Wingdings 3']);

export const isSymbolFont = (font: string | undefined): boolean => font !== undefined && symbolFonts.has(font);

/** A character's code as hexadecimal; `undefined` when it is none, or one that is not shown. */
export function codeOf(hex: string | undefined): number | undefined {
  const code = Number.parseInt(hex ?? '', 16);
  return code > 0x1f && code <= 0x10ffff ? code : undefined;
}

/** A symbol (ISO/IEC 29500-1, 17.3.3.30) in Unicode: the font's known symbol, or the character itself. */
export function symbolText(font: string | undefined, hex: string | undefined): string {
  const code = codeOf(hex);
  if (code === undefined) return '';
  return signOf(font ?? '', code) ?? String.fromCodePoint(code >= 0xf020 && code <= 0xf0ff ? code - 0xf000 : code);
}

/** Words set in a symbol font, in Unicode. */
export const symbolWords = (font: string, words: string): string =>
  [...words].map((sign) => signOf(font, sign.codePointAt(0) ?? 0) ?? sign).join('');

const signOf = (font: string, code: number): string | undefined =>
  codePoint(font, code >= 0xf000 && code <= 0xf0ff ? code - 0xf000 : code)?.string;

interface Field {
  instruction: string;
  inResult: boolean;
  link?: Link | undefined;
}

/** The open complex fields (ISO/IEC 29500-1, 17.16.18): their codes are skipped, their results read. */
export class Fields {
  readonly #open: Field[] = [];

  change(type: string | undefined): void {
    const field = this.#open.at(-1);
    if (type === 'begin') this.#open.push({ instruction: '', inResult: false });
    else if (type === 'separate' && field) {
      field.inResult = true;
      field.link = linkOf(field.instruction);
    } else if (type === 'end') this.#open.pop();
  }

  instruct(words: string): void {
    const field = this.#open.at(-1);
    if (field && !field.inResult && field.instruction.length < 8192) field.instruction += words;
  }

  /** Whether the current content is part of a field's code, which is not shown. */
  get inCode(): boolean {
    return this.#open.some(({ inResult }) => !inResult);
  }

  get link(): Link | undefined {
    return this.#open.findLast(({ link }) => link !== undefined)?.link;
  }
}

/** The target of a HYPERLINK field (17.16.5.25); `undefined` for other fields and targets outside the web. */
export function linkOf(instruction: string): Link | undefined {
  const [, rest] = /^\s*HYPERLINK\s(.*)$/is.exec(instruction) ?? [];
  if (rest === undefined) return undefined;
  const [, anchor] = /\\l\s+"([^"]*)"/i.exec(rest) ?? [];
  const [, quoted, bare] = /^\s*(?:"([^"]*)"|([^\s"\\]\S*))/.exec(rest) ?? [];
  return safeLink(quoted ?? bare ?? '', anchor);
}

/** A link to an address, or to a bookmark of the same document if there is no address. */
export function safeLink(address: string, anchor: string | undefined, title?: string): Link | undefined {
  const bare = address.trim().replaceAll(' ', '%20');
  const href = bare === '' && anchor ? `#${encodeURIComponent(anchor)}` : bare;
  if (!isSafeHref(href)) return undefined;
  return title === undefined ? { href } : { href, title };
}

/** The context that a run's look depends on. */
export interface RunPlace {
  readonly kind: ParagraphMeaning['kind'];
  readonly style: Style | undefined;
  /** The look of its cell by the surrounding table's style. */
  readonly cell: CellLook | undefined;
  readonly inLink: boolean;
}

/** The marks of hidden text, which is not read. */
export const hiddenMarks: Marks = {};

/** Computes runs' marks from styles and their own properties (ISO/IEC 29500-1, 17.7.2). Cached, because most runs look alike. */
export class RunMarks {
  readonly #styles: Styles;
  readonly #known = new Map<CellLook | undefined, Map<string, Marks>>();

  constructor(styles: Styles) {
    this.#styles = styles;
  }

  of(look: DocxRunLook, place: RunPlace): Marks {
    let inCell = this.#known.get(place.cell);
    if (!inCell) {
      inCell = new Map();
      this.#known.set(place.cell, inCell);
    }
    const key = `${place.kind}|${place.style?.name ?? ''}|${place.inLink}|${JSON.stringify(look)}`;
    const known = inCell.get(key);
    if (known) return known;
    const marks = workOut(this.#styles, look, place);
    inCell.set(key, marks);
    return marks;
  }
}

/** Toggle properties alternate between styles; a run's own setting wins (17.7.3). */
function workOut(
  styles: Styles,
  { style: styleId, ...own }: DocxRunLook,
  { kind, style, cell, inLink }: RunPlace,
): Marks {
  const character = styles.find(styleId);
  const isLink = inLink && character !== undefined && isLinkStyle(character.name);
  const isCode = character !== undefined && isInlineCode(character.name);
  // The look of a heading, quote or list follows from its kind; only a custom style adds to it.
  const around = cell && kind !== 'heading' ? styles.leftToTables(cell.run) : {};
  const below = layered(around, kind === 'named' ? (style?.run ?? {}) : {});
  const layers = { ...layered(below, isLink || isCode ? {} : (character?.run ?? {})), ...own };
  const look = inScript(withTheme(layers, styles.theme));
  if (look.hidden) return hiddenMarks;
  const marks = marksOf(look, baseFor(styles, kind));
  return isCode ? { ...marks, code: true } : marks;
}

/** The look to compare with: the document's own for plain text, only the language for headings. */
function baseFor({ plain }: Styles, kind: RunPlace['kind']): RunLook {
  const { language } = plain.run;
  if (kind === 'plain' || kind === 'named') return plain.run;
  return language === undefined ? {} : { language };
}

/** Text of a complex script has a weight, slant, size and font of its own (17.3.2.26, 17.3.2.39). */
const inScript = (look: DocxRunLook): DocxRunLook =>
  look.complex
    ? {
        ...look,
        bold: look.complexBold ?? false,
        italic: look.complexItalic ?? false,
        ...(look.complexSize !== undefined && { size: look.complexSize }),
        ...(look.complexFont !== undefined && { font: look.complexFont }),
      }
    : look;
