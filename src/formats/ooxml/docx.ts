import { checkedInsert, checkedRemove, checkedWrite, cleanTake } from '../checked-change.ts';
import type { Format } from '../format.ts';
import { outlineDocx, takeDocx } from './docx/read.ts';

/** Word-processing documents: ISO/IEC 29500, Transitional and Strict. What writes is loaded when it is used. */
export const docx = {
  name: 'docx',
  outline: outlineDocx,
  take: cleanTake(takeDocx),
  remove: checkedRemove(async (...given) => (await import('./docx/remove.ts')).removeDocx(...given), takeDocx),
  insert: checkedInsert(async (...given) => (await import('./docx/insert.ts')).insertDocx(...given), takeDocx),
  slots: async (...given) => (await import('./docx/fill.ts')).slotsDocx(...given),
  fill: async (...given) => (await import('./docx/fill.ts')).fillDocx(...given),
  write: (...given) => checkedWrite(given[0], async () => (await import('./docx/write.ts')).writeDocx(...given)),
} satisfies Format;
