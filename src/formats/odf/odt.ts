import { checkedInsert, checkedRemove, checkedWrite, cleanTake } from '../checked-change.ts';
import type { Format } from '../format.ts';
import { outlineOdt, takeOdt } from './odt/read.ts';

/** Text documents: ISO/IEC 26300 (OpenDocument). What writes is loaded when it is used. */
export const odt = {
  name: 'odt',
  outline: outlineOdt,
  take: cleanTake(takeOdt),
  remove: checkedRemove(async (...given) => (await import('./odt/insert.ts')).removeOdt(...given), takeOdt),
  insert: checkedInsert(async (...given) => (await import('./odt/insert.ts')).insertOdt(...given), takeOdt),
  slots: async (...given) => (await import('./odt/fill.ts')).slotsOdt(...given),
  fill: async (...given) => (await import('./odt/fill.ts')).fillOdt(...given),
  write: (...given) => checkedWrite(given[0], async () => (await import('./odt/write.ts')).writeOdt(...given)),
} satisfies Format;
