import { cleanTake } from '../checked-change.ts';
import { type Format, sourceOf } from '../format.ts';
import { insertCsv } from './insert.ts';
import { outlineCsv, takeCsv } from './read.ts';
import { removeCsv } from './remove.ts';

/** Separated values: RFC 4180 and the dialects people have. */
export const csv = {
  name: 'csv',
  outline: outlineCsv,
  take: cleanTake(takeCsv),
  remove: removeCsv,
  insert: insertCsv,
  create: async (fragment, insertion) => insertCsv(sourceOf(new Uint8Array(), 'new.csv'), fragment, insertion),
} satisfies Format;
