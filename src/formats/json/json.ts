import type { Format } from '../format.ts';
import { outlineJson, removeJson, takeJson } from './snippets.ts';

/** Snippets as Drawer prints and stores them: `docs/snippets.schema.json`. */
export const json = { name: 'json', outline: outlineJson, take: takeJson, remove: removeJson } satisfies Format;
