import type { Alignment, Inline, Table } from '../../../content/index.ts';
import type { ItemNumber } from './numbering.ts';
import type { ParagraphMeaning } from './style-meaning.ts';

/** What the body holds, flat as the format has it: lists and quotes are still single paragraphs. */
export type RawBlock = RawParagraph | RawTable;

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
}

export interface RawTable {
  readonly kind: 'table';
  readonly table: Table;
}
