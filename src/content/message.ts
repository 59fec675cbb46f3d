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
/** What fills the blanks of a sentence, by the names of the blanks. */
export type Params = Readonly<Record<string, Param>>;

/** `3 rows`, as a part of a sentence. */
export const countOf = (unit: string, count: number): Message => ({ kind: `count.${unit}`, params: { count } });

/** A list of which only the first are named, with how many more there are. */
export const firstOf = (items: readonly (string | Message)[], most: number): Param =>
  items.length <= most
    ? items
    : { kind: 'listMore', params: { items: items.slice(0, most), count: items.length - most } };

/** A whole number with its thousands parted: `100,000`. */
export const grouped = (count: number): string => String(count).replace(/\B(?=(\d{3})+$)/g, ',');

/** `3 paragraphs`, `1 row`: English forms; other languages come with the panel's catalogue. */
export const plural = (count: number, one: string, many = `${one}s`): string =>
  `${grouped(count)} ${count === 1 ? one : many}`;

/** Formats a size in powers of 1024, such as `12 KB` or `1 GB`. */
export function bytesInWords(bytes: number): string {
  const power = bytes < 1024 ? 0 : Math.min(3, Math.floor(Math.log2(bytes) / 10));
  const value = bytes / 1024 ** power;
  return power === 0
    ? plural(bytes, 'byte')
    : `${value < 10 ? Number(value.toFixed(1)) : Math.round(value)} ${['', 'KB', 'MB', 'GB'][power]}`;
}

/** The language tag (BCP 47) as it is, or `undefined` when it is none that a program could work by. */
export function findLanguage(tag: string | undefined): string | undefined {
  if (tag === undefined || !/^[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*$/.test(tag)) return undefined;
  try {
    new Intl.Locale(tag);
    return tag;
  } catch {
    return undefined; // well put, but not a tag: such as `en-a`
  }
}
