import { plainText } from '../../content/index.ts';
import type { Format } from '../format.ts';

/** Plain text in UTF-8, lines ended by a line feed. */
export const text = {
  name: 'text',
  write: async (content) => new TextEncoder().encode(`${plainText(content)}\n`),
} satisfies Format;
