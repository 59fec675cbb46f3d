import type { Content, Description, Media, Shape } from '../content/index.ts';

/** A value of JSON (RFC 8259). */
export type Json = string | number | boolean | null | readonly Json[] | { readonly [name: string]: Json };

/** An application's own data, by names that begin with its domain: `{ 'example.org/reader': { page: 12 } }`. */
export type Meta = Readonly<Record<string, Json>>;

/** The source of a snippet; unknown facts are absent. */
export interface Origin {
  /** The file's name, without folders. */
  readonly file?: string;
  /**
   * The place in the syntax of `#`: `section=Hull condition`, `table=2`, `Timber!B2:D5`. Other words, such as the heading above
   * a part of a page, are shown unchanged.
   */
  readonly place?: string;
  /** The number (from 1) of the row, item or paragraph within that place, if each was gathered separately. */
  readonly piece?: { readonly number: number; readonly of: number };
  readonly title?: string;
  readonly url?: string;
  /** The program in which it was copied. */
  readonly program?: string;
  /** Data of applications about the source. */
  readonly meta?: Meta;
}

/** What a whole text or cell can be recognised as. */
export const traits = ['date', 'money', 'number', 'quantity', 'email', 'url', 'phone', 'colour', 'code'] as const;
/** What a whole text or cell is recognised as. */
export type Trait = (typeof traits)[number];

/** One part of a snippet that was built up by appending or merging. */
export interface Part {
  readonly origin: Origin;
  readonly takenAt: string;
  readonly what: Description;
}

/** Facts about the content that lists show, computed once. */
export interface Facts {
  readonly shape: Shape;
  readonly what: Description;
  /** Its beginning, on one line. */
  readonly preview: string;
  readonly characters: number;
  readonly words: number;
  readonly lines: number;
  /** The size of its plain text in UTF-8. */
  readonly bytes: number;
  /** What it is recognised as; absent if nothing in particular. */
  readonly traits?: readonly Trait[];
}

/** A snippet without its content, for lists. */
export interface SnippetSummary {
  readonly id: string;
  /** A fractional index. Snippets are sorted by it, and by their ids where it is the same; both are compared by code units. */
  readonly order: string;
  readonly origin: Origin;
  /** When it was gathered: ISO 8601 in UTC. */
  readonly takenAt: string;
  readonly facts: Facts;
  /** The language of its words and its number and date formats: a BCP 47 tag, if the source declares one. */
  readonly language?: string;
  readonly label?: string;
  /** A held snippet never makes room for new ones, and `delete all` skips it. */
  readonly held?: true;
  /** A secret's content is never shown, and its removal leaves no trace; `once`: it is removed after it was pasted. */
  readonly secret?: true | 'once';
  /** When it expires: ISO 8601 in UTC. */
  readonly expiresAt?: string;
  /** The parts of a snippet that was built up, in order; absent on others. */
  readonly parts?: readonly Part[];
  /** Data of applications about the snippet; kept with it, and shown by none but them. */
  readonly meta?: Meta;
}

/** What snippets are sorted by. */
export type SortKey = Pick<SnippetSummary, 'order' | 'id'>;

/** Compares two snippets by their places in the drawer; negative if `one` comes first. */
export function compareOrder(one: SortKey, other: SortKey): number {
  if (one.order !== other.order) return one.order < other.order ? -1 : 1;
  return one.id === other.id ? 0 : one.id < other.id ? -1 : 1;
}

/** Metadata that travels with content from one drawer to another. */
export type Travelling = Pick<SnippetSummary, 'origin'> &
  Partial<Pick<SnippetSummary, 'takenAt' | 'language' | 'label' | 'held' | 'secret' | 'expiresAt' | 'parts' | 'meta'>>;

/** A snippet with its content. */
export interface Snippet extends SnippetSummary {
  readonly content: Content;
}

/** Content to keep as a snippet. */
export interface SnippetInput extends Pick<Snippet, 'content'>, Partial<Travelling> {
  /** Bytes of the pictures in the content. */
  readonly media?: Media;
  /** The language of its words, a BCP 47 tag: decides word breaks, and number and date formats. An invalid tag counts as none. */
  readonly language?: string;
}

/**
 * An origin on one line, independent of language: `costs.xlsx, table=2, 1/7`. For searching and comparing; `Words.origin` makes
 * the words for people. The empty string if nothing is known.
 */
export const originText = ({ file, place, piece, title, url, program }: Origin): string =>
  [file ?? title ?? url ?? program, place, piece && `${piece.number}/${piece.of}`]
    .filter((part) => part !== undefined)
    .join(', ');

/** All origins of a snippet: its parts' or its own. */
export const originsOf = ({ origin, parts }: Pick<SnippetSummary, 'origin' | 'parts'>): readonly Origin[] =>
  parts?.map((part) => part.origin) ?? [origin];

/** The kinds by which `is:` finds a snippet. */
export function searchKindsOf({ facts, held, secret, parts, label, expiresAt }: SnippetSummary): string[] {
  const what = facts.what.kind;
  return [
    ...new Set([
      facts.shape,
      ...(what === 'paragraphs' || what === 'blocks' ? [] : [what]),
      ...(facts.shape === 'run' ? ['words'] : []),
      ...(what === 'table' || what === 'cell' ? ['cells'] : []),
      ...(facts.traits ?? []),
      ...(facts.traits?.includes('url') ? ['link'] : []),
      ...(held ? ['held'] : []),
      ...(secret ? ['secret'] : []),
      ...(parts ? ['built-up'] : []),
      ...(label === undefined ? [] : ['labelled']),
      ...(expiresAt === undefined ? [] : ['expiring']),
    ]),
  ];
}
