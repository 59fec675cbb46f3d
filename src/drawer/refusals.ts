import { clipped, DrawerError, plural } from '../content/index.ts';
import type { Snippet, SnippetHead } from './snippet.ts';

/** A rule would let these go, and nobody said that they may. */
export function wouldLetGo(going: readonly SnippetHead[]): DrawerError {
  const named = going.slice(0, 5).map(({ label, facts }) => `“${clipped(label ?? facts.preview, 30)}”`);
  const more = going.length > named.length ? ` and ${going.length - named.length} more` : '';
  return new DrawerError({
    code: 'consent',
    what: `By that rule ${plural(going.length, 'snippet')} would have to go: ${named.join(', ')}${more}`,
    next: 'Say that they may go, or hold them first; nothing was changed',
  });
}

/** What somebody put together is not thrown away by a slip. */
export function refuseBuiltUp({ parts, facts }: Snippet): void {
  if (parts === undefined) return;
  throw new DrawerError({
    code: 'consent',
    what: `The snippet “${clipped(facts.preview, 40)}” was built up of ${parts.length} parts`,
    next: 'Say that it may go all the same; nothing was deleted',
  });
}

/** No snippet has this id (any more). */
export const noSnippet = (id: string): DrawerError =>
  new DrawerError({
    code: 'not-found',
    what: `There is no snippet with the id ${id}`,
    next: 'It may have been deleted: look at drawer list',
  });

/** What is said of an action that has no way back. */
export const finalAction = (name: string): DrawerError =>
  new DrawerError({
    code: 'refused',
    what: `“${name}” cannot be undone: what was secret is gone for good`,
    next: 'Undo once more to take back the action before it',
  });
