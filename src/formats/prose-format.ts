import { type Content, type Media, noMedia } from '../content/index.ts';
import type { Fragment, TextPositionFragment } from '../places/index.ts';
import { capabilities } from './capabilities.ts';
import { checkedInsert, checkedRemove, checkedWrite, cleaned } from './checked-change.ts';
import type {
  Excerpt,
  Format,
  FormatName,
  Insertion,
  NoteCounter,
  Outline,
  ReadTools,
  Source,
  WriteOptions,
} from './format.ts';
import type { InsertGrammar, TracedProse } from './insertion-grammar.ts';
import { resolvePictures } from './pictures.ts';
import { notOffered, type Prose, type SectionFilter, sectionFilterOf, selectProse } from './prose.ts';
import { outlineProse } from './read-prose.ts';
import type { Grammar } from './removal.ts';
import type { DecodedText } from './text/encoding.ts';
import type { TextEdit } from './text-edits.ts';
import { type Extent, Trace } from './trace.ts';

/**
 * The codec of a format for running text. `proseFormat` builds outlining, reading, removing and inserting on it.
 */
export interface ProseCodec<N extends FormatName = FormatName> {
  readonly name: N;
  /** Opens a document for reading. @throws DrawerError `unreadable`, `too-large` */
  open(source: Source, tools: ReadTools): Promise<ProseDocument>;
  /** Opens a document for editing. @throws DrawerError as `open`; `unsupported` where it must not be changed */
  edit(source: Source, tools: ReadTools): Promise<EditableProse>;
  /** The bytes of a new document; the content is valid. */
  write(content: Content, options: ProseWriting): Promise<Uint8Array>;
}

/** A request to the reader of a document. */
export interface ProseRequest {
  /** Keep only the sections that these headings start. */
  readonly sectionFilter?: SectionFilter | undefined;
  /** A trace to fill in with source positions. */
  readonly trace?: Trace | undefined;
  /** Reading may stop after this number of blocks. */
  readonly enough?: number | undefined;
  /** Whether the text is read for an outline. */
  readonly outlines?: boolean;
}

/** A text that was read; its pictures are named by their addresses in the document. */
export interface ReadProse extends Prose {
  readonly notes: NoteCounter;
  readonly title?: string;
  readonly url?: string;
  /** The content to return, if the document says more about it than its blocks can. */
  refine?(content: Content, fragment: Fragment): Pick<Excerpt, 'content' | 'secret'>;
}

/** A document open for reading. */
/** Options for writing a new text. */
export type ProseWriting = WriteOptions & Required<Pick<WriteOptions, 'media'>>;

export interface ProseDocument {
  /** Reads the text as far as requested. */
  read(request: ProseRequest): Promise<ReadProse>;
  /** The lines or characters named by a place of RFC 5147; absent if the format has no such places. */
  readPosition?(fragment: TextPositionFragment): Promise<Pick<Excerpt, 'content' | 'place'> & { notes: NoteCounter }>;
  /** The bytes of the picture at an address in the text; `undefined` if there is none. */
  fetchPicture(address: string): Promise<Uint8Array | undefined>;
  /** The outline, if it differs from that of `outlineProse`. */
  outline?(): Promise<Outline>;
}

/** A document open for editing, as source with traced positions. */
export interface EditableProse {
  readonly source: DecodedText;
  /** All of its bytes, if lines and characters are places of the format (RFC 5147). */
  readonly bytes?: Uint8Array;
  readonly grammar: Grammar;
  /** Reads the source, whole or in part; a trace receives the positions. */
  read(request: ProseRequest): Promise<ReadProse>;
  /** The range from the end of the text to the end of the source. */
  end(): Extent;
  /** Writes content in this document's markup. */
  landing(prose: TracedProse, insertion: Insertion): Promise<ProseLanding>;
  /** Further edits that a removal needs. */
  mend?(edits: readonly TextEdit[]): readonly TextEdit[];
  /** The document's bytes with an edited source. */
  save(source: string): Promise<Uint8Array>;
}

