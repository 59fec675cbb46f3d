import type { Format } from '../format.ts';
import { createXlsx } from './xlsx/create.ts';
import { fillXlsx, slotsXlsx } from './xlsx/fill.ts';
import { insertXlsx } from './xlsx/insert.ts';
import { outlineXlsx, takeXlsx } from './xlsx/read.ts';
import { removeXlsx } from './xlsx/remove.ts';

/** Workbooks: ISO/IEC 29500, Transitional and Strict. */
export const xlsx = {
  name: 'xlsx',
  outline: outlineXlsx,
  take: takeXlsx,
  remove: removeXlsx,
  insert: insertXlsx,
  create: createXlsx,
  slots: slotsXlsx,
  fill: fillXlsx,
} satisfies Format;
