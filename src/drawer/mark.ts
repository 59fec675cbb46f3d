import * as v from 'valibot';
import { type Message, parseWith } from '../content/index.ts';
import type { Change, Settable } from './change.ts';
import { commit } from './commit.ts';
import { maskedFacts } from './erase.ts';
import type { FactsOf } from './facts.ts';
import { momentAfter } from './settings.ts';
import { getSnippet, type WritableRows } from './storage.ts';

/** Marks of snippets; absent ones stay unchanged. */
export interface Mark {
  /** The empty string removes it. */
  readonly label?: string;
  /** Held snippets are neither deleted nor removed for room. */
  readonly held?: boolean;
  /** A secret is never shown, and its removal leaves no trace; `once`: it is removed after it was pasted. */
  readonly secret?: boolean | 'once';
  /** The lifetime in seconds from now; `null`: unlimited. */
  readonly lasts?: number | null;
}

const markSchema = v.object({
  label: v.optional(v.string()),
  held: v.optional(v.boolean()),
  secret: v.optional(v.union([v.boolean(), v.literal('once')])),
  lasts: v.nullish(v.pipe(v.number(), v.integer(), v.minValue(0))),
});

/** The name of the action that sets a mark. */
export const markName = (mark: Mark, count: number): Message => ({ kind: markKind(mark), params: { count } });

function markKind({ secret, held, label }: Mark): string {
  if (secret !== undefined) return secret ? 'hidden' : 'opened';
  if (held !== undefined) return held ? 'held' : 'released';
  if (label !== undefined) return label === '' ? 'unlabelled' : 'labelled';
  return 'timed';
}

/** @throws DrawerError `invalid` for an invalid mark; `not-found` */
export async function markIn(
  rows: WritableRows,
  ids: readonly string[],
  mark: Mark,
  at: Date,
  factsOf: FactsOf,
): Promise<void> {
  const { label, held, secret, lasts } = parseWith(markSchema, mark, 'mark');
  const changes: Change[] = [];
  for (const id of new Set(ids)) {
    const snippet = await getSnippet(rows, id);
    const expiresAt = typeof lasts === 'number' ? momentAfter(at, lasts) : lasts;
    const set: Settable = {
      ...(label !== undefined && { label: label === '' ? null : label }),
      ...(held !== undefined && { held: held || null }),
      ...(secret !== undefined && {
        secret: secret || null,
        facts: secret ? maskedFacts(snippet.facts) : factsOf(snippet.content),
      }),
      ...(expiresAt !== undefined && { expiresAt }),
    };
    changes.push({ type: 'update', id, set });
  }
  await commit(rows, { name: markName(mark, changes.length), changes, at });
}
