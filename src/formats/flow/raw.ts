import type { Alignment, Block, Inline, ListMarker } from '../../content/index.ts';
import type { SourceNode } from '../trace.ts';
import type { ParagraphMeaning } from './look.ts';

/** What a story holds, flat as its format has it: quotes, and lists where they are numbered paragraphs, are still single. */
export type RawBlock = RawParagraph | RawOther;

/** An item's place in its list. */
export interface ItemNumber {
  /** Items of one list share it. */
  readonly list: string;
  readonly level: number;
  readonly ordered: boolean;
  readonly marker?: ListMarker;
  readonly number: number;
}

export interface RawParagraph {
  readonly kind: 'paragraph';
  readonly meaning: ParagraphMeaning;
  readonly inlines: readonly Inline[];
  readonly align?: Alignment;
  readonly indent?: number;
  readonly direction?: 'ltr' | 'rtl';
  readonly item?: ItemNumber;
  /** The state of a check box at its start. */
  readonly checked?: boolean;
  /** A line is drawn under it. */
  readonly ruled?: boolean;
  /** Where it was read from, when somebody asked. */
  readonly source?: SourceNode;
}

/** A block that is whole already, such as a table. */
export interface RawOther {
  readonly kind: 'block';
  readonly block: Block;
}
