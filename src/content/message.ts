/**
 * Something to say, as data: which sentence it is, and what fills its blanks. The front that shows it makes the words, in its
 * reader's language.
 */
export interface Message {
  readonly kind: string;
  readonly params?: Params;
}

/** A number is written as its reader's language writes it, a text as it is, a list with commas or the language's “and”. */
export type Param = string | number | Message | readonly (string | Message)[];
export type Params = Readonly<Record<string, Param>>;

/** `3 rows`, as a part of a sentence. */
export const countOf = (unit: string, count: number): Message => ({ kind: `count.${unit}`, params: { count } });

/** A list of which only the first are named, with how many more there are. */
export const firstOf = (items: readonly (string | Message)[], most: number): Param =>
  items.length <= most
    ? items
    : { kind: 'listMore', params: { items: items.slice(0, most), count: items.length - most } };
