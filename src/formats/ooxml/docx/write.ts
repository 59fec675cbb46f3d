import type { Element } from 'xast';
import { asBlocks, type Content, type Footnote } from '../../../content/index.ts';
import { sourceOf } from '../../format.ts';
import { pack, replaceParts } from '../../package/replace.ts';
import { openZip } from '../../package/zip.ts';
import { pictureTypes } from '../../pictures.ts';
import type { ProseWriting } from '../../prose-format.ts';
import { x } from '../../xml/element.ts';
import { xmlPart, xmlText } from '../../xml/write-xml.ts';
import { numberingPart, stylesPart } from './styles-part.ts';
import { type StoryWriter, writeBlocks } from './write-blocks.ts';
import { type Page, PartRelationships, pageFor, twips, WriteState } from './write-state.ts';

export const wordNamespaces: Record<string, string> = {
  'xmlns:w': 'http://schemas.openxmlformats.org/wordprocessingml/2006/main',
  'xmlns:r': 'http://schemas.openxmlformats.org/officeDocument/2006/relationships',
  'xmlns:wp': 'http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing',
  'xmlns:a': 'http://schemas.openxmlformats.org/drawingml/2006/main',
  'xmlns:pic': 'http://schemas.openxmlformats.org/drawingml/2006/picture',
  'xmlns:mc': 'http://schemas.openxmlformats.org/markup-compatibility/2006',
  'xmlns:w14': 'http://schemas.microsoft.com/office/word/2010/wordml',
  'mc:Ignorable': 'w14',
};

/** A new document (ISO/IEC 29500 Transitional) with styles that its reader can change. */
export async function writeDocx(
  content: Content,
  { media, language = 'en-GB', title }: ProseWriting,
): Promise<Uint8Array> {
  const state = new WriteState(media, wordNamespaces);
  const page = pageFor(language);
  const body = new PartRelationships();
  const notes = new PartRelationships();
  for (const part of ['styles', 'numbering', 'settings', 'footnotes']) body.add(part, `${part}.xml`);
  const noteStory: StoryWriter = { state, page, relationships: notes, writeFootnote: () => x('w:r') };
  const story: StoryWriter = {
    state,
    page,
    relationships: body,
    isFinal: true,
    writeFootnote: (footnote) => writeFootnote(state, noteStory, footnote),
  };
  const blocks = writeBlocks(story, asBlocks(content));
  const document = x(
    'w:document',
    wordNamespaces,
    x('w:body', {}, [...blocks, ...closing(blocks.at(-1)), sectionProperties(page)]),
  );
  const parts = new Map<string, Uint8Array>([
    ['[Content_Types].xml', xmlPart(contentTypes)],
    ['_rels/.rels', xmlPart(packageRelationships())],
    ['docProps/core.xml', xmlPart(coreProperties(title, language))],
    ['word/_rels/document.xml.rels', xmlPart(body.element)],
    ['word/styles.xml', xmlPart(stylesPart(wordNamespaces, language, [...state.customStyles.values()]))],
    ['word/numbering.xml', xmlPart(numberingPart(wordNamespaces, state.lists))],
    ['word/settings.xml', xmlPart(settings(language))],
    ['word/footnotes.xml', xmlPart(footnotesPart(state.footnotes))],
    ['word/_rels/footnotes.xml.rels', xmlPart(notes.element)],
  ]);
  for (const [part, bytes] of state.pictureParts) parts.set(`word/${part}`, bytes);
  const around = sourceOf(pack(parts), 'new.docx');
  return replaceParts(around, await openZip(around), new Map([['word/document.xml', xmlPart(document)]]));
}

/** A body that ends with a table needs a paragraph behind it, or the table could not be left by the caret. */
const closing = (last: Element | undefined): Element[] =>
  last === undefined || last.name === 'w:tbl' ? [x('w:p')] : [];

const sectionProperties = ({ width, height, margin }: Page): Element => {
  const [side, nothing] = [twips(margin), '0'];
  return x('w:sectPr', {}, [
    x('w:pgSz', { 'w:w': twips(width), 'w:h': twips(height) }),
    x('w:pgMar', {
      'w:top': side,
      'w:right': side,
      'w:bottom': side,
      'w:left': side,
      'w:header': twips(36),
      'w:footer': twips(36),
      'w:gutter': nothing,
    }),
  ]);
};

