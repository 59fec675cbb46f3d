import { join } from 'node:path';
import { type Content, DrawerError, eachOf, parseContent, plainText } from '../content/index.ts';
import type { Drawer, Listed, Renewal, Snippet } from '../drawer/index.ts';
import { type Fragment, parseFragment } from '../places/index.ts';
import { gatheredFrom, type ReadOptions, readFromFile } from './read.ts';

export type { Renewal } from '../drawer/index.ts';

/** Where the sources of snippets are. */
export interface RenewalOptions extends Omit<ReadOptions, 'onRead'> {
  /** The folder of the files; default: the current one. */
  readonly folder?: string | undefined;
  /** Finds the path of a file by its name instead. @throws DrawerError for one that is not to be read */
  locate?(file: string): Promise<string>;
  /** Receives how far a file has been read, in bytes. */
  onRead?(file: string, end: number, size: number): void;
}

/** Of the words of a place that is found by counting, the share that has to be left for it to pass for the same place. */
const leastLeft = 1 / 3;

/**
 * Reads the sources of snippets again, without changing anything; `Drawer.renew` takes what has changed. Nothing is guessed: a
 * snippet that was edited, put together or made secret, and a source that moved, are `unknown` with the reason.
 */
export async function findRenewals(
  drawer: Drawer,
  listed: readonly Listed[],
  options: RenewalOptions = {},
): Promise<readonly Renewal[]> {
  const edited = await editedIds(drawer);
  const renewals: Renewal[] = [];
  for (const each of listed) {
    const snippet = await drawer.get(each.summary.id);
    try {
      renewals.push({ ...each, ...(await compare(snippet, edited.has(snippet.id), options)) });
    } catch (problem) {
      if (!DrawerError.is(problem)) throw problem;
      renewals.push({ ...each, kind: 'unknown', problem });
    }
  }
  return renewals;
}

type Comparison = { readonly kind: 'same' } | Omit<Renewal & { readonly kind: 'changed' }, keyof Listed>;

/** @throws DrawerError `refused`; as `readFromFile` does */
async function compare(
  { content: was, origin, secret, parts }: Snippet,
  isEdited: boolean,
  { folder = '.', locate, onRead, ...options }: RenewalOptions,
): Promise<Comparison> {
  const { file, place = '', piece } = origin;
  if (secret) throw new DrawerError('refused/renewal-secret');
  if (parts) throw new DrawerError('refused/renewal-built-up');
  if (file === undefined) throw new DrawerError('refused/renewal-without-file');
  if (isEdited) throw new DrawerError('refused/renewal-edited');
  const fragment = parseFragment(place);
  const path = locate ? await locate(file) : join(folder, file);
  const taken = await readFromFile(
    { file: path, fragment },
    { ...options, onRead: (end, size) => onRead?.(file, end, size) },
  );
  if ((taken.place ?? '') !== place)
    throw new DrawerError('refused/renewal-inexact', {
      place: { kind: 'place', params: { place: taken.place ?? file } },
    });
  const [gathered] = gatheredFrom(path, taken);
  const whole = gathered?.content ?? taken.content;
  const content = parseContent(piece ? pieceOf(whole, piece) : whole);
  if (JSON.stringify(content) === JSON.stringify(parseContent(was))) return { kind: 'same' };
  if (isCounted(fragment) && shareLeft(was, content) < leastLeft)
    throw new DrawerError('refused/renewal-unlike', {
      place: { kind: 'place', params: { place } },
      words: plainText(content).slice(0, 60),
    });
  return { kind: 'changed', was, content, media: taken.media, notes: taken.notes };
}

/** @throws DrawerError `refused` if the place has another number of pieces now */
function pieceOf(whole: Content, { number, of }: NonNullable<Snippet['origin']['piece']>): Content {
  const pieces = eachOf(whole);
  const piece = pieces[number - 1];
  if (piece && pieces.length === of) return piece;
  throw new DrawerError('refused/renewal-pieces', { number, of, count: pieces.length });
}

/** Whether something inserted above would move a place to other content. */
const isCounted = ({ kind }: Fragment): boolean =>
  ['paragraph', 'table', 'list', 'picture', 'line', 'char', 'row', 'col', 'cell'].includes(kind);

/** The share of the old words that are still there, from 0 to 1. */
function shareLeft(was: Content, content: Content): number {
  const wordsOf = (of: Content): Set<string> =>
    new Set(
      plainText(of)
        .toLowerCase()
        .match(/[\p{L}\p{N}]+/gu),
    );
  const [before, now] = [wordsOf(was), wordsOf(content)];
  return before.size === 0 ? 1 : [...before].filter((word) => now.has(word)).length / before.size;
}

/** Ids of the snippets that somebody has edited, as far as the history goes back. */
async function editedIds(drawer: Drawer): Promise<ReadonlySet<string>> {
  const edits = (await drawer.history()).filter(({ state, name }) => state === 'done' && name.kind === 'edited');
  return new Set(
    edits.flatMap(({ changes }) => changes.flatMap((change) => (change.type === 'rewrite' ? [change.snippet.id] : []))),
  );
}
