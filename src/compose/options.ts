import type { Block, Content, Note } from '../content/index.ts';
import { type Origin, originText } from '../drawer/index.ts';
import type { NeighbourRule } from './neighbours.ts';

/** A snippet to compose; only the content is required. */
export interface Composable {
  readonly content: Content;
  readonly origin?: Origin;
  readonly label?: string;
  /** The parts of a built-up or merged snippet, with their origins. */
  readonly parts?: readonly { readonly origin: Origin }[];
  /** When it was gathered: ISO 8601. */
  readonly takenAt?: string;
  /** The drawer's order key; `collected` sorts by it. */
  readonly order?: string;
  /** The language of its words and its number and date formats: a BCP 47 tag. */
  readonly language?: string;
}

/** Makes one content of the contents of all pieces, which come ordered, tidied and in their templates. */
export type JoinFunction = (contents: readonly Content[]) => Content;

/** How pieces are joined: by name, with any text between them, or by a function of one's own. */
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
export type ComposeJoin = (typeof composeJoins)[number] | { readonly text: string } | JoinFunction;

/** All orders of pieces. */
export const composeOrders = ['given', 'collected', 'reversed', 'origin', 'label', 'value', 'date', 'amount'] as const;
/** The order of pieces. */
export type ComposeOrder = (typeof composeOrders)[number];

/** All ways to give sources. */
export const attributions = ['none', 'inline', 'footnotes', 'list'] as const;
/** How the sources of pieces are given. */
export type Attribution = (typeof attributions)[number];

/** Kinds of tidying: trimmed ends, blank pieces, double spaces, hard line breaks, quotation marks, repeated pieces. */
export const tidyings = ['trim', 'blanks', 'spaces', 'lines', 'straight-quotes', 'curly-quotes', 'repeats'] as const;
/** A kind of tidying. */
export type Tidying = (typeof tidyings)[number];
/** All kinds except quotation marks, which are a matter of taste. */
export const plainTidyings: readonly Tidying[] = ['trim', 'blanks', 'spaces', 'lines', 'repeats'];

/** All kinds of totals. */
export const totalKinds = ['count', 'sum', 'smallest', 'largest', 'mean'] as const;
/** A kind of total. */
export type TotalKind = (typeof totalKinds)[number];

/** The words that composing adds to a document; `Words.inDocuments` has them in other languages. */
export interface ComposeWords {
  /** The heading of the list of sources. */
  readonly sources: string;
  /** The name of each total. */
  readonly totals: { readonly [K in TotalKind]: string };
  /** An origin on one line; the empty string if nothing is known. */
  source(origin: Origin): string;
  /** A place of a file, in words. */
  place(place: string): string;
}

/** The default words: English names, and places in the syntax of `#`. */
export const plainWords: ComposeWords = {
  sources: 'Sources',
  totals: { count: 'Count', sum: 'Sum', smallest: 'Smallest', largest: 'Largest', mean: 'Mean' },
  source: originText,
  place: (place) => place,
};

/** How snippets are composed; everything is optional. */
export interface ComposeOptions {
  /** Default: a space between words, and separate paragraphs for everything else. */
  readonly join?: ComposeJoin;
  /** The conjunction before the last item of a `sentence`. */
  readonly last?: 'and' | 'or';
  readonly order?: ComposeOrder;
  /**
   * A template for each piece, with the blanks `{content}`, `{number}`, `{label}`, `{origin}`, `{file}`, `{place}`, `{date}`,
   * `{words}`, `{characters}` and `{count}` (the number of pieces).
   */
  readonly around?: string;
  readonly attribution?: Attribution;
  readonly tidy?: readonly Tidying[];
  /** Totals to add below the numbers and amounts of the pieces. */
  readonly totals?: readonly TotalKind[];
  /** The level of the highest heading, from 1 to 6; the others shift with it. */
  readonly headingLevel?: number;
  /** The language of lists in a sentence, numbers and dates, a BCP 47 tag; default `en-GB`. */
  readonly language?: string;
  /** The words for sources and totals, in the document's language; default English. */
  readonly words?: ComposeWords;
  /** The language in which to read the pieces' numbers and dates, a BCP 47 tag; default: each piece's own, or else `language`. */
  readonly readAs?: string;
  readonly timeZone?: string;
  /** Rules for adjacent blocks, applied before the built-in ones. */
  readonly neighbours?: readonly NeighbourRule[];
  /** Finds the day named by words, as ISO 8601, for ordering by value; without it, only date cells and ISO dates count. */
  readonly findDate?: (words: string) => string | undefined;
}

/** The result of composing. */
export interface Composed {
  readonly content: Content;
  /** The pieces separately: ordered, tidied and in their templates, for pasting one by one. */
  readonly pieces: readonly Content[];
  /** The content for pasting into cells: parts that stay separate, such as ranges with different headings. */
  readonly parts: readonly Content[];
  /** The language of the numbers and dates in each part, if known. */
  readonly languages: readonly (string | undefined)[];
  /** Notes about content that could not be joined unchanged, such as a column without a match. */
  readonly notes: readonly Note[];
}

/** A piece while it is composed. */
export interface Piece extends Composable {
  /** Counted from 1, in the requested order. */
  readonly number: number;
}

export type Blocks = readonly Block[];
