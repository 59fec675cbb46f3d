import { checkBound } from '../bounds.ts';

/** Of one tag, or of the text between two, in bytes or UTF-16 units. @throws DrawerError `too-large` */
export const checkLength = (length: number, part: string): void => checkBound('xmlLength', length, part);

/** @throws DrawerError `too-large` */
export const checkDepth = (depth: number, part: string): void => checkBound('xmlDepth', depth, part);
