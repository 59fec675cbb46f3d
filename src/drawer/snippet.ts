import type { Content, Description, Media, Shape } from '../content/index.ts';

/** Where a snippet came from; what is not known is left out. */
export interface Origin {
  /** A file's name, without its folders. */
  readonly file?: string;
  /**
   * The place in it, as `#` takes it: `section=Hull condition`, `table=2`, `Timber!B2:D5`. Any other words, such as the heading
   * above a part of a page, are shown as they are.
   */
  readonly place?: string;
  /** Which of the rows, items or paragraphs of that place it is, from 1, where each was gathered by itself. */
  readonly piece?: { readonly number: number; readonly of: number };
  readonly title?: string;
  readonly url?: string;
  /** The program it was copied in. */
  readonly program?: string;
}

/** What words or a cell can be as a whole. */
export const traits = ['date', 'money', 'number', 'quantity', 'email', 'url', 'phone', 'colour', 'code'] as const;
export type Trait = (typeof traits)[number];

/** One of the things that a snippet was built up from. */
export interface Part {
  readonly origin: Origin;
  readonly takenAt: string;
  readonly what: Description;
}

/** What lists show of the content, worked out once. */
export interface Facts {
  readonly shape: Shape;
  readonly what: Description;
  /** How it begins, on one line. */
  readonly preview: string;
  readonly characters: number;
  readonly words: number;
  readonly lines: number;
  /** Of its plain text in UTF-8. */
  readonly bytes: number;
  /** What it is as a whole; absent when nothing special. */
  readonly traits?: readonly Trait[];
}

/** A snippet without its content: all that a list needs. */
export interface SnippetSummary {
  readonly id: string;
  /** Sorts snippets: a fractional index key, compared by code units. */
  readonly order: string;
  readonly origin: Origin;
  /** When it was gathered: ISO 8601 in UTC. */
  readonly takenAt: string;
  readonly facts: Facts;
  /** The language of its words, a BCP 47 tag, where its source says so: how they write numbers and dates. */
  readonly language?: string;
  readonly label?: string;
  /** Held snippets are not let go to make room, and `delete all` passes them over. */
  readonly held?: true;
  /** Its content is shown nowhere and leaves no trace when it goes; `once`: it goes when it was pasted. */
  readonly secret?: true | 'once';
  /** When it leaves the drawer by itself: ISO 8601 in UTC. */
  readonly expiresAt?: string;
  /** What a snippet that was appended to is made of, first to last; absent on others. */
  readonly parts?: readonly Part[];
}

/** What goes along with content from one drawer to another. */
export type Travelling = Pick<SnippetSummary, 'origin'> &
  Partial<Pick<SnippetSummary, 'takenAt' | 'language' | 'label' | 'held' | 'secret' | 'expiresAt' | 'parts'>>;

/** Something that was gathered, with its content. */
export interface Snippet extends SnippetSummary {
  readonly content: Content;
}

/** Something to keep. */
export interface SnippetInput extends Pick<Snippet, 'content'>, Partial<Travelling> {
  /** Bytes of the pictures in the content. */
  readonly media?: Media;
  /** The language of its words: decides where they end, and how they write numbers and dates; what is no tag counts for none. */
  readonly language?: string;
}

/**
 * An origin on one line, in no language: `costs.xlsx, table=2, 1/7`. For finding and comparing; what people read is made by
 * `Words.origin`. The empty string when nothing is known.
 */
export const originText = ({ file, place, piece, title, url, program }: Origin): string =>
  [file ?? title ?? url ?? program, place, piece && `${piece.number}/${piece.of}`]
    .filter((part) => part !== undefined)
    .join(', ');

/** All places that a snippet is from, as they can be searched for. */
export const originsOf = ({ origin, parts }: Pick<SnippetSummary, 'origin' | 'parts'>): readonly Origin[] =>
  parts?.map((part) => part.origin) ?? [origin];

/** What a snippet is, in words that `is:` understands. */
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
