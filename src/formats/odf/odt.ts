import type { Format } from '../format.ts';
import { fillOdt, slotsOdt } from './odt/fill.ts';
import { insertOdt } from './odt/insert.ts';
import { outlineOdt, takeOdt } from './odt/read.ts';
import { removeOdt } from './odt/remove.ts';
import { writeOdt } from './odt/write.ts';

/** Text documents: ISO/IEC 26300 (OpenDocument). */
export const odt = {
  name: 'odt',
  outline: outlineOdt,
  take: takeOdt,
  remove: removeOdt,
  insert: insertOdt,
  slots: slotsOdt,
  fill: fillOdt,
  write: writeOdt,
} satisfies Format;
