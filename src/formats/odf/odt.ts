import type { Format } from '../format.ts';
import { outlineOdt, takeOdt } from './odt/read.ts';
import { removeOdt } from './odt/remove.ts';

/** Text documents: ISO/IEC 26300 (OpenDocument). */
export const odt = { name: 'odt', outline: outlineOdt, take: takeOdt, remove: removeOdt } satisfies Format;
