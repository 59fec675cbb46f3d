import type { Block, Content, Note } from '../content/index.ts';
import { type Origin, originText } from '../drawer/index.ts';
import type { NeighbourRule } from './neighbours.ts';

/** What is composed: a snippet, or as much of one as is known. */
export interface Composable {
  readonly content: Content;
  readonly origin?: Origin;
  readonly label?: string;
  /** What a built-up or merged one is made of, each with where it is from. */
  readonly parts?: readonly { readonly origin: Origin }[];
  /** ISO 8601. */
  readonly takenAt?: string;
  /** The drawer's order key: what `collected` sorts by. */
  readonly order?: string;
  /** The language of its words, a BCP 47 tag: how they write numbers and dates. */
  readonly language?: string;
}

/** How pieces are put together; an object is any text between them. */
export const composeJoins = [
  'nothing',
  'space',
  'line',
  'paragraph',
  'blank-line',
  'sentence',
  'bullets',
  'numbers',
  'checks',
  'rows',
  'link',
] as const;
export type ComposeJoin = (typeof composeJoins)[number] | { readonly text: string };

export const composeOrders = ['given', 'collected', 'reversed', 'origin', 'label', 'value', 'date', 'amount'] as const;
export type ComposeOrder = (typeof composeOrders)[number];

export const attributions = ['none', 'inline', 'footnotes', 'list'] as const;
export type Attribution = (typeof attributions)[number];

/** What can be tidied: ends and blanks, doubled spaces, lines broken by fixed-width text, quotation marks, repeats. */
export const tidyings = ['trim', 'blanks', 'spaces', 'lines', 'straight-quotes', 'curly-quotes', 'repeats'] as const;
export type Tidying = (typeof tidyings)[number];
/** All but the quotation marks, which are a choice. */
export const plainTidyings: readonly Tidying[] = ['trim', 'blanks', 'spaces', 'lines', 'repeats'];

export const totalKinds = ['count', 'sum', 'smallest', 'largest', 'mean'] as const;
export type TotalKind = (typeof totalKinds)[number];

/** The words that composing itself puts into a document; `Words.inDocuments` has them in a reader's language. */
export interface ComposeWords {
  /** Above the list of sources. */
  readonly sources: string;
  /** What each total is called. */
  readonly totals: { readonly [K in TotalKind]: string };
  /** An origin on one line; the empty string where nothing is known. */
  source(origin: Origin): string;
  /** A place of a file, as origins have it. */
  place(place: string): string;
}

/** Where nobody gives words: English names, and places as `#` takes them. */
export const plainWords: ComposeWords = {
  sources: 'Sources',
  totals: { count: 'Count', sum: 'Sum', smallest: 'Smallest', largest: 'Largest', mean: 'Mean' },
  source: originText,
  place: (place) => place,
};

/** How snippets are put together; everything is optional. */
export interface ComposeOptions {
  /** Without one, words alone are parted by a space and everything else stands in paragraphs of its own. */
  readonly join?: ComposeJoin;
  /** Whether the last of a sentence's list is an addition or an alternative. */
  readonly last?: 'and' | 'or';
  readonly order?: ComposeOrder;
  /**
   * What stands around each piece: `{content}`, `{number}`, `{label}`, `{origin}`, `{file}`, `{place}`, `{date}`, `{words}`,
   * `{characters}` and `{count}` (of all pieces) are filled in.
   */
  readonly around?: string;
  readonly attribution?: Attribution;
  readonly tidy?: readonly Tidying[];
  /** Put under the numbers and money of the pieces. */
  readonly totals?: readonly TotalKind[];
  /** The level that the highest heading gets; the others follow. */
  readonly headingLevel?: number;
  /** How lists of a sentence, numbers and dates are written; `en-GB` when not given. */
  readonly language?: string;
  /** The words for sources and totals, in the document's language; English when not given. */
  readonly words?: ComposeWords;
  /** How all pieces write numbers and dates, a BCP 47 tag; without one each is read in its own language, or else in `language`. */
  readonly readAs?: string;
  readonly timeZone?: string;
  /** Asked before our own how two blocks meet. */
  readonly neighbours?: readonly NeighbourRule[];
  /** The day that words name as ISO 8601, for ordering by value; without it only cells and ISO dates are days. */
  readonly findDate?: (words: string) => string | undefined;
}

/** What snippets come to once they are put together. */
export interface Composed {
  readonly content: Content;
  /** The pieces by themselves, ordered, tidied and with what stands around them, for what lands one by one. */
  readonly pieces: readonly Content[];
  /** The content where it lands in cells: what stays apart in it, such as ranges with different headings, each by itself. */
  readonly parts: readonly Content[];
  /** The language in which the numbers and dates of each part are written, where it is known. */
  readonly languages: readonly (string | undefined)[];
  /** What could not be put together as it was, such as a column without a match. */
  readonly notes: readonly Note[];
}

/** A piece on its way. */
export interface Piece extends Composable {
  /** From 1, in the order that was asked for. */
  readonly number: number;
}

export type Blocks = readonly Block[];
