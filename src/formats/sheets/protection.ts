import { DrawerError } from '../../content/index.ts';

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
