import { clipped, DrawerError } from '../../content/index.ts';
import { columnLetters } from '../../places/index.ts';

/** A cell that holds something where something else is to land. */
export interface TakenCell {
  readonly row: number;
  readonly column: number;
  /** What it shows. */
  readonly words: string;
}

/** How many are named. */
const most = 5;

export const cellName = ({ row, column }: { readonly row: number; readonly column: number }): string =>
  `${columnLetters(column)}${row}`;

/** `B4 “Oak”, B5 “Larch” and 3 more` */
export function takenInWords(taken: readonly TakenCell[]): string {
  const named = taken.slice(0, most).map((cell) => `${cellName(cell)} “${clipped(cell.words, 24)}”`);
  const more = taken.length - named.length;
  return more > 0 ? `${named.join(', ')} and ${more} more` : named.join(', ');
}

/** @throws DrawerError `consent` where cells that hold something would give way unasked. */
export function checkFree(taken: readonly TakenCell[], over: boolean | undefined): void {
  if (taken.length === 0 || over) return;
  throw new DrawerError({
    code: 'consent',
    what: `These cells already hold something: ${takenInWords(taken)}`,
    next: 'Name a free place, or say --over to replace them; nothing was written',
  });
}
