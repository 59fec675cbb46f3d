import { cleanContent } from '../content/index.ts';
import { checkContent } from './bounds.ts';
import type { Format } from './format.ts';

/**
 * A reader whose content is valid whatever the file says, so that all of it can be kept: what no snippet can hold is left out,
 * and told.
 */
export const cleanTake =
  (take: NonNullable<Format['take']>): NonNullable<Format['take']> =>
  async (...given) => {
    const taken = await take(...given);
    checkContent(taken.content);
    const { content, cleaned } = cleanContent(taken.content);
    if (cleaned === 0) return taken;
    return {
      ...taken,
      content,
      notes: [...taken.notes, { kind: 'detail-left', count: cleaned }],
    };
  };
