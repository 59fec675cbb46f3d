import { clipped, DrawerError, firstOf, type Message } from '../content/index.ts';
import type { Snippet, SnippetHead } from './snippet.ts';

/** A rule would let these go, and nobody said that they may. */
export function wouldLetGo(going: readonly SnippetHead[]): DrawerError {
  const named = going.map(({ label, facts }) => `“${clipped(label ?? facts.preview, 30)}”`);
  return new DrawerError('consent/snippets-would-go', { count: going.length, snippets: firstOf(named, 5) });
}

/** What somebody put together is not thrown away by a slip. */
export function refuseBuiltUp({ parts, facts }: Snippet): void {
  if (parts === undefined) return;
  throw new DrawerError('consent/snippet-built-up', { preview: clipped(facts.preview, 40), count: parts.length });
}

/** No snippet has this id (any more). */
export const noSnippet = (id: string): DrawerError => new DrawerError('not-found/snippet-unknown', { id });

/** What is said of an action that has no way back. */
export const finalAction = ({ kind, params }: Message): DrawerError =>
  new DrawerError('refused/action-final', { action: { kind: `did.${kind}`, ...(params && { params }) } });
