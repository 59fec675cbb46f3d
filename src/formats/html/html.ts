import { checkedInsert, checkedRemove, checkedWrite, cleanTake } from '../checked-change.ts';
import type { Format } from '../format.ts';
import { fillHtml, slotsHtml } from './fill.ts';
import { insertHtml } from './insert.ts';
import { outlineHtml, takeHtml } from './read.ts';
import { removeHtml } from './remove.ts';
import { writeHtml } from './write.ts';

/** Pages: the HTML standard. */
export const html = {
  name: 'html',
  outline: outlineHtml,
  take: cleanTake(takeHtml),
  remove: checkedRemove(removeHtml, takeHtml),
  insert: checkedInsert(insertHtml, takeHtml),
  slots: slotsHtml,
  fill: fillHtml,
  write: (content, options) => checkedWrite(content, () => writeHtml(content, options)),
} satisfies Format;
