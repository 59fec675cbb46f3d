import type { Format } from '../format.ts';
import { fillDocx, slotsDocx } from './docx/fill.ts';
import { insertDocx } from './docx/insert.ts';
import { outlineDocx, takeDocx } from './docx/read.ts';
import { removeDocx } from './docx/remove.ts';
import { writeDocx } from './docx/write.ts';

/** Word-processing documents: ISO/IEC 29500, Transitional and Strict. */
export const docx = {
  name: 'docx',
  outline: outlineDocx,
  take: takeDocx,
  remove: removeDocx,
  insert: insertDocx,
  slots: slotsDocx,
  fill: fillDocx,
  write: writeDocx,
} satisfies Format;
