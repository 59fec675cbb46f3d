import type { Format } from '../format.ts';
import { outlineOds, takeOds } from './ods/read.ts';
import { removeOds } from './ods/remove.ts';

/** Spreadsheets: ISO/IEC 26300 (OpenDocument). */
export const ods = { name: 'ods', outline: outlineOds, take: takeOds, remove: removeOds } satisfies Format;
