import type { Fragment } from '../../../places/index.ts';
import { NoteCounter, type Outline, type ReadTools, type Source, type Taken } from '../../format.ts';
import type { Zip } from '../../package/zip.ts';
import { outlinePackaged, type PackagedProse, type ProseRequest, takeProse } from '../../read-prose.ts';
import { scanXml, scanXmlText } from '../../xml/scan-xml.ts';
import { contentPart, namespaces, openOdf, readOdfPart } from '../package.ts';
import { StyleBook } from '../styles.ts';
import { TextReader } from './text-reader.ts';

export const takeOdt = (source: Source, fragment: Fragment, tools?: ReadTools): Promise<Taken> =>
  takeProse((request) => readDocument(source, tools, request), fragment);

export const outlineOdt = (source: Source, tools?: ReadTools): Promise<Outline> =>
  outlinePackaged((request) => readDocument(source, tools, request), tools);

const readDocument = async (
  source: Source,
  tools: ReadTools | undefined,
  request: ProseRequest,
): Promise<PackagedProse> => readPackage(await openOdf(source, tools), { enough: tools?.enough, ...request });

/**
 * The document in one pass over its content, with no tree of it in memory. Its own styles stand in front of its text in the
 * same part, so one reader hears both.
 */
export async function readPackage(zip: Zip, { trace, interest, enough, source }: ProseRequest): Promise<PackagedProse> {
  const styles = new StyleBook();
  await readOdfPart(zip, 'styles.xml', styles);
  const notes = new NoteCounter();
  const reader = new TextReader({ styles, notes, interest, trace, enough, tells: source !== undefined });
  if (source) scanXmlText(source.text, contentPart, namespaces, reader);
  else {
    const entry = zip.find(contentPart);
    if (entry) await scanXml(zip.chunks(entry), contentPart, namespaces, reader);
  }
  const { language } = styles.plain.run;
  return {
    zip,
    blocks: reader.blocks,
    notes,
    ...(trace && { trace }),
    ...(language !== undefined && { language }),
  };
}
