import type { Format } from '../format.ts';
import { outlineCsv, takeCsv } from './read.ts';
import { removeCsv } from './remove.ts';

/** Separated values: RFC 4180 and the dialects people have. */
export const csv = { name: 'csv', outline: outlineCsv, take: takeCsv, remove: removeCsv } satisfies Format;
