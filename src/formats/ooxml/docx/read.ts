import { type Block, DrawerError } from '../../../content/index.ts';
import { Budget } from '../../bounds.ts';
import { NoteCounter, type ReadTools, type Source } from '../../format.ts';
import { checkUnsigned } from '../../package/package-edit.ts';
import { partBytes, type Zip } from '../../package/zip.ts';
import type { ProseDocument, ProseRequest, ReadProse } from '../../prose-format.ts';
import type { DecodedText } from '../../text/encoding.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { scanXml, scanXmlText } from '../../xml/scan-xml.ts';
import {
  namespaces,
  type OpcPackage,
  openPackage,
  type Relationships,
  readPart,
  readRelationships,
  relatedPart,
} from '../opc.ts';
import { readTheme } from '../theme.ts';
import { BodyReader } from './body.ts';
import { readNumbering } from './numbering.ts';
import type { BodyContext } from './paragraph.ts';
import { readStyles } from './styles.ts';

export async function openDocx(source: Source, tools: ReadTools): Promise<ProseDocument> {
  const opened = await openPackage(source, tools);
  return {
    read: (request) => readPackage(opened, request),
    fetchPicture: (part) => partBytes(opened.zip, part),
  };
}

/**
 * The document in one pass over its main part, with no tree of it in memory. Pictures are named by their parts.
 * @param source - the main part, where it is in memory already; a trace tells positions in it
 */
export async function readPackage(
  { zip, main }: OpcPackage,
  { trace, sectionFilter, enough }: ProseRequest,
  source?: DecodedText,
): Promise<ReadProse> {
  const relationships = await readRelationships(zip, main);
  const notes = new NoteCounter();
  const theme = await readTheme(zip, relatedPart(zip, relationships, 'theme'));
  const styles = await readStyles(zip, relatedPart(zip, relationships, 'styles'), theme);
  const context: Omit<BodyContext, 'footnote' | 'relationships'> = {
    styles,
    numbering: await readNumbering(zip, relatedPart(zip, relationships, 'numbering'), styles.findNumbering),
    notes,
    budget: new Budget(),
  };
  const footnotes = {
    footnote: await readNotes(zip, relationships, 'footnote', context),
    endnote: await readNotes(zip, relationships, 'endnote', context),
  };
  const reader = new BodyReader(
    { ...context, relationships, footnote: (id, kind) => footnotes[kind].get(id) },
    { sectionFilter, trace, enough, tells: source !== undefined },
  );
  if (source) scanXmlText(source.text, main, namespaces, reader);
  else {
    const entry = zip.find(main);
    if (entry) await scanXml(zip.chunks(entry), main, namespaces, reader);
  }
  return { blocks: reader.blocks, notes, trace, language: styles.plain.run.language };
}

/** The notes of the footnotes or endnotes part by their ids; separators (17.11.23) are not notes. */
async function readNotes(
  zip: Zip,
  relationships: Relationships,
  kind: 'footnote' | 'endnote',
  context: Omit<BodyContext, 'footnote' | 'relationships'>,
): Promise<ReadonlyMap<string, readonly Block[]>> {
  const found = new Map<string, readonly Block[]>();
  const part = relatedPart(zip, relationships, `${kind}s`);
  if (part === undefined) return found;
  const own = await readRelationships(zip, part);
  let reader: BodyReader | undefined;
  let id: string | undefined;
  const handler: XmlHandler = {
    open(name: string, attributes: Attributes) {
      if (name !== `w:${kind}`) reader?.open(name, attributes);
      else if (attributes['w:type'] === undefined || attributes['w:type'] === 'normal') {
        id = attributes['w:id'];
        reader = new BodyReader({ ...context, relationships: own, footnote: () => undefined });
      }
    },
    close(name) {
      if (name !== `w:${kind}`) return reader?.close(name);
      if (reader && id !== undefined) found.set(id, withoutLeadingSpace(reader.blocks));
      reader = undefined;
    },
    text: (words) => reader?.text(words),
  };
  await readPart(zip, part, namespaces, handler);
  return found;
}

/** Programs part a note's number from its words by a space or tab, which is not one of its words. */
function withoutLeadingSpace(blocks: readonly Block[]): readonly Block[] {
  const [first, ...rest] = blocks;
  if (first?.type !== 'paragraph') return blocks;
  const [start, ...others] = first.inlines;
  if (start?.type !== 'text' || !/^[ \t]/.test(start.text)) return blocks;
  const words = start.text.replace(/^[ \t]/, '');
  return [{ ...first, inlines: words === '' ? others : [{ ...start, text: words }, ...others] }, ...rest];
}

/**
 * Refuses a document that nobody wants changed: a signed one, or one that is protected (ISO/IEC 29500-1, 17.15.1.29). One
 * that is protected but for its form fields may be filled.
 * @throws DrawerError `unsupported`
 */
export async function checkMayChange({ zip, main }: OpcPackage, { fills = false } = {}): Promise<void> {
  checkUnsigned(zip);
  const part = relatedPart(zip, await readRelationships(zip, main), 'settings');
  let protection: Attributes = {};
  await readPart(zip, part, namespaces, {
    open: (name, attributes) => {
      if (name === 'w:documentProtection') protection = attributes;
    },
    close: () => {},
  });
  const { 'w:enforcement': enforced = '0', 'w:edit': edit } = protection;
  if (!/^(?:1|true|on)$/.test(enforced) || (fills && edit === 'forms')) return;
  throw new DrawerError('unsupported/document-protected');
}
