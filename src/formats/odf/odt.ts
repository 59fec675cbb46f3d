/**
 * OpenDocument texts (.odt) alone.
 * @packageDocumentation
 */

import type { Format } from '../format.ts';
import { proseFormat } from '../prose-format.ts';
import { openOdt } from './odt/read.ts';

/** Text documents: ISO/IEC 26300 (OpenDocument). What writes is loaded when it is used. */
export const odt = {
  ...proseFormat({
    name: 'odt',
    open: openOdt,
    edit: async (...given) => (await import('./odt/edit.ts')).editOdt(...given),
    write: async (...given) => (await import('./odt/write.ts')).writeOdt(...given),
  }),
  slots: async (...given) => (await import('./odt/fill.ts')).slotsOdt(...given),
  fill: async (...given) => (await import('./odt/fill.ts')).fillOdt(...given),
} satisfies Format;
