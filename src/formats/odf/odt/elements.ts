import { lineBreak, type NoteKind } from '../../../content/index.ts';
import { nullPrototype } from '../../xml/element.ts';
import type { Attributes } from '../../xml/read-xml.ts';
import type { TextReader } from './text-reader.ts';

/** Elements passed over with all that is in them: what is deleted, told twice, or not content. */
export const skipped: ReadonlySet<string> = new Set([
  'text:tracked-changes',
  'office:annotation',
  'text:note-citation',
  'text:ruby-text',
  'text:hidden-text',
  'text:hidden-paragraph',
  'text:table-of-content-source',
  'text:illustration-index-source',
  'text:table-index-source',
  'text:object-index-source',
  'text:user-index-source',
  'text:alphabetical-index-source',
  'text:bibliography-source',
  'text:index-title-template',
  'text:sequence-decls',
  'text:variable-decls',
  'text:user-field-decls',
  'text:dde-connection-decls',
  'text:alphabetical-index-auto-mark-file',
  'text:list-header-source',
  'office:forms',
  'table:named-expressions',
  'table:table-source',
  'table:shapes',
  'presentation:notes',
  'script:event-listeners',
  'office:event-listeners',
  'office:binary-data',
]);

/** What is brought down to something simpler, by the element that shows it. */
export const simplifiedElements: ReadonlyMap<string, NoteKind> = new Map<string, NoteKind>([
  ['text:change-start', 'insertion-taken'],
  ['text:change', 'deletion-left'],
  ['office:annotation', 'comment-left'],
  ['draw:object', 'object-as-picture'],
  ['draw:object-ole', 'object-as-picture'],
  ['draw:plugin', 'film-left'],
  ['text:hidden-text', 'hidden-text-left'],
]);

type Opener = (reader: TextReader, attributes: Attributes) => void;

const shapes = [
  'custom-shape',
  'rect',
  'ellipse',
  'circle',
  'polygon',
  'line',
  'connector',
  'caption',
  'path',
  'polyline',
  'regular-polygon',
  'measure',
].map((name) => `draw:${name}`);

export const openers: Readonly<Record<string, Opener>> = nullPrototype({
  'text:p': (reader, a) => reader.openParagraph(a, undefined),
  'text:h': (reader, a) => reader.openParagraph(a, Math.max(1, Number(a['text:outline-level'] ?? 1) || 1)),
  'text:span': (reader, a) => reader.openStyledSpan(a),
  'text:a': (reader, a) => reader.openLink(a),
  'text:s': (reader, a) => reader.addText(' '.repeat(Math.min(Number(a['text:c'] ?? 1) || 1, 10_000)), true),
  'text:tab': (reader) => reader.addText('\t', true),
  'text:line-break': (reader) => reader.addInline(lineBreak),
  'text:bookmark': (reader, a) => reader.openBookmark(a['text:name'] ?? ''),
  'text:bookmark-start': (reader, a) => reader.openBookmark(a['text:name'] ?? ''),
  'text:bookmark-end': (reader, a) => reader.closeBookmark(a['text:name'] ?? ''),
  'text:list': (reader, a) => reader.openList(a),
  'text:list-item': (reader, a) => reader.openItem(a),
  'text:list-header': (reader, a) => reader.openItem(a),
  'text:section': (reader) => void reader.tracker.open('group'),
  'text:index-body': (reader) => void reader.tracker.open('group'),
  'text:note': (reader) => reader.openNote(),
  'text:note-body': (reader) => reader.openNoteBody(),
  'table:table': (reader) => reader.openTable(),
  'table:table-column': (reader, a) => reader.table?.addColumn(a),
  'table:table-header-rows': (reader) => reader.table?.openHeader(),
  'table:table-row': (reader, a) => {
    reader.tracker.open('row');
    reader.table?.openRow(a);
  },
  'table:table-cell': (reader, a) => reader.openCell(a),
  'table:covered-table-cell': (reader) => reader.tieRow(),
  'draw:frame': (reader, a) => reader.openFrame(a),
  'draw:image': (reader, a) => reader.frame?.addImage(a),
  'draw:text-box': (reader) => reader.openStory(),
  'svg:title': (reader) => reader.frame?.openCaption(),
  'svg:desc': (reader) => reader.frame?.openCaption(),
  ...Object.fromEntries(shapes.map((name): [string, Opener] => [name, (reader) => reader.openStory()])),
});

type Closer = (reader: TextReader) => void;

export const closers: Readonly<Record<string, Closer>> = nullPrototype({
  'text:p': (reader) => reader.closeParagraph(),
  'text:h': (reader) => reader.closeParagraph(),
  'text:span': (reader) => reader.closeSpan(),
  'text:a': (reader) => reader.closeSpan(),
  'text:list': (reader) => reader.closeList(),
  'text:list-item': (reader) => reader.closeItem(),
  'text:list-header': (reader) => reader.closeItem(),
  'text:section': (reader) => void reader.tracker.close(),
  'text:index-body': (reader) => void reader.tracker.close(),
  'text:note': (reader) => reader.closeNote(),
  'text:note-body': (reader) => reader.closeNoteBody(),
  'table:table': (reader) => reader.closeTable(),
  'table:table-header-rows': (reader) => reader.table?.closeHeader(),
  'table:table-row': (reader) => {
    reader.tracker.close();
    reader.table?.closeRow();
  },
  'table:table-cell': (reader) => reader.closeCell(),
  'draw:frame': (reader) => reader.closeFrame(),
  'draw:text-box': (reader) => reader.closeTextBox(),
  'svg:title': (reader) => reader.frame?.closeCaption(),
  'svg:desc': (reader) => reader.frame?.closeCaption(),
  ...Object.fromEntries(shapes.map((name): [string, Closer] => [name, (reader) => reader.closeTextBox()])),
});
