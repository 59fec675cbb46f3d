import { DrawerError, plainText } from '../content/index.ts';
import type { Fragment } from '../places/index.ts';
import { checkBookmarkName } from './capabilities.ts';
import type { Inserted, Insertion, ReadTools, Removed, Source } from './format.ts';
import { insertionEdits, type ProseInsertion } from './insertion.ts';
import type { InsertGrammar } from './insertion-grammar.ts';
import { type SectionFilter, sectionFilterOf } from './prose.ts';
import { type EditableProse, isPosition, type ProseCodec, type ProseLanding, type ReadProse } from './prose-format.ts';
import { placeRemoval } from './removal.ts';
import { positionEdit, positionsOf } from './text/positions.ts';
import { applyEdits } from './text-edits.ts';
import { Trace } from './trace.ts';

/** The document with content at a place; all else in its source stays as it was. */
export async function insertProse(
  codec: ProseCodec,
  source: Source,
  fragment: Fragment,
  insertion: Insertion,
  tools: ReadTools,
): Promise<Inserted> {
  const document = await codec.edit(source, tools);
  const { text } = document.source;
  const { bytes } = document;
  if (bytes && isPosition(fragment)) {
    const { edits, ...landed } = positionEdit(text, fragment, insertion.side, bytes, plainText(insertion.content));
    return { ...landed, bytes: await document.save(applyEdits(text, edits)) };
  }
  const { edited, ...landed } = await insertedSource(document, fragment, insertion);
  return { ...landed, bytes: await document.save(edited) };
}

/** The source of an open document with content at a place. */
export async function insertedSource(
  document: EditableProse,
  fragment: Fragment,
  insertion: Insertion,
): Promise<Omit<ProseInsertion, 'edits'> & { readonly edited: string }> {
  const { text } = document.source;
  const prose = await readAround(document, fragment, insertion);
  const { start, end } = document.end();
  prose.trace.root.close(start, end);
  const landing = await document.landing(prose, insertion);
  const { bookmark } = insertion;
  const grammar = bookmark === undefined ? landing : bookmarking(landing, bookmark);
  const { edits, ...landed } = insertionEdits(text, prose, fragment, insertion, grammar);
  const old = bookmark === undefined ? [] : (landing.withoutBookmark?.(bookmark) ?? []);
  const edited = applyEdits(text, [...edits, ...old]);
  return { ...landed, edited: landing.finish?.(edited) ?? edited };
}

/** A grammar that leaves a bookmark around what lands. @throws DrawerError `unsupported` where it cannot */
function bookmarking(landing: ProseLanding, name: string): InsertGrammar {
  checkBookmarkName(name);
  let count = 0;
  // Several cells cannot lie in one bookmark, and items of a list have no place for one in every format.
  const check = (): NonNullable<ProseLanding['bookmarked']> => {
    if (landing.bookmarked && count++ === 0) return landing.bookmarked.bind(landing);
    throw new DrawerError('unsupported/bookmark-not-here');
  };
  const { remains, remainsInside, emptyParagraph, mustStay, locate, keepSpaces, reach } = landing;
  return {
    ...{ remains, remainsInside, emptyParagraph, mustStay, locate, keepSpaces, reach },
    blocks: (blocks, spot, source) => {
      if (spot.list) throw new DrawerError('unsupported/bookmark-not-here');
      const bookmarked = check();
      const edit = landing.blocks(blocks, spot, source);
      return { ...edit, replacement: bookmarked(edit.replacement, name) };
    },
    // Only the format knows what of an edit are the words.
    words: (inlines, spot, source) => {
      check();
      return landing.words(inlines, spot, source);
    },
    part: (spot, source) => landing.part(spot, source),
  };
}

/**
 * Behind a section no more is kept than the section, unless only what is elsewhere shows what a plain paragraph looks like.
 */
async function readAround(
  document: EditableProse,
  fragment: Fragment,
  { side }: Insertion,
): Promise<ReadProse & { readonly trace: Trace }> {
  const readWith = async (sectionFilter: SectionFilter | undefined) => {
    const trace = new Trace();
    return { ...(await document.read({ sectionFilter, trace })), trace };
  };
  const sectionFilter =
    side === undefined || side === 'after' || side === 'end' ? sectionFilterOf(fragment) : undefined;
  const prose = await readWith(sectionFilter);
  const hasPlain = prose.blocks.some((block) => block.type === 'paragraph' && block.inlines.length > 0);
  return sectionFilter && !hasPlain ? readWith(undefined) : prose;
}

/** The document without places; all else in its source stays as it was. */
export async function removeProse(
  codec: ProseCodec,
  source: Source,
  fragments: readonly Fragment[],
  tools: ReadTools,
): Promise<Removed> {
  const document = await codec.edit(source, tools);
  const { text } = document.source;
  const { bytes } = document;
  const positions = bytes ? fragments.filter(isPosition).map((fragment) => positionsOf(text, fragment, bytes)) : [];
  const places = bytes ? fragments.filter((fragment) => !isPosition(fragment)) : fragments;
  const trace = new Trace();
  const prose = { ...(await document.read({ trace })), trace };
  const edits = [
    ...positions.map(({ start, end }) => ({ start, end, replacement: '' })),
    ...placeRemoval(text, prose, places, document.grammar),
  ];
  return { bytes: await document.save(applyEdits(text, [...edits, ...(document.mend?.(edits) ?? [])])), notes: [] };
}
