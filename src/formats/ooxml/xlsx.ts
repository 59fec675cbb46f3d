/**
 * Workbooks (.xlsx) alone.
 * @packageDocumentation
 */

import { sheetFormat } from '../sheets/sheet-format.ts';
import { openXlsx } from './xlsx/read.ts';

/** Workbooks: ISO/IEC 29500, Transitional and Strict. What writes is loaded when it is used. */
export const xlsx = sheetFormat({
  name: 'xlsx',
  open: openXlsx,
  edit: async (...given) => (await import('./xlsx/edit.ts')).editXlsx(...given),
  nameCells: async (...given) => (await import('./xlsx/name-cells.ts')).nameXlsxCells(...given),
  remove: async (...given) => (await import('./xlsx/remove.ts')).removeXlsx(...given),
  blank: async (sheetName) => (await import('./xlsx/create.ts')).blankWorkbook(sheetName.slice(0, 31)),
});
