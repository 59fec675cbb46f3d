import { plainText } from '../../content/index.ts';
import { checkedWrite } from '../checked-write.ts';
import { cleanTake } from '../clean-take.ts';
import type { Format } from '../format.ts';
import { insertText } from './insert.ts';
import { outlineText, takeText } from './read.ts';
import { removeText } from './remove.ts';

/** Plain text; written in UTF-8, lines ended by a line feed. */
export const text = {
  name: 'text',
  outline: outlineText,
  take: cleanTake(takeText),
  remove: removeText,
  insert: insertText,
  write: (content) => checkedWrite(content, async () => new TextEncoder().encode(`${plainText(content)}\n`)),
} satisfies Format;
