import { joinText } from './build.ts';
import type { Inline } from './model.ts';

/** One UTF-16 unit stands for a break, a picture or a footnote, so that offsets map back to inlines. */
const unitOf = { break: '\n', picture: '\ufffc', footnote: '\ufffc' } as const;
export const inlineUnits = (inline: Inline): string => (inline.type === 'text' ? inline.text : unitOf[inline.type]);

/** The part of inlines between two offsets in UTF-16 units. */
export function sliceInlines(inlines: readonly Inline[], from: number, to: number): Inline[] {
  let at = 0;
  const kept = inlines.flatMap((inline): Inline[] => {
    const length = inlineUnits(inline).length;
    const start = Math.max(from - at, 0);
    const end = Math.min(to - at, length);
    at += length;
    if (start >= end) return [];
    return [inline.type === 'text' ? { ...inline, text: inline.text.slice(start, end) } : inline];
  });
  return joinText(kept);
}
