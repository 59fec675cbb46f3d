import type { Content } from '../content/index.ts';
import type { Change } from './change.ts';
import { commit } from './commit.ts';
import { factsShown } from './erase.ts';
import type { KeepOptions, KeepResult } from './keep.ts';
import { keyBetween } from './order-keys.ts';
import type { Part, Snippet } from './snippet.ts';
import { getSnippet, type WritableRows } from './storage.ts';
import { removalChanges } from './take-out.ts';

/** Something made of snippets that the drawer holds. */
export interface Merged {
  /** The ids of what it is made of, in order. */
  readonly of: readonly string[];
  readonly content: Content;
  readonly label?: string | undefined;
  /** Whether what it is made of leaves the drawer; what is held stays. */
  readonly takeOut?: boolean | undefined;
}

/** Where the parts of merged snippets are from, each with its own time; parts of parts stay apart. */
const partsOf = (snippets: readonly Snippet[]): Part[] =>
  snippets.flatMap(({ parts, origin, takenAt, facts }) => parts ?? [{ origin, takenAt, what: facts.what }]);

/** Keeps one new snippet made of others, at the end; its parts keep their origins. @throws DrawerError `not-found` */
export async function mergeIn(
  rows: WritableRows,
  { of, content, label, takeOut }: Merged,
  { now, generateId, factsOf }: KeepOptions,
): Promise<KeepResult> {
  const snippets = await Promise.all(of.map((id) => getSnippet(rows, id)));
  const last = await rows.findLast();
  const secret = snippets.find((each) => each.secret)?.secret;
  const id = generateId();
  const snippet: Snippet = {
    id,
    order: keyBetween(last?.order ?? null, null, id),
    origin: {},
    takenAt: now.toISOString(),
    facts: factsShown(factsOf(content), secret),
    ...(label !== undefined && { label }),
    ...(secret && { secret }),
    parts: partsOf(snippets),
    content,
  };
  const changes: Change[] = [{ type: 'insert', snippet }, ...(takeOut ? removalChanges(snippets) : [])];
  const name = { kind: 'merged', params: { count: of.length } };
  await commit(rows, { name, changes, at: now, reshapes: takeOut === true });
  const { content: _, ...summary } = snippet;
  return { kind: 'kept', position: await rows.count(), summary };
}
