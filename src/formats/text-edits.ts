import type { Extent } from './trace.ts';

/** What a stretch of text becomes. */
export interface TextEdit extends Extent {
  readonly replacement: string;
}

/** Applies edits that do not overlap to a text; where one lies inside another, the outer one counts. */
export function applyEdits(
  text: string,
  edits: readonly TextEdit[],
  within: Extent = { start: 0, end: text.length },
): string {
  const sorted = edits
    .filter(({ start, end }) => start >= within.start && end <= within.end)
    .sort(
      (one, other) =>
        one.start - other.start || Number(isInsertion(other)) - Number(isInsertion(one)) || other.end - one.end,
    );
  let at = within.start;
  let result = '';
  for (const { start, end, replacement } of sorted) {
    if (start < at) continue; // inside one that is applied already
    result += text.slice(at, start) + replacement;
    at = end;
  }
  return result + text.slice(at, within.end);
}

const isInsertion = ({ start, end }: Extent): boolean => start === end;
