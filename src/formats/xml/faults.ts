import { DrawerError } from '../../content/index.ts';
import { checkBound, savedAnew } from '../bounds.ts';

/** A part that is not what it should be. */
export const unreadableXml = (part: string, what: string): DrawerError =>
  new DrawerError({
    code: 'unreadable',
    what: `The part ${part} ${what}`,
    next: 'Open and save the file in the program that made it, and try again',
  });

/** Of one tag, or of the text between two, in bytes or UTF-16 units. @throws DrawerError `too-large` */
export const checkLength = (length: number, part: string): void =>
  checkBound('xmlLength', length, savedAnew, `The part ${part}`);

/** @throws DrawerError `too-large` */
export const checkDepth = (depth: number, part: string): void => checkBound('xmlDepth', depth, savedAnew, part);
