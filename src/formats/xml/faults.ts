import { DrawerError } from '../../content/index.ts';

/** Guards against hostile files. */
export const xmlLimits = {
  depth: 2_000,
  /** Of one tag, or of the text between two, in UTF-16 units or bytes. */
  length: 32 * 1024 * 1024,
} as const;

/** A part that is not what it should be. */
export const unreadableXml = (part: string, what: string): DrawerError =>
  new DrawerError({
    code: 'unreadable',
    what: `The part ${part} ${what}`,
    next: 'Open and save the file in the program that made it, and try again',
  });

export const tooLong = (part: string): DrawerError =>
  new DrawerError({
    code: 'too-large',
    what: `The part ${part} has a tag or text of over 32 MB, which no office file needs`,
  });

export const tooDeep = (part: string): DrawerError =>
  new DrawerError({
    code: 'too-large',
    what: `The part ${part} is nested more than ${xmlLimits.depth} elements deep`,
  });
