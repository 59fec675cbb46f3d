/**
 * Word-processing documents (.docx) alone.
 * @packageDocumentation
 */

import type { Format } from '../format.ts';
import { proseFormat } from '../prose-format.ts';
import { openDocx } from './docx/read.ts';

/** Word-processing documents: ISO/IEC 29500, Transitional and Strict. What writes is loaded when it is used. */
export const docx = {
  ...proseFormat({
    name: 'docx',
    open: openDocx,
    edit: async (...given) => (await import('./docx/edit.ts')).editDocx(...given),
    write: async (...given) => (await import('./docx/write.ts')).writeDocx(...given),
  }),
  slots: async (...given) => (await import('./docx/fill.ts')).slotsDocx(...given),
  fill: async (...given) => (await import('./docx/fill.ts')).fillDocx(...given),
} satisfies Format;
