import type { Format } from '../format.ts';
import { createOds } from './ods/create.ts';
import { fillOds, slotsOds } from './ods/fill.ts';
import { insertOds } from './ods/insert.ts';
import { outlineOds, takeOds } from './ods/read.ts';
import { removeOds } from './ods/remove.ts';

/** Spreadsheets: ISO/IEC 26300 (OpenDocument). */
export const ods = {
  name: 'ods',
  outline: outlineOds,
  take: takeOds,
  remove: removeOds,
  insert: insertOds,
  create: createOds,
  slots: slotsOds,
  fill: fillOds,
} satisfies Format;
