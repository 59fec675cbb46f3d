import type { Change, Sequence } from './change.ts';
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

/** The position that a sequence has reached. */
export async function pointAfter(rows: StoredRows, sequence: Sequence | undefined): Promise<SequencePoint> {
  const count = await rows.count();
  const before = await countUpTo(rows, sequence);
  const [next] = await rows.summaries(before, 1);
  return { position: before + 1, left: count - before, count, ...(next && { next }) };
}

/** The number of snippets up to the last pasted one, whether or not that is still there. */
async function countUpTo(rows: StoredRows, { after, id = highest }: Sequence = { after: '' }): Promise<number> {
  if (after === '') return 0;
  const before = await rows.countBefore({ order: after, id });
  const [there] = await rows.summaries(before, 1);
  return there?.id === id ? before + 1 : before;
}

/** Sorts behind every id; sequences of older drawers have none. */
const highest = '\uffff';

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
    ...(before && { id: before.id }),
    ...(into !== undefined && { into }),
    ...(across && { across: true as const }),
  };
  return { type: 'sequence', sequence };
}
