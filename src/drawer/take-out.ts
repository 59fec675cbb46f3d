import { clipped, DrawerError, firstOf, type Message } from '../content/index.ts';
import type { Change } from './change.ts';
import { commit } from './commit.ts';
import type { Snippet, SnippetSummary } from './snippet.ts';
import { getSnippet, type WritableRows } from './storage.ts';

/** The result of removing snippets. */
export interface Removed {
  /** The number of removed snippets. */
  readonly removed: number;
  /** The number that stay because they are held. */
  readonly held: number;
  /** The number of removed secrets, which cannot be restored. */
  readonly erased: number;
}

/** The changes that remove snippets once they are elsewhere; held ones stay. */
export const removalChanges = (snippets: readonly Pick<Snippet, 'id' | 'held'>[]): Change[] =>
  [...new Set(snippets.filter(({ held }) => !held).map(({ id }) => id))].map((id) => ({ type: 'remove', id }));

/** @throws DrawerError `consent` for a built-up snippet, unless that is allowed */
export async function removeFrom(
  rows: WritableRows,
  ids: readonly string[],
  builtUp: boolean,
  at: Date,
): Promise<Removed> {
  const snippets: Snippet[] = [];
  for (const id of new Set(ids)) snippets.push(await getSnippet(rows, id));
  const [stay, go] = [snippets.filter(({ held }) => held), snippets.filter(({ held }) => !held)];
  if (!builtUp) for (const snippet of go) refuseBuiltUp(snippet);
  const secret = go.filter((snippet) => snippet.secret).length;
  const changes = go.map(({ id }): Change => ({ type: 'remove', id }));
  const open = go.length - secret;
  const name = open > 0 ? { kind: 'deleted', params: { count: open } } : { kind: 'erased', params: { count: secret } };
  await commit(rows, { name, changes, at });
  return { removed: go.length, held: stay.length, erased: secret };
}

/** Erases the snippets that were marked for a single paste; returns their number. */
export async function spendIn(rows: WritableRows, ids: readonly string[], at: Date): Promise<number> {
  const changes: Change[] = [];
  for (const id of new Set(ids))
    if ((await rows.findSnippet(id))?.secret === 'once') changes.push({ type: 'remove', id });
  await commit(rows, { name: { kind: 'spent', params: { count: changes.length } }, changes, at });
  return changes.length;
}

/** The error for a rule that would remove snippets without consent. */
export function consentNeeded(going: readonly SnippetSummary[]): DrawerError {
  const named = going.map(({ label, facts }) => `“${clipped(label ?? facts.preview, 30)}”`);
  return new DrawerError('consent/snippets-would-go', { count: going.length, snippets: firstOf(named, 5) });
}

/** The error for removing a built-up snippet without consent. */
export function refuseBuiltUp({ parts, facts }: Snippet): void {
  if (parts === undefined) return;
  throw new DrawerError('consent/snippet-built-up', { preview: clipped(facts.preview, 40), count: parts.length });
}

/** The error for an action that cannot be undone, or redone. */
export const refusedUndo = (why: 'action-final' | 'action-snippets-gone', { kind, params }: Message): DrawerError =>
  new DrawerError(`refused/${why}`, { action: { kind: `did.${kind}`, ...(params && { params }) } });
