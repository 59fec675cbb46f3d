import { clipped, DrawerError, firstOf, type Param } from '../../content/index.ts';
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
export const cellsTaken = (taken: readonly TakenCell[]): Param =>
  firstOf(
    taken.map((cell) => `${cellName(cell)} “${clipped(cell.words, 24)}”`),
    most,
  );

/** @throws DrawerError `consent` where cells that hold something would give way unasked. */
export function checkFree(taken: readonly TakenCell[], over: boolean | undefined): void {
  if (taken.length === 0 || over) return;
  throw new DrawerError('consent/cells-taken', { cells: cellsTaken(taken) });
}

/** Refuses to change a sheet that is protected. @throws DrawerError `unsupported` */
export function checkSheetMayChange({
  name,
  isProtected,
}: {
  readonly name: string;
  readonly isProtected: boolean;
}): void {
  if (!isProtected) return;
  throw new DrawerError('unsupported/sheet-protected', { sheet: name });
}

/** Whether a sheet of a workbook is protected (ISO/IEC 29500-1, 18.3.1.85), seen in its whole text or only in what follows its rows. */
export const isProtectedPart = (text: string): boolean =>
  /<(?:[\w.-]+:)?sheetProtection\s[^<>]*\bsheet=["'](?:1|true)["']/.test(text);
