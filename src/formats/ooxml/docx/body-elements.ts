import type { NoteKind } from '../../../content/index.ts';
import type { Point, Trace } from '../../trace.ts';
import { nullPrototype } from '../../xml/element.ts';
import type { Attributes } from '../../xml/read-xml.ts';
import type { BodyReader } from './body.ts';
import type { Styles } from './styles.ts';

/** Elements skipped with their contents: deletions, duplicates, and non-content. */
export const skipped: ReadonlySet<string> = new Set([
  'w:del',
  'w:moveFrom',
  'w:delText',
  'w:delInstrText',
  'w:pPrChange',
  'w:rPrChange',
  'w:tblPrChange',
  'w:tblGridChange',
  'w:trPrChange',
  'w:tcPrChange',
  'w:sectPr',
  'w:sdtEndPr',
  'w:rt',
  'w:altChunk',
  'o:OLEObject',
  'c:chart',
]);

/** Notes for simplified content, by element name. */
export const simplifiedElements: ReadonlyMap<string, NoteKind> = new Map<string, NoteKind>([
  ['w:del', 'deletion-left'],
  ['w:moveFrom', 'move-taken'],
  ['w:ins', 'insertion-taken'],
  ['w:commentReference', 'comment-left'],
  ['m:oMath', 'equation-as-letters'],
  ['w:object', 'object-as-picture'],
  ['w:altChunk', 'inner-document-left'],
  ['c:chart', 'chart-left'],
  ['dgm:relIds', 'diagram-left'],
]);

type Opener = (reader: BodyReader, attributes: Attributes) => void;

export const openers: Readonly<Record<string, Opener>> = nullPrototype({
  'w:p': (reader) => reader.openParagraph(),
  'w:pPr': (reader) => reader.openParagraphProperties(),
  'w:r': (reader) => reader.runs.open(),
  'm:r': (reader) => reader.runs.open(),
  'w:rPr': (reader) => reader.openRunProperties(),
  'w:t': (reader, a) => reader.runs.openText(a),
  'm:t': (reader, a) => reader.runs.openText(a),
  'w:instrText': (reader) => reader.runs.openInstruction(),
  'w:hyperlink': (reader, a) => reader.runs.openLink(a),
  'w:fldSimple': (reader, a) => reader.runs.openSimpleField(a),
  'w:fldChar': (reader, a) => reader.runs.changeField(a['w:fldCharType']),
  'w:ins': (reader) => reader.runs.openInline(),
  'w:moveTo': (reader) => reader.runs.openInline(),
  'w:smartTag': (reader) => reader.runs.openInline(),
  'w:sdt': (reader) => reader.openContentControl(),
  'w:sdtContent': (reader) => reader.openControlContent(),
  'w14:checked': (reader, a) => reader.addCheckBox(a),
  'w:bookmarkStart': (reader, a) => reader.openBookmark(a),
  'w:bookmarkEnd': (reader, a) => reader.closeBookmark(a),
  'w:drawing': (reader) => reader.openDrawing(),
  'w:pict': (reader) => reader.openDrawing(),
  'w:object': (reader) => reader.openDrawing(),
  'wp:extent': (reader, a) => reader.drawing?.setExtent(a),
  'wp:docPr': (reader, a) => reader.drawing?.setDescription(a),
  'pic:cNvPr': (reader, a) => reader.drawing?.setDescription(a),
  'a:blip': (reader, a) => reader.drawing?.setSource(a),
  'v:shape': (reader, a) => reader.drawing?.setShape(a),
  'v:imagedata': (reader, a) => reader.drawing?.setSource(a),
  'w:txbxContent': (reader) => reader.openStory(),
  'w:tbl': (reader) => reader.openTable(),
  'w:tblStyle': (reader, a) => reader.setTableStyle(a['w:val']),
  'w:tblLook': (reader, a) => reader.table?.setShownParts(a),
  'w:cnfStyle': (reader, a) => reader.table?.markLast(a),
  'w:gridCol': (reader, a) => reader.table?.addColumn(a),
  'w:tr': (reader) => reader.openRow(),
  'w:gridBefore': (reader, a) => reader.table?.skipColumns(a),
  'w:tblHeader': (reader, a) => reader.table?.markHeader(a),
  'w:gridSpan': (reader, a) => reader.table?.setColumnSpan(a),
  'w:vMerge': (reader, a) => reader.setMerge(a),
  'w:hMerge': (reader, a) => reader.table?.setColumnMerge(a),
  'w:shd': (reader, a) => reader.table?.setShade(a),
  'w:tc': (reader) => reader.openCell(),
});

type Closer = (reader: BodyReader) => void;

export const closers: Readonly<Record<string, Closer>> = nullPrototype({
  'w:p': (reader) => reader.closeParagraph(),
  'w:pPr': (reader) => reader.closeParagraphProperties(),
  'w:r': (reader) => reader.runs.close(),
  'm:r': (reader) => reader.runs.close(),
  'w:rPr': (reader) => reader.closeRunProperties(),
  'w:t': (reader) => reader.runs.closeText(),
  'm:t': (reader) => reader.runs.closeText(),
  'w:instrText': (reader) => reader.runs.closeInstruction(),
  'w:hyperlink': (reader) => reader.runs.closeLink(),
  'w:fldSimple': (reader) => reader.runs.closeLink(),
  'w:ins': (reader) => reader.runs.closeInline(),
  'w:moveTo': (reader) => reader.runs.closeInline(),
  'w:smartTag': (reader) => reader.runs.closeInline(),
  'w:sdt': (reader) => reader.closeContentControl(),
  'w:drawing': (reader) => reader.closeDrawing(),
  'w:pict': (reader) => reader.closeDrawing(),
  'w:object': (reader) => reader.closeDrawing(),
  'w:txbxContent': (reader) => reader.closeTextBox(),
  'w:tbl': (reader) => reader.closeTable(),
  'w:tr': (reader) => reader.closeRow(),
  'w:tc': (reader) => reader.closeCell(),
});

