import { DrawerError } from '../../content/index.ts';

/** What a row holds. @throws DrawerError `storage` */
export function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (cause) {
    throw new DrawerError(
      {
        code: 'storage',
        what: 'A row of the drawer is damaged',
        next: 'Copy the drawer’s file away before anything else',
      },
      { cause },
    );
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
