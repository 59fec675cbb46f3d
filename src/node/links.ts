import { basename } from 'node:path';
import * as v from 'valibot';
import { asBlocks, type Content, DrawerError, type Media } from '../content/index.ts';
import type { Change, Drawer, FileAction, Listed, Renewal, Renewed, Snippet, SnippetSummary } from '../drawer/index.ts';
import {
  capabilities,
  type Format,
  type FormatEntry,
  findFormatByName,
  formatNamed,
  formatOf,
  type Insertion,
  mediaHash,
  readAll,
  type Source,
  sourceOf,
} from '../formats/index.ts';
import type { Place } from '../places/index.ts';
import { exists, openFile } from './files.ts';
import { nodeTools } from './inflate.ts';
import { type PasteRequest, type PasteResult, planPaste } from './paste.ts';
import { findRenewals, type RenewalOptions } from './renew.ts';

/** Snippets keep their links here, by the names of the bookmarks. */
const metaName = 'drawer:links';
const bookmarkLead = 'Drawer_';

/** A linked part as it was pasted last: the name of the file, and digests of what it held and of the snippet's content. */
type Link = v.InferOutput<typeof linkSchema>;
const linkSchema = v.object({ file: v.string(), landed: v.string(), of: v.string() });
const linksSchema = v.record(v.string(), linkSchema);

/** The links of a snippet; none where somebody else's program wrote something there. */
function linksOf({ meta }: Pick<SnippetSummary, 'meta'>): Readonly<Record<string, Link>> {
  const read = v.safeParse(linksSchema, meta?.[metaName]);
  return read.success ? read.output : {};
}

/** Hashes values, or words with structure and emphasis. Formatting is ignored, since programs rewrite it when they save. */
async function digestOf(content: Content): Promise<string> {
  if (content.shape === 'cells') {
    const values = content.rows.map((row) =>
      row.map((cell) => (cell.type === 'empty' ? null : [cell.type, cell.value])),
    );
    return mediaHash(new TextEncoder().encode(JSON.stringify([values, content.gaps])));
  }
  const { write } = await formatNamed('markdown').load();
  const bytes = await write?.(content, { pictureAddress: ({ media }) => media });
  return mediaHash(bytes ?? new Uint8Array());
}

/** Content as blocks, so that a bookmark of a text can enclose it. */
const inBlocks = (content: Content): Content => ({ shape: 'blocks', blocks: asBlocks(content) });

/** Whether a file is a workbook, in which content lands unchanged; of a new file, by its name. */
async function isWorkbook(file: string): Promise<boolean> {
  const entry = (await exists(file)) ? await formatOfFile(file) : findFormatByName(file);
  return entry !== undefined && capabilities[entry.name].places.includes('cells');
}

async function formatOfFile(file: string): Promise<FormatEntry> {
  const source = await openFile(file);
  try {
    return await formatOf(source);
  } finally {
    await source.close();
  }
}

/** How linked snippets land. */
export type LinkedInsertion = Pick<Insertion, 'style' | 'side' | 'author' | 'date' | 'over'>;

/** A request for each snippet, one behind the other, each inside a bookmark of its own. */
export async function linkedRequests(
  drawer: Pick<Drawer, 'mediaOf'>,
  snippets: readonly Snippet[],
  place: Place,
  insertion: LinkedInsertion,
): Promise<readonly PasteRequest[]> {
  const isSheet = await isWorkbook(place.file);
  const requests: PasteRequest[] = [];
  for (const { content } of snippets) {
    const previous = requests.at(-1)?.insertion.bookmark;
    requests.push({
      place: previous === undefined ? place : { ...place, fragment: { kind: 'bookmark', name: previous } },
      insertion: {
        ...insertion,
        ...(previous !== undefined && { side: 'after' }),
        content: isSheet ? content : inBlocks(content),
        media: await drawer.mediaOf(content),
        bookmark: `${bookmarkLead}${crypto.randomUUID().replaceAll('-', '').slice(0, 12)}`,
      },
    });
  }
  return requests;
}

type Rewrite = Change & { readonly type: 'rewrite' };

