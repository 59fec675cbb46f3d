import type { Note } from '../content/index.ts';
import type { Context } from './context.ts';

/** Says what was simplified on the way, or else is to be known. */
export async function remarkNotes(
  notes: readonly Note[],
  lead: 'simplified' | 'noted',
  { words, remark }: Context,
): Promise<void> {
  if (notes.length === 0) return;
  const said = (await words.load()).notes(notes, { lead, hints: words.noteHints });
  if (said !== undefined) remark(said);
}
