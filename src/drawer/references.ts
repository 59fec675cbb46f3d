import { DrawerError, plural } from '../content/index.ts';
import { isEmptyQuery, parseQuery } from './search.ts';
import type { SnippetHead } from './snippet.ts';
import type { StoredRows } from './storage.ts';

/** A listed snippet and its number, from 1. */
export interface Listed {
  readonly position: number;
  readonly head: SnippetHead;
}

/** Which snippets, in words: `3`, `2-5`, `last`, `last-1`, `first`, `all`, `held`, `label:hull`, `from:survey`, `is:table`. */
type Reference =
  | { readonly kind: 'range'; readonly from: number; readonly to: number }
  | { readonly kind: 'query'; readonly words: string };

/** @throws DrawerError `usage` for anything that is no reference. */
function parseReference(words: string, count: number): Reference {
  if (words === 'all') return { kind: 'range', from: 1, to: count };
  if (words === 'first') return { kind: 'range', from: 1, to: 1 };
  if (words === 'held') return { kind: 'query', words: 'is:held' };
  if (/^(from|label|is):./.test(words)) return { kind: 'query', words };
  const [isLast, back = '0'] = /^last(?:-(\d{1,9}))?$/.exec(words) ?? [];
  if (isLast !== undefined) return { kind: 'range', from: count - Number(back), to: count - Number(back) };
  const [isRange, from = '', to = from] = /^(\d{1,9})(?:-(\d{1,9}))?$/.exec(words) ?? [];
  if (isRange !== undefined) return { kind: 'range', from: Number(from), to: Number(to) };
  throw new DrawerError({
    code: 'usage',
    what: `“${words}” names no snippet`,
    next: 'Say a number (3), a range (2-5), first, last, last-1, all, held, label:WORD, from:FILE or is:table; drawer find looks for words',
  });
}

/**
 * The snippets that references name: ranges in the order they name them (one may run backwards), queries in the drawer's own
 * order. A snippet may come twice; `id:` before a snippet's id names that one, wherever it stands.
 * @throws DrawerError `usage`; `not-found` when one lies outside the drawer, or nothing fits.
 */
export async function resolveReferences(rows: StoredRows, references: readonly string[]): Promise<readonly Listed[]> {
  const count = await rows.count();
  const listed: Listed[] = [];
  for (const words of references) {
    if (words.startsWith('id:')) {
      listed.push(...(await withPositions(rows, [await rows.get(words.slice(3))])));
      continue;
    }
    const reference = parseReference(words, count);
    if (reference.kind === 'query') listed.push(...(await fitting(rows, reference.words)));
    else if (words !== 'all' || count > 0) listed.push(...(await inRange(rows, reference, words, count)));
  }
  return listed;
}

async function inRange(
  rows: StoredRows,
  { from, to }: { readonly from: number; readonly to: number },
  words: string,
  count: number,
): Promise<readonly Listed[]> {
  const [first, last] = [Math.min(from, to), Math.max(from, to)];
  if (first < 1 || last > count)
    throw new DrawerError({
      code: 'not-found',
      what: `There is no snippet ${words}`,
      next:
        count === 0
          ? 'The drawer is empty: gather something with drawer copy FILE'
          : `The drawer holds ${plural(count, 'snippet')}`,
    });
  const heads = await rows.heads(first - 1, last - first + 1);
  const listed = heads.map((head, index) => ({ position: first + index, head }));
  return from <= to ? listed : listed.reverse();
}

async function fitting(rows: StoredRows, words: string): Promise<readonly Listed[]> {
  const query = parseQuery([words]);
  const heads = isEmptyQuery(query) ? [] : await rows.search(query, Number.MAX_SAFE_INTEGER);
  if (heads.length === 0)
    throw new DrawerError({
      code: 'not-found',
      what: `No snippet fits ${words}`,
      next: 'drawer list shows what there is',
    });
  return (await withPositions(rows, heads)).toSorted((one, other) => one.position - other.position);
}

/** Snippets and their numbers, in the order given. */
export async function withPositions(rows: StoredRows, heads: readonly SnippetHead[]): Promise<readonly Listed[]> {
  const before = await rows.countsBefore(heads.map(({ order }) => order));
  return heads.map((head, index) => ({ position: (before[index] ?? 0) + 1, head }));
}