export interface ProseLanding extends InsertGrammar {
  /** Source of blocks inside a bookmark; absent if the format has none. Words are put into the insertion's own by `words`. */
  bookmarked?(source: string, name: string): string;
  /** The edits that remove a bookmark and leave its content. */
  withoutBookmark?(name: string): readonly TextEdit[];
  /** Completes the edited source: adds footnote texts, styles and the like at their own places. */
  finish?(edited: string): string;
}

type ProseFormat<N extends FormatName> = Required<
  Pick<Format, 'outline' | 'read' | 'remove' | 'insert' | 'checkMayChange' | 'write'>
> & { readonly name: N };

/** Makes a format for running text from its codec. Editing code is loaded when first used. */
export function proseFormat<N extends FormatName>(codec: ProseCodec<N>): ProseFormat<N> {
  const read: Format['read'] = async (source, fragment, tools = {}) =>
    readDocument(codec.name, await codec.open(source, tools), fragment, tools);
  const editing = () => import('./edit-prose.ts');
  return {
    name: codec.name,
    outline: (source, tools = {}) => outlineDocument(codec, source, tools),
    read,
    remove: checkedRemove(
      async (source, fragments, tools = {}) => (await editing()).removeProse(codec, source, fragments, tools),
      read,
    ),
    insert: checkedInsert(
      async (source, fragment, insertion, tools = {}) =>
        (await editing()).insertProse(codec, source, fragment, insertion, tools),
      read,
    ),
    checkMayChange: async (source, _, tools = {}) => void (await codec.edit(source, tools)),
    write: (content, options = {}) => checkedWrite(content, () => codec.write(content, { media: noMedia, ...options })),
  };
}

/** Whether a place names lines or characters (RFC 5147). */
export const isPosition = (fragment: Fragment): fragment is TextPositionFragment =>
  fragment.kind === 'line' || fragment.kind === 'char';

/** The content of a place, reading no further than needed. */
export const readDocument = async (
  name: FormatName,
  document: ProseDocument,
  fragment: Fragment,
  tools: ReadTools,
): Promise<Excerpt> => cleaned(await readRaw(name, document, fragment, tools));

async function readRaw(
  name: FormatName,
  document: ProseDocument,
  fragment: Fragment,
  tools: ReadTools,
): Promise<Excerpt> {
  if (isPosition(fragment) && document.readPosition) {
    const { content, notes, place } = await document.readPosition(fragment);
    return { ...(await withPictures(document, content, notes)), ...(place !== undefined && { place }) };
  }
  const trace = fragment.kind === 'bookmark' ? new Trace() : undefined;
  const prose = await document.read({ trace, sectionFilter: sectionFilterOf(fragment), enough: tools.enough });
  if (!capabilities[name].places.includes(fragment.kind)) throw notOffered(prose.blocks, fragment);
  const selected = selectProse(prose, fragment);
  const { place, content: plain } = selected;
  const { content, secret }: Pick<Excerpt, 'content' | 'secret'> = prose.refine?.(plain, fragment) ?? {
    content: plain,
  };
  return {
    ...(await withPictures(document, content, prose.notes)),
    ...(place !== undefined && { place }),
    ...(prose.title && { title: prose.title }),
    ...(prose.url && { url: prose.url }),
    ...(prose.language && { language: prose.language }),
    ...(secret && { secret }),
  };
}

async function withPictures(
  document: ProseDocument,
  named: Content,
  notes: NoteCounter,
): Promise<{ content: Content; media: Media; notes: Excerpt['notes'] }> {
  const { content, media } = await resolvePictures(named, (address) => document.fetchPicture(address), notes);
  return { content, media, notes: notes.notes };
}

async function outlineDocument(codec: ProseCodec, source: Source, tools: ReadTools): Promise<Outline> {
  const document = await codec.open(source, tools);
  if (document.outline) return document.outline();
  const prose = await document.read({ trace: new Trace(), enough: tools.enough, outlines: true });
  return { entries: outlineProse(prose, prose.language, tools), notes: prose.notes.notes };
}