/** The changes that keep links with their snippets, for the action that writes the files; `landed` in the order of the snippets. */
export async function linkChanges(
  snippets: readonly Snippet[],
  landed: readonly Pick<PasteResult, 'file' | 'bookmarked'>[],
): Promise<readonly Rewrite[]> {
  const changed = new Map<string, Snippet>();
  for (const [index, { file, bookmarked }] of landed.entries()) {
    const named = snippets[index % snippets.length];
    if (!named || !bookmarked) continue;
    const snippet = changed.get(named.id) ?? named;
    const link: Link = {
      file: basename(file),
      landed: await digestOf(bookmarked.content),
      of: await digestOf(named.content),
    };
    const links = { ...linksOf(snippet), [bookmarked.name]: link };
    changed.set(named.id, { ...snippet, meta: { ...snippet.meta, [metaName]: links } });
  }
  return [...changed.values()].map((snippet) => ({ type: 'rewrite', snippet }));
}

/** A linked part of a file, compared with its snippet and the snippet's source. */
export type LinkedPart = { readonly file: string; readonly bookmark: string } & (
  | { readonly kind: 'same'; readonly listed: Listed }
  | {
      readonly kind: 'changed';
      readonly listed: Listed;
      /** What the file holds, and what it is to hold. */
      readonly was: Content;
      readonly content: Content;
      readonly media: Media;
      /** Whether the snippet itself is behind its source too. */
      readonly isSnippetOld: boolean;
    }
  /** It is left as it is: of another drawer, edited in the file or gone from it, or its source does not say what it is now. */
  | { readonly kind: 'unknown'; readonly listed?: Listed; readonly problem: DrawerError }
);

/**
 * Finds the linked parts of files and compares each with its snippet and the snippet's source, without changing anything.
 * @param ids - only the parts of these snippets; all without it
 */
export async function findLinkedParts(
  drawer: Drawer,
  files: readonly string[],
  options: RenewalOptions & { readonly ids?: ReadonlySet<string> | undefined } = {},
): Promise<readonly LinkedPart[]> {
  const owners = new Map<string, Listed>();
  for (const listed of await drawer.select(['all']))
    for (const name of Object.keys(linksOf(listed.summary))) owners.set(name, listed);
  const held: { file: string; bookmark: string; listed: Listed | undefined; was: Content | undefined }[] = [];
  for (const file of files) {
    const found = new Map((await bookmarkedIn(file)).map(({ name, content }) => [name, content]));
    const lost = [...owners].filter(([name, { summary }]) => linksOf(summary)[name]?.file === basename(file));
    for (const bookmark of new Set([...found.keys(), ...lost.map(([name]) => name)])) {
      const listed = owners.get(bookmark);
      if (!options.ids || (listed && options.ids.has(listed.summary.id)))
        held.push({ file, bookmark, listed, was: found.get(bookmark) });
    }
  }
  // A snippet may be linked in several places; its source is read once.
  const owned = new Map(held.flatMap(({ listed, was }) => (listed && was ? [[listed.summary.id, listed]] : [])));
  const renewals = new Map(
    (await findRenewals(drawer, [...owned.values()], options)).map((each) => [each.summary.id, each]),
  );
  return Promise.all(
    held.map(async ({ file, bookmark, listed, was }): Promise<LinkedPart> => {
      const part = { file, bookmark };
      if (!listed) return { ...part, kind: 'unknown', problem: new DrawerError('refused/link-unknown') };
      const renewal = renewals.get(listed.summary.id);
      if (!was || !renewal) return { ...part, kind: 'unknown', listed, problem: new DrawerError('refused/link-lost') };
      return { ...part, ...(await compared(drawer, listed, linksOf(listed.summary)[bookmark], was, renewal)) };
    }),
  );
}

type Compared = LinkedPart extends infer Part
  ? Part extends LinkedPart
    ? Omit<Part, 'file' | 'bookmark'>
    : never
  : never;

