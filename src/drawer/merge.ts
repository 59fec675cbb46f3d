import type { Content } from '../content/index.ts';
import type { Part, Snippet } from './snippet.ts';

/** Something made of snippets that the drawer holds. */
export interface Merged {
  /** The ids of what it is made of, in order. */
  readonly of: readonly string[];
  readonly content: Content;
  readonly label?: string | undefined;
  /** Whether what it is made of leaves the drawer. */
  readonly takeOut?: boolean | undefined;
}

/** Where the parts of merged snippets are from, each with its own time; parts of parts stay apart. */
export const partsOf = (snippets: readonly Snippet[]): Part[] =>
  snippets.flatMap(({ parts, origin, takenAt, facts }) => parts ?? [{ origin, takenAt, what: facts.what }]);
