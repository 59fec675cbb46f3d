import { cleanTake } from '../checked-change.ts';
import type { Format } from '../format.ts';
import { outlineOds, takeOds } from './ods/read.ts';

/** Spreadsheets: ISO/IEC 26300 (OpenDocument). What writes is loaded when it is used. */
export const ods = {
  name: 'ods',
  outline: outlineOds,
  take: cleanTake(takeOds),
  remove: async (...given) => (await import('./ods/remove.ts')).removeOds(...given),
  insert: async (...given) => (await import('./ods/insert.ts')).insertOds(...given),
  create: async (...given) => (await import('./ods/create.ts')).createOds(...given),
  slots: async (...given) => (await import('./ods/create.ts')).slotsOds(...given),
  fill: async (...given) => (await import('./ods/create.ts')).fillOds(...given),
} satisfies Format;
