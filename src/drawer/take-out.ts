import { clipped, DrawerError, firstOf, type Message } from '../content/index.ts';
import type { Change } from './change.ts';
import { commit } from './commit.ts';
import type { Snippet, SnippetSummary } from './snippet.ts';
import { findSnippet, type WritableRows } from './storage.ts';

/** What became of snippets that were to be deleted. */
export interface Removed {
  /** How many are gone. */
  readonly removed: number;
  /** How many stay, since they are held. */
  readonly held: number;
  /** How many of those that are gone were secret, and cannot be brought back. */
  readonly erased: number;
}

/** The changes that take snippets out, each once, since they are elsewhere now; what is held stays. */
export const removalChanges = (snippets: readonly Pick<Snippet, 'id' | 'held'>[]): Change[] =>
  [...new Set(snippets.filter(({ held }) => !held).map(({ id }) => id))].map((id) => ({ type: 'remove', id }));

/** @throws DrawerError `consent` for one that was built up, unless that may go too. */
export async function removeFrom(
  rows: WritableRows,
  ids: readonly string[],
  builtUp: boolean,
  at: Date,
): Promise<Removed> {
  const snippets: Snippet[] = [];
  for (const id of new Set(ids)) snippets.push(await rows.get(id));
  const [stay, go] = [snippets.filter(({ held }) => held), snippets.filter(({ held }) => !held)];
  if (!builtUp) for (const snippet of go) refuseBuiltUp(snippet);
  const secret = go.filter((snippet) => snippet.secret).length;
  const changes = go.map(({ id }): Change => ({ type: 'remove', id }));
  const open = go.length - secret;
  const name = open > 0 ? { kind: 'deleted', params: { count: open } } : { kind: 'erased', params: { count: secret } };
  await commit(rows, { name, changes, at });
  return { removed: go.length, held: stay.length, erased: secret };
}

/** Erases those that were to be pasted once only; gives how many. */
export async function spendIn(rows: WritableRows, ids: readonly string[], at: Date): Promise<number> {
  const changes: Change[] = [];
  for (const id of new Set(ids))
    if ((await findSnippet(rows, id))?.secret === 'once') changes.push({ type: 'remove', id });
  await commit(rows, { name: { kind: 'spent', params: { count: changes.length } }, changes, at });
  return changes.length;
}

/** A rule would let these go, and nobody said that they may. */
export function consentNeeded(going: readonly SnippetSummary[]): DrawerError {
  const named = going.map(({ label, facts }) => `“${clipped(label ?? facts.preview, 30)}”`);
  return new DrawerError('consent/snippets-would-go', { count: going.length, snippets: firstOf(named, 5) });
}

/** What somebody put together is not thrown away by a slip. */
export function refuseBuiltUp({ parts, facts }: Snippet): void {
  if (parts === undefined) return;
  throw new DrawerError('consent/snippet-built-up', { preview: clipped(facts.preview, 40), count: parts.length });
}

/** What is said of an action that has no way back. */
export const finalAction = ({ kind, params }: Message): DrawerError =>
  new DrawerError('refused/action-final', { action: { kind: `did.${kind}`, ...(params && { params }) } });
