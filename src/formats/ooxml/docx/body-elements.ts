import type { Attributes } from '../../xml/read-xml.ts';
import type { BodyReader } from './body.ts';

/** Elements passed over with all that is in them: what is deleted, told twice, or not content. */
export const skipped: ReadonlySet<string> = new Set([
  'w:del',
  'w:moveFrom',
  'w:instrText',
  'w:pPrChange',
  'w:rPrChange',
  'w:tblPrChange',
  'w:trPrChange',
  'w:tcPrChange',
  'w:sectPr',
  'w:rt',
  'w:pict',
  'w:object',
  'mc:Fallback',
]);

/** What is brought down to something simpler, by the element that shows it. */
export const broughtDown: ReadonlyMap<string, string> = new Map([
  ['w:del', 'deleted text of a tracked change, left out'],
  ['w:ins', 'inserted text of a tracked change, as accepted'],
  ['w:commentReference', 'comment, left out'],
  ['m:oMath', 'equation, as its letters'],
  ['w:object', 'embedded object, left out'],
  ['w:pict', 'drawing of an old kind, left out'],
  ['c:chart', 'chart, left out'],
]);

export const openers: Readonly<Record<string, (reader: BodyReader, attributes: Attributes) => void>> = {
  'w:p': (reader) => reader.openParagraph(),
  'w:pPr': (reader) => reader.openParagraphProperties(),
  'w:r': (reader) => reader.openRun(),
  'm:r': (reader) => reader.openRun(),
  'w:rPr': (reader) => reader.openRunProperties(),
  'w:t': (reader, attributes) => reader.openText(attributes),
  'm:t': (reader, attributes) => reader.openText(attributes),
  'w:tab': (reader) => reader.addText('\t'),
  'w:noBreakHyphen': (reader) => reader.addText('\u2011'),
  'w:softHyphen': (reader) => reader.addText('\u00ad'),
  'w:br': (reader, attributes) => reader.addBreak(attributes['w:type']),
  'w:cr': (reader) => reader.addBreak(undefined),
  'w:hyperlink': (reader, attributes) => reader.openLink(attributes),
  'w:footnoteReference': (reader, attributes) => reader.addFootnote(attributes['w:id'], 'footnote'),
  'w:endnoteReference': (reader, attributes) => reader.addFootnote(attributes['w:id'], 'endnote'),
  'w14:checked': (reader, attributes) => reader.addCheckBox(attributes),
  'w:drawing': (reader) => reader.openDrawing(),
  'wp:extent': (reader, attributes) => reader.drawing?.setExtent(attributes),
  'wp:docPr': (reader, attributes) => reader.drawing?.setDescription(attributes),
  'a:blip': (reader, attributes) => reader.drawing?.setSource(attributes),
  'w:txbxContent': (reader) => reader.openStory(),
  'w:tbl': (reader) => reader.openTable(),
  'w:gridCol': (reader, attributes) => reader.table?.addColumn(attributes),
  'w:tr': (reader) => reader.table?.openRow(),
  'w:gridBefore': (reader, attributes) => reader.table?.skipColumns(attributes),
  'w:tblHeader': (reader, attributes) => reader.table?.markHeader(attributes),
  'w:gridSpan': (reader, attributes) => reader.table?.setColumnSpan(attributes),
  'w:vMerge': (reader, attributes) => reader.table?.setMerge(attributes),
  'w:shd': (reader, attributes) => reader.table?.setShade(attributes),
  'w:tc': (reader) => {
    reader.table?.openCell();
    reader.openStory();
  },
};

export const closers: Readonly<Record<string, (reader: BodyReader) => void>> = {
  'w:p': (reader) => reader.closeParagraph(),
  'w:pPr': (reader) => reader.closeParagraphProperties(),
  'w:rPr': (reader) => reader.closeRunProperties(),
  'w:t': (reader) => reader.closeText(),
  'm:t': (reader) => reader.closeText(),
  'w:hyperlink': (reader) => reader.closeLink(),
  'w:sdt': (reader) => reader.closeContentControl(),
  'w:drawing': (reader) => reader.closeDrawing(),
  'w:txbxContent': (reader) => reader.closeTextBox(),
  'w:tbl': (reader) => reader.closeTable(),
  'w:tc': (reader) => reader.closeCell(),
};
