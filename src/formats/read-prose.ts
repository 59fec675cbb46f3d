import type { Block } from '../content/index.ts';
import type { Fragment } from '../places/index.ts';
import type { NoteCounter, Outline, ReadTools, Side, Taken } from './format.ts';
import { outlineProse } from './outline-prose.ts';
import { partBytes, type Zip } from './package/zip.ts';
import { resolvePictures } from './pictures.ts';
import { type Interest, interestOf, selectProse } from './prose.ts';
import type { DecodedText } from './text/encoding.ts';
import { Trace } from './trace.ts';

/** A document of a package as it was read: its text, and its pictures named by their parts. */
export interface PackagedProse {
  readonly zip: Zip;
  readonly blocks: readonly Block[];
  readonly notes: NoteCounter;
  readonly language?: string;
  readonly trace?: Trace;
}

/** What is asked of the reader of a document. */
export interface ProseRequest {
  readonly interest?: Interest | undefined;
  readonly trace?: Trace | undefined;
  /** After how many blocks reading may stop. */
  readonly enough?: number | undefined;
  /** The source of its text, where it is in memory already; then the trace tells where everything stands in it. */
  readonly source?: DecodedText;
}

type Read = (request: ProseRequest) => Promise<PackagedProse>;

/** What a place of a packaged document holds, read no further than the place needs. */
export async function takeProse(read: Read, fragment: Fragment): Promise<Taken> {
  const trace = fragment.kind === 'bookmark' ? new Trace() : undefined;
  const document = await read({ trace, interest: interestOf(fragment) });
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

/**
 * A document in memory as text, read for something to land at a place of it. Behind a section no more is kept than the
 * section, unless only what is elsewhere shows what a plain paragraph looks like.
 */
export async function readForLanding(
  read: Read,
  source: DecodedText,
  fragment: Fragment,
  side: Side | undefined,
): Promise<PackagedProse & { readonly trace: Trace }> {
  const readWith = async (interest: Interest | undefined) => {
    const trace = new Trace();
    return { ...(await read({ source, interest, trace })), trace };
  };
  const interest = side === undefined || side === 'after' || side === 'end' ? interestOf(fragment) : undefined;
  const prose = await readWith(interest);
  const isPlain = (block: Block): boolean => block.type === 'paragraph' && block.inlines.length > 0;
  return interest && !prose.blocks.some(isPlain) ? readWith(undefined) : prose;
}

export async function outlinePackaged(read: Read, tools?: ReadTools): Promise<Outline> {
  const document = await read({ trace: new Trace() });
  return { entries: outlineProse(document, document.language, tools), notes: document.notes.notes };
}
