import type { Attributes } from '../../xml/read-xml.ts';
import type { BodyReader } from './body.ts';

/** Elements passed over with all that is in them: what is deleted, told twice, or not content. */
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

/** What is brought down to something simpler, by the element that shows it. */
export const broughtDown: ReadonlyMap<string, string> = new Map([
  ['w:del', 'deleted text of a tracked change, left out'],
  ['w:moveFrom', 'text moved by a tracked change, where it went'],
  ['w:ins', 'inserted text of a tracked change, as accepted'],
  ['w:commentReference', 'comment, left out'],
  ['m:oMath', 'equation, as its letters'],
  ['w:object', 'embedded object, as its picture'],
  ['w:altChunk', 'document inside the document, left out'],
  ['c:chart', 'chart, left out'],
  ['dgm:relIds', 'diagram, left out'],
]);

type Opener = (reader: BodyReader, attributes: Attributes) => void;

export const openers: Readonly<Record<string, Opener>> = {
  'w:p': (reader) => reader.openParagraph(),
  'w:pPr': (reader) => reader.openParagraphProperties(),
  'w:r': (reader) => reader.openRun(),
  'm:r': (reader) => reader.openRun(),
  'w:rPr': (reader) => reader.openRunProperties(),
  'w:t': (reader, a) => reader.openText(a),
  'm:t': (reader, a) => reader.openText(a),
  'w:instrText': (reader) => reader.openInstruction(),
  'w:hyperlink': (reader, a) => reader.openLink(a),
  'w:fldSimple': (reader, a) => reader.openSimpleField(a),
  'w:fldChar': (reader, a) => reader.changeField(a['w:fldCharType']),
  'w:ins': (reader) => reader.openInline(),
  'w:moveTo': (reader) => reader.openInline(),
  'w:smartTag': (reader) => reader.openInline(),
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
  'w:gridCol': (reader, a) => reader.table?.addColumn(a),
  'w:tr': (reader) => reader.openRow(),
  'w:gridBefore': (reader, a) => reader.table?.skipColumns(a),
  'w:tblHeader': (reader, a) => reader.table?.markHeader(a),
  'w:gridSpan': (reader, a) => reader.table?.setColumnSpan(a),
  'w:vMerge': (reader, a) => reader.setMerge(a),
  'w:hMerge': (reader, a) => reader.table?.setColumnMerge(a),
  'w:shd': (reader, a) => reader.table?.setShade(a),
  'w:tc': (reader) => reader.openCell(),
};

type Closer = (reader: BodyReader) => void;

export const closers: Readonly<Record<string, Closer>> = {
  'w:p': (reader) => reader.closeParagraph(),
  'w:pPr': (reader) => reader.closeParagraphProperties(),
  'w:r': (reader) => reader.closeRun(),
  'm:r': (reader) => reader.closeRun(),
  'w:rPr': (reader) => reader.closeRunProperties(),
  'w:t': (reader) => reader.closeText(),
  'm:t': (reader) => reader.closeText(),
  'w:instrText': (reader) => reader.closeInstruction(),
  'w:hyperlink': (reader) => reader.closeLink(),
  'w:fldSimple': (reader) => reader.closeLink(),
  'w:ins': (reader) => reader.closeInline(),
  'w:moveTo': (reader) => reader.closeInline(),
  'w:smartTag': (reader) => reader.closeInline(),
  'w:sdt': (reader) => reader.closeContentControl(),
  'w:drawing': (reader) => reader.closeDrawing(),
  'w:pict': (reader) => reader.closeDrawing(),
  'w:object': (reader) => reader.closeDrawing(),
  'w:txbxContent': (reader) => reader.closeTextBox(),
  'w:tbl': (reader) => reader.closeTable(),
  'w:tr': (reader) => reader.closeRow(),
  'w:tc': (reader) => reader.closeCell(),
};

/** What one element stands for by itself; read at its end, when it is known where it ends. */
export const atoms: Readonly<Record<string, Opener>> = {
  'w:tab': (reader) => reader.addText('\t'),
  'w:ptab': (reader) => reader.addText('\t'),
  'w:noBreakHyphen': (reader) => reader.addText('\u2011'),
  'w:softHyphen': (reader) => reader.addText('\u00ad'),
  'w:sym': (reader, a) => reader.addSymbol(a),
  'w:br': (reader, a) => reader.addBreak(a['w:type']),
  'w:cr': (reader) => reader.addBreak(undefined),
  'w:footnoteReference': (reader, a) => reader.addFootnote(a['w:id'], 'footnote'),
  'w:endnoteReference': (reader, a) => reader.addFootnote(a['w:id'], 'endnote'),
};

/** Extensions of the format (ISO/IEC 29500-3, 10.2) that are read; for others, what stands in for them is. */
const understood = /^(?:wp[sgc]|w1[0-9]\w*|w16\w*|a14|wp14|v|o)$/;
export const isUnderstood = (requires: string | undefined): boolean =>
  (requires ?? '').split(/\s+/).every((prefix) => understood.test(prefix));
