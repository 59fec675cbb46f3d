import { generateNKeysBetween } from 'fractional-indexing';
import { type Content, DrawerError, type Media, type Note } from '../content/index.ts';
import type { Change } from './change.ts';
import { commit } from './commit.ts';
import { factsShown } from './erase.ts';
import type { FactsOf } from './facts.ts';
import { type KeepOptions, putMedia } from './keep.ts';
import type { Listed } from './references.ts';
import type { Meta, Snippet } from './snippet.ts';
import type { WritableRows } from './storage.ts';

/** What a change of one snippet's content was worked out from. */
export interface AsRead {
  /** The content as it was read: where that has changed since, nothing is done. */
  readonly was?: Content | undefined;
}

/** How a snippet's content is replaced. */
export interface EditOptions extends AsRead {
  /** The pictures that come with the content. */
  readonly media?: Media | undefined;
}

/** The new content of a snippet. */
export interface Renewed extends EditOptions {
  /** The snippet's id. */
  readonly id: string;
  readonly content: Content;
  /** An application's own JSON by names, in place of what the snippet has; without it that stays. */
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
    const snippet = await rows.get(id);
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

/** The snippet with another content, and what lists show of that. */
export function withContent(snippet: Snippet, content: Content, factsOf: FactsOf): Snippet {
  return { ...snippet, content, facts: factsShown(factsOf(content), snippet.secret) };
}

/** Puts several snippets in the place of one, each with its origin, time and marks; gives the numbers of the first and last. */
export async function splitIn(
  rows: WritableRows,
  id: string,
  contents: readonly Content[],
  { generateId, now, factsOf, was }: KeepOptions & AsRead,
): Promise<{ readonly from: number; readonly to: number }> {
  const whole = await rows.get(id);
  checkAsRead(whole, was);
  const { label: _, parts, ...snippet } = whole;
  const before = await rows.countBefore(snippet.order);
  const [next] = await rows.summaries(before + 1, 1);
  const keys = generateNKeysBetween(snippet.order, next?.order ?? null, contents.length);
  // What falls apart into as many as it was built up of is taken for these.
  const from = (index: number): Partial<Snippet> => {
    const part = parts?.length === contents.length ? parts[index] : undefined;
    return part ? { origin: part.origin, takenAt: part.takenAt } : { ...(parts && { parts }) };
  };
  const pieces = contents.map((content, index) =>
    withContent({ ...snippet, ...from(index), id: generateId(), order: keys[index] as string }, content, factsOf),
  );
  await commit(rows, {
    name: { kind: 'split', params: { count: contents.length } },
    changes: [...pieces.map((piece): Change => ({ type: 'insert', snippet: piece })), { type: 'remove', id }],
    at: now,
    reshapes: true,
  });
  return { from: before + 1, to: before + contents.length };
}
