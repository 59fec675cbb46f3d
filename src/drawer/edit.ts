import { type Content, DrawerError, type Media, type Note } from '../content/index.ts';
import type { Change } from './change.ts';
import { commit } from './commit.ts';
import { factsShown } from './erase.ts';
import type { FactsOf } from './facts.ts';
import { type KeepOptions, putMedia } from './keep.ts';
import { keysBetween, nextKey } from './order-keys.ts';
import type { Listed } from './references.ts';
import type { Meta, Snippet } from './snippet.ts';
import { getSnippet, type WritableRows } from './storage.ts';

/** The content that an edit is based on. */
export interface AsRead {
  /** The content as it was read; if it has changed since, the edit is refused. */
  readonly was?: Content | undefined;
}

/** Options of `edit`. */
export interface EditOptions extends AsRead {
  /** Bytes of the pictures in the content. */
  readonly media?: Media | undefined;
}

/** The new content of a snippet. */
export interface Renewed extends EditOptions {
  /** The snippet's id. */
  readonly id: string;
  readonly content: Content;
  /** New application data of the snippet; default: unchanged. */
  readonly meta?: Meta | undefined;
}

/** A snippet compared with its source. */
export type Renewal = Listed &
  (
    | { readonly kind: 'same' }
    | {
        readonly kind: 'changed';
        readonly was: Content;
        readonly content: Content;
        readonly media: Media;
        readonly notes: readonly Note[];
      }
    /** The source cannot be found, or it is uncertain what the snippet is now. */
    | { readonly kind: 'unknown'; readonly problem: DrawerError }
  );

/**
 * The changes that replace contents.
 * @param takenAt - the new time of gathering (ISO 8601 in UTC), if the contents were gathered again
 * @throws DrawerError `changed`, `not-found`
 */
export async function rewrites(
  rows: WritableRows,
  renewed: readonly Renewed[],
  factsOf: FactsOf,
  takenAt?: string,
): Promise<readonly Change[]> {
  const changes: Change[] = [];
  for (const { id, content, media, meta, was } of renewed) {
    const snippet = await getSnippet(rows, id);
    checkAsRead(snippet, was);
    await putMedia(rows, [{ content, ...(media && { media }) }]);
    const also = { ...(meta && { meta }), ...(takenAt !== undefined && { takenAt }) };
    changes.push({ type: 'rewrite', snippet: { ...withContent(snippet, content, factsOf), ...also } });
  }
  return changes;
}

/** @throws DrawerError `changed` */
export function checkAsRead({ content }: Snippet, was: Content | undefined): void {
  if (was === undefined || JSON.stringify(content) === JSON.stringify(was)) return;
  throw new DrawerError('changed/snippet-changed');
}

/** The snippet with other content, and the facts of that. */
export function withContent(snippet: Snippet, content: Content, factsOf: FactsOf): Snippet {
  return { ...snippet, content, facts: factsShown(factsOf(content), snippet.secret) };
}

/** Replaces a snippet by several, each with its origin, time and marks; returns the positions of the first and last. */
export async function splitIn(
  rows: WritableRows,
  id: string,
  contents: readonly Content[],
  { generateId, now, factsOf, was }: KeepOptions & AsRead,
): Promise<{ readonly from: number; readonly to: number }> {
  const whole = await getSnippet(rows, id);
  checkAsRead(whole, was);
  const { label: _, parts, ...snippet } = whole;
  const before = await rows.countBefore(snippet);
  const ids = contents.map(generateId);
  const keys = keysBetween(snippet.order, await nextKey(rows, snippet), ids);
  // If there are as many pieces as parts, the pieces are taken to be the parts.
  const from = (index: number): Partial<Snippet> => {
    const part = parts?.length === contents.length ? parts[index] : undefined;
    return part ? { origin: part.origin, takenAt: part.takenAt } : { ...(parts && { parts }) };
  };
  const pieces = contents.map((content, index) =>
    withContent(
      { ...snippet, ...from(index), id: ids[index] as string, order: keys[index] as string },
      content,
      factsOf,
    ),
  );
  await commit(rows, {
    name: { kind: 'split', params: { count: contents.length } },
    changes: [...pieces.map((piece): Change => ({ type: 'insert', snippet: piece })), { type: 'remove', id }],
    at: now,
    reshapes: true,
  });
  return { from: before + 1, to: before + contents.length };
}
