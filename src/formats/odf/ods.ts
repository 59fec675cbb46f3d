/**
 * OpenDocument spreadsheets (.ods) alone.
 * @packageDocumentation
 */

import { sheetFormat } from '../sheets/sheet-format.ts';
import { openOds } from './ods/read.ts';

/** Spreadsheets: ISO/IEC 26300 (OpenDocument). What writes is loaded when it is used. */
export const ods = sheetFormat({
  name: 'ods',
  open: openOds,
  edit: async (...given) => (await import('./ods/edit.ts')).editOds(...given),
  nameCells: async (...given) => (await import('./ods/name-cells.ts')).nameOdsCells(...given),
  remove: async (...given) => (await import('./ods/remove.ts')).removeOds(...given),
  blank: async (sheetName) => (await import('./ods/edit.ts')).blankSpreadsheet(sheetName),
});
