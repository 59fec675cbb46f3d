import type { Change } from './change.ts';
import { checkText, checkWhole } from './schema.ts';
import type { SnippetSummary } from './snippet.ts';
import type { StoredRows } from './storage.ts';

/** The position of the sequence: the next snippet, if there is one, and the number of snippets left. */
export interface SequencePoint {
  /** The number of the next snippet, from 1; one more than there are at the end. */
  readonly position: number;
  readonly next?: SnippetSummary;
  readonly left: number;
  readonly count: number;
}

/** The first snippet after an order key. */
export async function pointAfter(rows: StoredRows, after: string): Promise<SequencePoint> {
  const count = await rows.count();
  // No order key has the sign, which sorts below all they have: what is not above `after` stands in front of this.
  const before = after === '' ? 0 : await rows.countBefore(`${after}!`);
  const [next] = await rows.summaries(before, 1);
  return { position: before + 1, left: count - before, count, ...(next && { next }) };
}

/** Moves the sequence, so that the snippet at `position` (from 1) comes next. @throws DrawerError `invalid` */
export async function sequenceChange(
  rows: StoredRows,
  position: number,
  into: string | undefined,
  across = false,
): Promise<Change> {
  checkWhole(position, 'position', 1);
  if (into !== undefined) checkText(into, 'into');
  const [before] = position > 1 ? await rows.summaries(position - 2, 1) : [];
  const sequence = {
    after: before?.order ?? '',
    ...(into !== undefined && { into }),
    ...(across && { across: true as const }),
  };
  return { type: 'sequence', sequence };
}