/** Elements that represent one object; read at their end tag, when their extent is known. */
export const atoms: Readonly<Record<string, Opener>> = nullPrototype({
  'w:tab': (reader) => reader.runs.addText('\t'),
  'w:ptab': (reader) => reader.runs.addText('\t'),
  'w:noBreakHyphen': (reader) => reader.runs.addText('\u2011'),
  'w:softHyphen': (reader) => reader.runs.addText('\u00ad'),
  'w:sym': (reader, a) => reader.runs.addSymbol(a),
  'w:br': (reader, a) => reader.runs.addBreak(a['w:type']),
  'w:cr': (reader) => reader.runs.addBreak(undefined),
  'w:footnoteReference': (reader, a) => reader.addFootnote(a['w:id'], 'footnote'),
  'w:endnoteReference': (reader, a) => reader.addFootnote(a['w:id'], 'endnote'),
});

/** Namespace prefixes of supported extensions; for others, the fallback is read. */
const understood = /^(?:wp[sgc]|w1[0-9]\w*|a14|wp14|v|o)$/;

const isUnderstood = (requires: string | undefined): boolean =>
  (requires ?? '').split(/\s+/).every((prefix) => understood.test(prefix));

/** Selects the first supported alternative of alternate content (ISO/IEC 29500-3, 10.2). */
export class Choices {
  /** Of each choice that is open: whether one that is understood was met. */
  readonly #open: boolean[] = [];

  /** Whether the element is a choice that is not the one to read. */
  isOther(name: string, { Requires }: Attributes): boolean {
    if (name === 'mc:AlternateContent') this.#open.push(false);
    const last = this.#open.length - 1;
    if (name === 'mc:Fallback') return this.#open[last] === true;
    if (name !== 'mc:Choice') return false;
    if (this.#open[last] || !isUnderstood(Requires)) return true;
    this.#open[last] = true;
    return false;
  }

  close(name: string): void {
    if (name === 'mc:AlternateContent') this.#open.pop();
  }
}

/** Signs that a paragraph cannot be skipped: a nested paragraph, a number, an outline level or a tracked change. */
const telling = /<w:(?:p[ >]|numPr|outlineLvl|del[ >/]|moveFrom)|<!/;
const styled = /<w:pStyle w:val="([^"&]*)"/;

/**
 * Skips unwanted paragraphs that do not affect what follows: no headings and no list items. They make up most of a long
 * document, and need no parsing tag by tag.
 */
export class Skipping {
  readonly #styles: Styles;
  readonly #known = new Map<string | undefined, boolean>();

  constructor(styles: Styles) {
    this.#styles = styles;
  }

  /** The end of a skippable paragraph that begins at `start`; -1 if it cannot be skipped or is incomplete. */
  paragraph(text: string, start: number): number {
    if (!text.startsWith('<w:p>', start) && !text.startsWith('<w:p ', start)) return -1;
    const tagEnd = text.indexOf('>', start);
    if (tagEnd < 0 || text[tagEnd - 1] === '/') return -1;
    const end = text.indexOf('</w:p>', tagEnd);
    if (end < 0) return -1;
    const inside = text.slice(tagEnd, end);
    if (telling.test(inside)) return -1;
    const style = styled.exec(inside)?.[1];
    if (style === undefined && inside.includes('<w:pStyle')) return -1;
    return this.#isPlain(style) ? end + '</w:p>'.length : -1;
  }

  /** Whether paragraphs of a style are neither headings nor items. */
  #isPlain(id: string | undefined): boolean {
    const known = this.#known.get(id);
    if (known !== undefined) return known;
    const style = this.#styles.find(id) ?? this.#styles.plain;
    const isPlain =
      this.#styles.meaning(style, undefined).kind !== 'heading' && (style.paragraph.numberingId ?? '0') === '0';
    this.#known.set(id, isPlain);
    return isPlain;
  }
}

/** Follows bookmarks (ISO/IEC 29500-1, 17.13.6), which may begin and end between paragraphs too. */
export class Bookmarks {
  readonly #trace: Trace | undefined;
  readonly #names = new Map<string, string>();
  /** Those that begin between paragraphs: at the start of the next. */
  #waiting: string[] = [];
  /** The end of the last paragraph. */
  #last: Point | undefined;

  constructor(trace: Trace | undefined) {
    this.#trace = trace;
  }

  start(attributes: Attributes, point: Point | undefined): void {
    const name = attributes['w:name'] ?? '';
    this.#names.set(attributes['w:id'] ?? '', name);
    if (point) this.#trace?.bookmarks.set(name, { start: point, end: point });
    else this.#waiting.push(name);
  }

  end(attributes: Attributes, point: Point | undefined): void {
    const bookmark = this.#trace?.bookmarks.get(this.#names.get(attributes['w:id'] ?? '') ?? '');
    const end = point ?? this.#last;
    if (bookmark && end) bookmark.end = end;
  }

  openParagraph(point: Point | undefined): void {
    for (const name of this.#waiting) if (point) this.#trace?.bookmarks.set(name, { start: point, end: point });
    this.#waiting = [];
  }

  closeParagraph(point: Point | undefined): void {
    this.#last = point;
  }
}
