import { DrawerError, plural } from '../content/index.ts';

/** Which snippets, in words: `3`, `2-5`, `last`, `last-1`, `first`, `all`. */
type Reference =
  | { readonly kind: 'all' }
  | { readonly kind: 'range'; readonly from: number; readonly to: number }
  | { readonly kind: 'fromEnd'; readonly back: number };

/** @throws DrawerError `usage` for anything that is no reference. */
function parseReference(words: string): Reference {
  if (words === 'all') return { kind: 'all' };
  if (words === 'first') return { kind: 'range', from: 1, to: 1 };
  const [isLast, back = '0'] = /^last(?:-(\d{1,9}))?$/.exec(words) ?? [];
  if (isLast !== undefined) return { kind: 'fromEnd', back: Number(back) };
  const [isRange, from = '', to = from] = /^(\d{1,9})(?:-(\d{1,9}))?$/.exec(words) ?? [];
  if (isRange !== undefined) return { kind: 'range', from: Number(from), to: Number(to) };
  throw new DrawerError({
    code: 'usage',
    what: `“${words}” names no snippet`,
    next: 'Say a number (3), a range (2-5), first, last, last-1 or all',
  });
}

/**
 * Positions from 0, in the order the references give them; a range may run backwards, and a snippet may come twice.
 * @throws DrawerError `not-found` when one lies outside the drawer.
 */
export function resolveReferences(references: readonly string[], count: number): number[] {
  return references.flatMap((words) => positions(parseReference(words), words, count));
}

function positions(reference: Reference, words: string, count: number): number[] {
  if (reference.kind === 'all') return Array.from({ length: count }, (_, position) => position);
  const { from, to } =
    reference.kind === 'range' ? reference : { from: count - reference.back, to: count - reference.back };
  if (Math.min(from, to) < 1 || Math.max(from, to) > count) {
    throw new DrawerError({
      code: 'not-found',
      what: `There is no snippet ${words}`,
      next:
        count === 0
          ? 'The drawer is empty: gather something with drawer copy FILE'
          : `The drawer holds ${plural(count, 'snippet')}`,
    });
  }
  const step = from <= to ? 1 : -1;
  return Array.from({ length: Math.abs(to - from) + 1 }, (_, index) => from - 1 + index * step);
}
