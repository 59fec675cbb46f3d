import type { Block } from '../../../content/index.ts';
import type { Fragment } from '../../../places/index.ts';
import type { Outline, ReadTools, Source, Taken } from '../../format.ts';
import { NoteCounter } from '../../notes.ts';
import { outlineProse } from '../../outline-prose.ts';
import { partBytes, type Zip } from '../../package/zip.ts';
import { resolvePictures } from '../../pictures.ts';
import { type Interest, interestOf, selectProse } from '../../prose.ts';
import { Trace } from '../../trace.ts';
import { readXmlText } from '../../xml/read-xml.ts';
import { namespaces } from '../namespaces.ts';
import { contentPart, openOdf, readOdfPart } from '../package.ts';
import { StyleBook } from '../styles.ts';
import { TextReader } from './text-reader.ts';

export async function takeOdt(source: Source, fragment: Fragment, tools?: ReadTools): Promise<Taken> {
  const trace = fragment.kind === 'bookmark' ? new Trace() : undefined;
  const document = await readDocument(source, tools, { trace, interest: interestOf(fragment) });
  const { content: selected, place } = selectProse(document, fragment);
  const { content, media } = await resolvePictures(selected, (part) => partBytes(document.zip, part), document.notes);
  return {
    content,
    media,
    notes: document.notes.notes,
    ...(place !== undefined && { place }),
    ...(document.language !== undefined && { language: document.language }),
  };
}

export async function outlineOdt(source: Source, tools?: ReadTools): Promise<Outline> {
  const document = await readDocument(source, tools, { trace: new Trace() });
  return { entries: outlineProse(document, document.language), notes: document.notes.notes };
}

interface ReadDocument {
  readonly zip: Zip;
  readonly blocks: readonly Block[];
  readonly trace?: Trace;
  readonly notes: NoteCounter;
  readonly language?: string;
}

interface Asked {
  readonly trace?: Trace | undefined;
  readonly interest?: Interest | undefined;
  /** The text of the content part, where it is in memory already. */
  readonly text?: string;
}

/**
 * The document in one pass over its content, with no tree of it in memory. Its own styles stand in front of its text in the
 * same part, so one reader hears both.
 */
export async function readDocument(
  source: Source,
  tools: ReadTools | undefined,
  { trace, interest, text }: Asked,
): Promise<ReadDocument> {
  const zip = await openOdf(source, tools);
  const styles = new StyleBook();
  await readOdfPart(zip, 'styles.xml', styles);
  const notes = new NoteCounter();
  const reader = new TextReader({ styles, notes, interest, trace, tells: text !== undefined });
  if (text === undefined) await readOdfPart(zip, contentPart, reader);
  else readXmlText(text, contentPart, namespaces, reader);
  const { language } = styles.plain.run;
  return {
    zip,
    blocks: reader.blocks,
    notes,
    ...(trace && { trace }),
    ...(language !== undefined && { language }),
  };
}
