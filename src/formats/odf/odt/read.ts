import { NoteCounter, type ReadTools, type Source } from '../../format.ts';
import { partBytes, type Zip } from '../../package/zip.ts';
import type { ProseDocument, ProseRequest, ReadProse } from '../../prose-format.ts';
import type { DecodedText } from '../../text/encoding.ts';
import { scanXml, scanXmlText } from '../../xml/scan-xml.ts';
import { contentPart, namespaces, openOdf, readOdfPart } from '../package.ts';
import { StyleBook } from '../styles.ts';
import { TextReader } from './text-reader.ts';

export async function openOdt(source: Source, tools: ReadTools): Promise<ProseDocument> {
  const zip = await openOdf(source, tools);
  return { read: (request) => readPackage(zip, request), fetchPicture: (part) => partBytes(zip, part) };
}

/**
 * The document in one pass over its content, with no tree of it in memory. Its own styles stand in front of its text in the
 * same part, so one reader hears both.
 * @param source - the content part, where it is in memory already; a trace tells positions in it
 */
export async function readPackage(
  zip: Zip,
  { trace, sectionFilter, enough }: ProseRequest,
  source?: DecodedText,
): Promise<ReadProse> {
  const styles = new StyleBook();
  await readOdfPart(zip, 'styles.xml', styles);
  const notes = new NoteCounter();
  const reader = new TextReader({ styles, notes, sectionFilter, trace, enough, tells: source !== undefined });
  if (source) scanXmlText(source.text, contentPart, namespaces, reader);
  else {
    const entry = zip.find(contentPart);
    if (entry) await scanXml(zip.chunks(entry), contentPart, namespaces, reader);
  }
  return { blocks: reader.blocks, notes, trace, language: styles.plain.run.language };
}
