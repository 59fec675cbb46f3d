import { DrawerError, findLanguage } from '../content/index.ts';

/** Of lists, numbers and new files, where nothing is said. */
export const usualLanguage = 'en-GB';

/** @throws DrawerError `usage` */
export function checkLanguage(tag: string): void {
  if (findLanguage(tag) === undefined) throw new DrawerError('usage/language-unknown', { tag });
}
