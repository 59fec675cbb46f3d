import * as v from 'valibot';
import { parseWith, plural } from '../content/index.ts';
import type { Change, Settable } from './change.ts';
import type { FactsOf } from './facts.ts';
import { momentAfter } from './moment-after.ts';
import { maskedFacts } from './secret.ts';
import type { StoredRows } from './storage.ts';

/** What snippets are marked with; what is left out stays as it is. */
export interface Mark {
  /** The empty string takes it away. */
  readonly label?: string;
  /** Held snippets are neither deleted nor let go. */
  readonly held?: boolean;
  /** Shown nowhere and gone without a trace when it goes; `once`: as soon as it was pasted. */
  readonly secret?: boolean | 'once';
  /** How many seconds from now it stays; `null`: for good. */
  readonly lasts?: number | null;
}

const markSchema = v.object({
  label: v.optional(v.string()),
  held: v.optional(v.boolean()),
  secret: v.optional(v.union([v.boolean(), v.literal('once')])),
  lasts: v.nullish(v.pipe(v.number(), v.integer(), v.minValue(0))),
});

/** @throws DrawerError `invalid` */
export function checkMark(mark: Mark): void {
  parseWith(markSchema, mark, 'mark');
}

/** What a mark does, in the past tense. */
export function markInWords(mark: Mark, count: number): string {
  const snippets = plural(count, 'snippet');
  if (mark.secret !== undefined) return mark.secret ? `Made ${snippets} secret` : `Opened ${snippets}`;
  if (mark.held !== undefined) return `${mark.held ? 'Held' : 'Released'} ${snippets}`;
  if (mark.label !== undefined) return mark.label === '' ? `Took the label off ${snippets}` : `Labelled ${snippets}`;
  return `Set how long ${snippets} ${count === 1 ? 'stays' : 'stay'}`;
}

export async function markChanges(
  rows: StoredRows,
  ids: readonly string[],
  mark: Mark,
  now: Date,
  factsOf: FactsOf,
): Promise<readonly Change[]> {
  const changes: Change[] = [];
  for (const id of ids) {
    const snippet = await rows.get(id);
    const { label, held, secret, lasts } = mark;
    const expiresAt = typeof lasts === 'number' ? momentAfter(now, lasts) : lasts;
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
  return changes;
}
