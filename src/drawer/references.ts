import { DrawerError } from '../content/index.ts';
import { isEmptyQuery, parseQuery } from './search.ts';
import type { SnippetSummary } from './snippet.ts';
import { getSnippet, type StoredRows } from './storage.ts';

/** A snippet with its position, counted from 1. */
export interface Listed {
  readonly position: number;
  readonly summary: SnippetSummary;
}

/**
 * A reference to snippets: `3`, `2-5`, `12-` (to the end), `-3` (from the start), `last`, `last-1`, `last-4..last`, `first`, `all`, `new`
 * (those kept by the last gather), `held`, `label:hull`, `from:survey`, `is:table`.
 */
type Reference =
  | { readonly kind: 'range'; readonly from: number; readonly to: number }
  | { readonly kind: 'query'; readonly words: string };

/** Parses a reference. @throws DrawerError `usage` if it is none */
function parseReference(words: string, count: number): Reference {
  if (words === 'all') return { kind: 'range', from: 1, to: count };
  if (words === 'first') return { kind: 'range', from: 1, to: 1 };
  if (words === 'held') return { kind: 'query', words: 'is:held' };
  if (/^(from|label|is):./.test(words)) return { kind: 'query', words };
  const [whole, one = '', sign, other = ''] =
    /^((?:last(?:-\d{1,9})?|first|\d{1,9})?)(?:(\.\.|-)((?:last(?:-\d{1,9})?|first|\d{1,9})?))?$/.exec(words) ?? [];
  if (whole !== undefined && one + other !== '') {
    const from = one === '' ? 1 : positionOf(one, count);
    const to = sign === undefined ? from : other === '' ? Math.max(count, from) : positionOf(other, count);
    return { kind: 'range', from, to };
  }
  throw new DrawerError('usage/reference-invalid', { reference: words });
}

/** The position of `3`, `first`, `last` or `last-2`. */
function positionOf(words: string, count: number): number {
  if (words === 'first') return 1;
  const [isLast, back = '0'] = /^last(?:-(\d+))?$/.exec(words) ?? [];
  return isLast === undefined ? Number(words) : count - Number(back);
}

/**
 * Resolves references. Ranges come in the order given (also backwards), queries in the drawer's order; a snippet may occur twice.
 * `id:` before an id names that snippet.
 * @throws DrawerError `usage`; `not-found` if a position lies outside of the drawer, or nothing matches
 */
export async function resolveReferences(rows: StoredRows, references: readonly string[]): Promise<readonly Listed[]> {
  const count = await rows.count();
  const listed: Listed[] = [];
  for (const words of references.flatMap(partsOf)) {
    if (words === 'new') {
      listed.push(...(await newest(rows)));
      continue;
    }
    if (words.startsWith('id:')) {
      listed.push(...(await withPositions(rows, [await getSnippet(rows, words.slice(3))])));
      continue;
    }
    const reference = parseReference(words, count);
    if (reference.kind === 'query') listed.push(...(await fitting(rows, reference.words)));
    else if (words !== 'all' || count > 0) listed.push(...(await inRange(rows, reference, words, count)));
  }
  return listed;
}

/** Splits `3,5,7-9`; in a filter, a comma is an ordinary character. */
const partsOf = (words: string): string[] => (/^[\w.-]+(?:,[\w.-]+)+$/.test(words) ? words.split(',') : [words]);

/** The remaining snippets of the last gather. */
async function newest(rows: StoredRows): Promise<readonly Listed[]> {
  const done = (await rows.actions()).filter(({ state }) => state === 'done');
  const gathers = done.sort((one, other) => other.number - one.number);
  // Undoing a gather only removes snippets; undoing other actions also restores some.
  const last = gathers.find(
    ({ changes, reshapes }) => !reshapes && changes.length > 0 && changes.every(({ type }) => type === 'remove'),
  );
  const ids = (last?.changes ?? []).flatMap((change) => (change.type === 'remove' ? [change.id] : [])).reverse();
  const summaries = (await Promise.all(ids.map((id) => rows.findSnippet(id)))).filter((each) => each !== undefined);
  if (summaries.length > 0)
    return (await withPositions(rows, summaries)).toSorted((one, other) => one.position - other.position);
  throw new DrawerError('not-found/last-gather-gone');
}

async function inRange(
  rows: StoredRows,
  { from, to }: { readonly from: number; readonly to: number },
  words: string,
  count: number,
): Promise<readonly Listed[]> {
  const [first, last] = [Math.min(from, to), Math.max(from, to)];
  if (first < 1 || last > count)
    throw new DrawerError(count === 0 ? 'not-found/drawer-empty' : 'not-found/reference-unknown', {
      reference: words,
      count,
    });
  const summaries = await rows.summaries(first - 1, last - first + 1);
  const listed = summaries.map((summary, index) => ({ position: first + index, summary }));
  return from <= to ? listed : listed.reverse();
}

async function fitting(rows: StoredRows, words: string): Promise<readonly Listed[]> {
  const found = await findIn(rows, [words], Number.MAX_SAFE_INTEGER);
  if (found.length === 0) throw new DrawerError('not-found/reference-fits-none', { reference: words });
  return found.toSorted((one, other) => one.position - other.position);
}

/** Snippets that match words, best first; none for an empty query. */
export async function findIn(rows: StoredRows, words: readonly string[], limit: number): Promise<readonly Listed[]> {
  const query = parseQuery(words);
  return isEmptyQuery(query) ? [] : withPositions(rows, await rows.search(query, limit));
}

/** Snippets with their positions, in the order given. */
async function withPositions(rows: StoredRows, summaries: readonly SnippetSummary[]): Promise<readonly Listed[]> {
  const before = await rows.countsBefore(summaries);
  return summaries.map((summary, index) => ({ position: (before[index] ?? 0) + 1, summary }));
}
