import { DrawerError } from '../../content/index.ts';
import { damagedRow, readRow as readAnyRow } from '../sealing.ts';

const next = 'drawer check rescues what can be read; nothing was changed';

/** What a row holds. @throws DrawerError `damaged` */
export function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (cause) {
    throw damagedRow(cause, next);
  }
}

/** What a work makes of a row. @throws DrawerError `damaged` where that is not valid. */
export const readRow = <T>(work: () => T): T => readAnyRow(work, next);

/** What a work gives; `undefined` where a row is damaged. */
export function unlessDamaged<T>(work: () => T): T | undefined {
  try {
    return work();
  } catch (error) {
    if (DrawerError.is(error)) return undefined;
    throw error;
  }
}
