import { cleanTake } from '../checked-change.ts';
import type { Format } from '../format.ts';
import { outlineXlsx, takeXlsx } from './xlsx/read.ts';

/** Workbooks: ISO/IEC 29500, Transitional and Strict. What writes is loaded when it is used. */
export const xlsx = {
  name: 'xlsx',
  outline: outlineXlsx,
  take: cleanTake(takeXlsx),
  remove: async (...given) => (await import('./xlsx/remove.ts')).removeXlsx(...given),
  insert: async (...given) => (await import('./xlsx/insert.ts')).insertXlsx(...given),
  create: async (...given) => (await import('./xlsx/create.ts')).createXlsx(...given),
  slots: async (...given) => (await import('./xlsx/create.ts')).slotsXlsx(...given),
  fill: async (...given) => (await import('./xlsx/create.ts')).fillXlsx(...given),
} satisfies Format;
