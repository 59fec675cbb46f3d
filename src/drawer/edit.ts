import { type Content, DrawerError, type Media } from '../content/index.ts';
import type { Change } from './change.ts';
import type { FactsOf } from './facts.ts';
import { putMedia } from './keep.ts';
import { factsShown } from './secret.ts';
import type { Snippet } from './snippet.ts';
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

/** Puts another content in the place of a snippet's. @throws DrawerError `changed` */
export async function editIn(
  rows: WritableRows,
  id: string,
  content: Content,
  { media, was }: EditOptions,
  factsOf: FactsOf,
): Promise<readonly Change[]> {
  const snippet = await rows.get(id);
  checkAsRead(snippet, was);
  await putMedia(rows, [{ content, ...(media && { media }) }]);
  return [{ type: 'rewrite', snippet: withContent(snippet, content, factsOf) }];
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
