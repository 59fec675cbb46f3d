import { type Content, checkedCall, parseContent } from '../content/index.ts';

/** Writes content; what is none, or options that are none, are one clear error. @throws DrawerError `invalid` */
export const checkedWrite = (content: Content, write: () => Promise<Uint8Array>): Promise<Uint8Array> =>
  checkedCall(write, () => parseContent(content));