export function writeFootnote(state: WriteState, story: StoryWriter, { blocks }: Footnote): Element {
  const elements = writeBlocks(story, blocks.length === 0 ? [{ type: 'paragraph', inlines: [] }] : blocks, {
    depth: 0,
    style: 'FootnoteText',
  });
  addNoteSign(elements);
  const id = state.footnotes.push(elements);
  return x('w:r', {}, [
    x('w:rPr', {}, x('w:rStyle', { 'w:val': 'FootnoteReference' })),
    x('w:footnoteReference', { 'w:id': String(id) }),
  ]);
}

/** The note's own number goes before its first words (17.11.13); a note that starts otherwise gets a paragraph for it. */
function addNoteSign(elements: Element[]): void {
  const sign = x('w:r', {}, [x('w:rPr', {}, x('w:rStyle', { 'w:val': 'FootnoteReference' })), x('w:footnoteRef')]);
  const space = x('w:r', {}, x('w:t', { 'xml:space': 'preserve' }, ' '));
  const [first] = elements;
  if (first?.name !== 'w:p') {
    elements.unshift(x('w:p', {}, x('w:pPr', {}, x('w:pStyle', { 'w:val': 'FootnoteText' })), sign));
    return;
  }
  const [properties] = first.children;
  first.children.splice(properties?.type === 'element' && properties.name === 'w:pPr' ? 1 : 0, 0, sign, space);
}

const separator = (id: string, type: string, line: string): Element =>
  x('w:footnote', { 'w:type': type, 'w:id': id }, x('w:p', {}, x('w:r', {}, x(line))));

export const footnotesPart = (footnotes: readonly Element[][], namespaces = wordNamespaces): Element =>
  x('w:footnotes', namespaces, [
    separator('-1', 'separator', 'w:separator'),
    separator('0', 'continuationSeparator', 'w:continuationSeparator'),
    ...footnotes.map((elements, index) => x('w:footnote', { 'w:id': String(index + 1) }, elements)),
  ]);

const settings = (language: string): Element =>
  x('w:settings', wordNamespaces, [
    x('w:footnotePr', {}, [x('w:footnote', { 'w:id': '-1' }), x('w:footnote', { 'w:id': '0' })]),
    x(
      'w:compat',
      {},
      x('w:compatSetting', {
        'w:name': 'compatibilityMode',
        'w:uri': 'http://schemas.microsoft.com/office/word',
        'w:val': '15',
      }),
    ),
    x('w:themeFontLang', { 'w:val': language }),
  ]);

const wordType = 'application/vnd.openxmlformats-officedocument.wordprocessingml';
const contentTypes = x('Types', { xmlns: 'http://schemas.openxmlformats.org/package/2006/content-types' }, [
  ...Object.entries({
    rels: 'application/vnd.openxmlformats-package.relationships+xml',
    xml: 'application/xml',
    ...pictureTypes,
  }).map(([Extension, ContentType]) => x('Default', { Extension, ContentType })),
  x('Override', {
    PartName: '/docProps/core.xml',
    ContentType: 'application/vnd.openxmlformats-package.core-properties+xml',
  }),
  x('Override', { PartName: '/word/document.xml', ContentType: `${wordType}.document.main+xml` }),
  ...['styles', 'numbering', 'settings', 'footnotes'].map((part) =>
    x('Override', { PartName: `/word/${part}.xml`, ContentType: `${wordType}.${part}+xml` }),
  ),
]);

function packageRelationships(): Element {
  const relationships = new PartRelationships();
  relationships.add('officeDocument', 'word/document.xml');
  relationships.add(
    'http://schemas.openxmlformats.org/package/2006/relationships/metadata/core-properties',
    'docProps/core.xml',
  );
  return relationships.element;
}

const coreProperties = (title: string | undefined, language: string): Element =>
  x(
    'cp:coreProperties',
    {
      'xmlns:cp': 'http://schemas.openxmlformats.org/package/2006/metadata/core-properties',
      'xmlns:dc': 'http://purl.org/dc/elements/1.1/',
    },
    [...(title === undefined ? [] : [x('dc:title', {}, xmlText(title))]), x('dc:language', {}, language)],
  );
