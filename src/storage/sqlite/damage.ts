import { DrawerError } from '../../content/index.ts';
import { damagedRow } from '../sealing.ts';

/** What a row holds. @throws DrawerError `damaged` */
export function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (cause) {
    throw damagedRow(cause);
  }
}

/** What a work gives; `undefined` where a row is damaged. */
export function unlessDamaged<T>(work: () => T): T | undefined {
  try {
    return work();
  } catch (error) {
    if (DrawerError.is(error)) return undefined;
    throw error;
  }
}
