import type { NoteKind } from '../../../content/index.ts';
import { byName } from '../../by-name.ts';
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
export const broughtDown: ReadonlyMap<string, NoteKind> = new Map<string, NoteKind>([
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

export const openers: Readonly<Record<string, Opener>> = byName({
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

export const closers: Readonly<Record<string, Closer>> = byName({
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

/** What one element stands for by itself; read at its end, when it is known where it ends. */
export const atoms: Readonly<Record<string, Opener>> = byName({
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