async function compared(
  drawer: Drawer,
  listed: Listed,
  link: Link | undefined,
  was: Content,
  renewal: Renewal,
): Promise<Compared> {
  if ((await digestOf(was)) !== link?.landed)
    return { kind: 'unknown', listed, problem: new DrawerError('refused/link-edited') };
  const isSnippetOld = renewal.kind === 'changed';
  const { content } = isSnippetOld ? renewal : await drawer.get(listed.summary.id);
  if ((await digestOf(content)) !== link.of) {
    const media = isSnippetOld ? renewal.media : await drawer.mediaOf(content);
    return { kind: 'changed', listed, was, content, media, isSnippetOld };
  }
  return renewal.kind === 'unknown' ? { kind: 'unknown', listed, problem: renewal.problem } : { kind: 'same', listed };
}

/** The linked parts of a file and what they hold. */
async function bookmarkedIn(file: string): Promise<readonly { readonly name: string; readonly content: Content }[]> {
  const source = await openFile(file);
  try {
    const bytes = await readAll(source);
    const whole = sourceOf(bytes, basename(file));
    const entry = await formatOf(whole);
    const { read, outline } = await entry.load();
    if (!read || !capabilities[entry.name].places.includes('bookmark')) return [];
    const { entries } = (await outline?.(whole, nodeTools)) ?? { entries: [] };
    const listed = entries.map(({ place }) => place.replace(/^bookmark=/, ''));
    // The outline of a page leaves names out that only links lead to.
    const isText = entry.name === 'html' || entry.name === 'markdown';
    const inText = isText ? (new TextDecoder().decode(bytes).match(/\bDrawer_[0-9a-f]{12}\b/g) ?? []) : [];
    const names = [...new Set([...listed, ...inText])].filter((name) => name.startsWith(bookmarkLead));
    const found = names.map(async (name) => ({ name, content: await contentOf(read, whole, name) }));
    return (await Promise.all(found)).flatMap(({ name, content }) => (content ? [{ name, content }] : []));
  } finally {
    await source.close();
  }
}

/** What a bookmark holds, unless it is not there as a whole. */
async function contentOf(read: NonNullable<Format['read']>, file: Source, name: string): Promise<Content | undefined> {
  try {
    return (await read(file, { kind: 'bookmark', name }, nodeTools)).content;
  } catch (error) {
    if (DrawerError.is(error) && error.code === 'not-found') return undefined;
    throw error;
  }
}

/** A planned renewal of linked parts. */
export interface LinkedRenewal {
  /** The new files with the changes of their snippets, as one action for `writeFiles`. */
  readonly action: Required<Omit<FileAction, 'name'>>;
  /** The new content of each part in its file, in the order of the parts. */
  readonly contents: readonly Content[];
}

/**
 * Plans the renewal of changed parts. Writes nothing.
 * @throws DrawerError as `planPaste` does, such as for cells in the way of a part that has become longer
 */
export async function planLinkedRenewal(
  drawer: Drawer,
  parts: readonly (LinkedPart & { readonly kind: 'changed' })[],
  landing: Pick<Insertion, 'style' | 'over'>,
): Promise<LinkedRenewal> {
  const workbooks = new Set<string>();
  for (const file of new Set(parts.map((part) => part.file))) if (await isWorkbook(file)) workbooks.add(file);
  const requests = parts.map(({ file, bookmark, content, media }): PasteRequest => {
    const now = workbooks.has(file) ? content : inBlocks(content);
    const insertion = { ...landing, content: now, media, side: 'replace', bookmark } as const;
    return { place: { file, fragment: { kind: 'bookmark', name: bookmark } }, insertion };
  });
  const { files, landed } = await planPaste(requests);
  const before = await drawer.getMany(parts.map(({ listed }) => listed.summary.id));
  const old = new Map(parts.filter(({ isSnippetOld }) => isSnippetOld).map((part) => [part.listed.summary.id, part]));
  const after = before.map((snippet) => ({ ...snippet, content: old.get(snippet.id)?.content ?? snippet.content }));
  const changes = await linkChanges(after, landed);
  const renewed = changes.flatMap(({ snippet: { id, content, meta } }): Renewed[] => {
    const part = old.get(id);
    return part ? [{ id, content, media: part.media, meta, was: before.find((each) => each.id === id)?.content }] : [];
  });
  return {
    action: { files, changes: changes.filter(({ snippet }) => !old.has(snippet.id)), renewed },
    contents: landed.flatMap(({ bookmarked }) => (bookmarked ? [bookmarked.content] : [])),
  };
}
