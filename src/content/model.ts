import type { Params } from './message.ts';
/**
 * What a snippet holds: plain readonly JSON, safe to `structuredClone`.
 *
 * Lengths are in points (1/72 inch), colours are `#rrggbb` in lower case, languages are BCP 47 tags, and a picture is
 * named by the SHA-256 of its bytes (lower-case hexadecimal), which live once in storage.
 */

/** One part of one paragraph, whole paragraphs, a range of cells, or one image: they land differently. */
export type Content = RunContent | BlocksContent | CellsContent | PictureContent;

/** The four shapes, in the order people meet them. */
export const shapes = ['run', 'blocks', 'cells', 'picture'] as const;
/** The shape of content. */
export type Shape = (typeof shapes)[number];

/** Words with marks, from inside one paragraph. Lands at the caret, without a new paragraph. */
export interface RunContent {
  readonly shape: 'run';
  readonly inlines: readonly Inline[];
}

/** Whole paragraphs, headings, lists, tables and so on. */
export interface BlocksContent {
  readonly shape: 'blocks';
  readonly blocks: readonly Block[];
}

/**
 * A range of a sheet. Every row has the same number of cells; a place covered by a neighbour's span holds an empty
 * cell. Long stretches of blank rows and columns are counted in `gaps`, not held; spans count the lines held.
 */
export interface CellsContent {
  readonly shape: 'cells';
  readonly rows: readonly (readonly Cell[])[];
  readonly gaps?: Gaps;
  /** Width of each column, where the source said so. */
  readonly columnWidths?: readonly number[];
  /** Present where the source has words alone, as separated values do: what reads as a value is one where it lands. */
  readonly untyped?: true;
}

/** The blank rows and columns of a range that are not held, from top to bottom and from first to last. */
export interface Gaps {
  readonly rows?: readonly Gap[];
  readonly columns?: readonly Gap[];
}

/** `count` blank lines in front of the line held at index `before`. */
export interface Gap {
  readonly before: number;
  readonly count: number;
}

/** One image on its own. */
export interface PictureContent {
  readonly shape: 'picture';
  readonly picture: Picture;
}

/** An image: its bytes lie beside the content, under their hash. */
export interface Picture {
  /** SHA-256 of the image's bytes. */
  readonly media: string;
  readonly mediaType: PictureType;
  /** Shown size in points; `undefined` when the source gave none. */
  readonly width?: number;
  readonly height?: number;
  /** Alternative text. */
  readonly alt?: string;
}

/** All media types of pictures. */
export const pictureTypes = ['image/png', 'image/jpeg', 'image/gif', 'image/webp', 'image/svg+xml'] as const;
/** The media type of a picture. */
export type PictureType = (typeof pictureTypes)[number];

// --- Inlines ---------------------------------------------------------------------------------------------------------

/** A part of a paragraph. */
export type Inline = Text | LineBreak | InlinePicture | Footnote;

/** Characters with the same marks. Holds no line ends: those are `break`. */
export interface Text {
  readonly type: 'text';
  readonly text: string;
  readonly marks?: Marks;
}

/** A line break within a paragraph. */
export interface LineBreak {
  readonly type: 'break';
}

/** A picture among words. */
export interface InlinePicture extends Picture {
  readonly type: 'picture';
}

/** A note at the foot of the page; where it stands is its reference. */
export interface Footnote {
  readonly type: 'footnote';
  readonly blocks: readonly Block[];
}

/** How text looks or what it is; an absent mark is off. */
export interface Marks {
  readonly bold?: true;
  readonly italic?: true;
  readonly underline?: true;
  readonly strike?: true;
  readonly code?: true;
  readonly position?: 'superscript' | 'subscript';
  readonly font?: string;
  /** In points. */
  readonly size?: number;
  readonly colour?: string;
  readonly background?: string;
  readonly link?: Link;
  readonly language?: string;
}

/** The target of a link. */
export interface Link {
  /** An absolute URL with a safe scheme, or `#name` within the same document. */
  readonly href: string;
  readonly title?: string;
}

// --- Blocks ----------------------------------------------------------------------------------------------------------

/** One block of running text. */
export type Block = Paragraph | Heading | List | Table | PictureBlock | Quote | Code | Rule;
/** The type of a block. */
export type BlockType = Block['type'];

/** The alignment and direction of a paragraph or heading. */
export interface ParagraphProperties {
  readonly align?: Alignment;
  /** Indent of the whole paragraph from its start side, in points. */
  readonly indent?: number;
  readonly direction?: 'ltr' | 'rtl';
  /** The name of a paragraph style of the source's own, where it says more than the block's type. */
  readonly style?: string;
}

/** All alignments. */
export const alignments = ['start', 'center', 'end', 'justify'] as const;
/** The alignment of a paragraph or cell; `start` and `end` follow the writing direction. */
export type Alignment = (typeof alignments)[number];

/** A paragraph of words and pictures. */
export interface Paragraph extends ParagraphProperties {
  readonly type: 'paragraph';
  readonly inlines: readonly Inline[];
}

/** A heading of a section. */
export interface Heading extends ParagraphProperties {
  readonly type: 'heading';
  readonly level: HeadingLevel;
  readonly inlines: readonly Inline[];
}
/** The level of a heading, from 1 to 6. */
export type HeadingLevel = 1 | 2 | 3 | 4 | 5 | 6;

/** Items with bullets, numbers or check boxes. */
export interface List {
  readonly type: 'list';
  readonly ordered: boolean;
  /** The first item's number, when it is not 1. Only for ordered lists. */
  readonly start?: number;
  /** How items are numbered or marked; absent means decimal numbers or a disc. */
  readonly marker?: ListMarker;
  readonly items: readonly ListItem[];
}

/** All looks of bullets and numbers. */
export const listMarkers = ['lower-alpha', 'upper-alpha', 'lower-roman', 'upper-roman', 'circle', 'square'] as const;
/** The look of bullets or numbers. */
export type ListMarker = (typeof listMarkers)[number];

/** An item of a list, with any blocks. */
export interface ListItem {
  readonly blocks: readonly Block[];
  /** Present on items with a check box. */
  readonly checked?: boolean;
}

/** A table in running text: its cells hold blocks. */
export interface Table {
  readonly type: 'table';
  readonly rows: readonly TableRow[];
  /** How many rows at the top are headings; absent means none. */
  readonly headerRows?: number;
  /** Width of each column in points, where the source said so. */
  readonly columnWidths?: readonly number[];
}

/** A row holds the cells that begin in it; places covered from above or beside are left out, as in HTML. */
export interface TableRow {
  readonly cells: readonly TableCell[];
}

/** A cell of a table in running text. */
export interface TableCell {
  readonly blocks: readonly Block[];
  /** How many columns it covers, when more than one. */
  readonly columnSpan?: number;
  /** How many rows it covers, when more than one. */
  readonly rowSpan?: number;
  readonly background?: string;
  /** The typed cell whose text the blocks show, where the table was a range of a sheet. */
  readonly value?: ValueCell;
}

/** A picture that is a block of its own. */
export interface PictureBlock extends Picture {
  readonly type: 'picture';
}

/** A quotation, with any blocks. */
export interface Quote {
  readonly type: 'quote';
  readonly blocks: readonly Block[];
}

/** Program text or anything else whose line ends and spaces count; lines end with `\n`. */
export interface Code {
  readonly type: 'code';
  readonly text: string;
  /** The programming language's usual name, such as `sql`. */
  readonly syntax?: string;
}

/** A horizontal rule between blocks. */
export interface Rule {
  readonly type: 'rule';
}

// --- Cells -----------------------------------------------------------------------------------------------------------

/** One cell: its typed value, and the text its workbook displays for it. */
export type Cell = EmptyCell | TextCell | NumberCell | DateCell | BooleanCell | ErrorCell;

/** A cell that is more than its words. */
export type ValueCell = NumberCell | DateCell | BooleanCell | ErrorCell;

/** The formula, span and look of a cell, whatever its value. */
interface CellLook {
  /** The cell's formula, without the leading `=`. */
  readonly formula?: string;
  readonly columnSpan?: number;
  readonly rowSpan?: number;
  readonly background?: string;
  readonly align?: Alignment;
  /** Marks of the whole cell. */
  readonly marks?: Marks;
}

/** A cell without a value. */
export interface EmptyCell extends CellLook {
  readonly type: 'empty';
}

/** A cell with words. */
export interface TextCell extends CellLook {
  readonly type: 'text';
  readonly value: string;
}

/** A cell whose workbook displays its value in a number format. */
interface Displayed extends CellLook {
  /** What the workbook shows, such as `£1,250.00`. */
  readonly text: string;
  /** Number format code (ISO/IEC 29500-1, 18.8.31), such as `#,##0.00`; absent means `General`. */
  readonly format?: string;
}

/** A cell with a number. */
export interface NumberCell extends Displayed {
  readonly type: 'number';
  readonly value: number;
}

/** A cell with a date, a time or both. */
export interface DateCell extends Displayed {
  readonly type: 'date';
  /** ISO 8601 local date `2026-05-03`, date and time `2026-05-03T09:30:00`, or time `09:30:00`. */
  readonly value: string;
}

/** A cell with a truth value. */
export interface BooleanCell extends Displayed {
  readonly type: 'boolean';
  readonly value: boolean;
}

/** A cell whose formula failed. */
export interface ErrorCell extends CellLook {
  readonly type: 'error';
  /** As the workbook shows it, such as `#DIV/0!`. */
  readonly value: string;
}

// --- Bytes beside the content, and what was brought down --------------------------------------------------------------

/** Picture bytes by their SHA-256. */
export type Media = ReadonlyMap<string, Uint8Array>;

/** The one empty media map. */
export const noMedia: Media = new Map();

/** Kinds of notes: what was simplified on reading a source, and what a target could not take as it was. */
export type NoteKind =
  | 'comment-left'
  | 'cell-comment-left'
  | 'cell-comments-left'
  | 'deletion-left'
  | 'insertion-taken'
  | 'move-taken'
  | 'equation-as-letters'
  | 'object-as-picture'
  | 'inner-document-left'
  | 'chart-left'
  | 'diagram-left'
  | 'film-left'
  | 'hidden-text-left'
  | 'page-break-left'
  | 'column-break-left'
  | 'link-outside-web'
  | 'link-inside-page'
  | 'link-inside-file'
  | 'picture-outside-left'
  | 'picture-as-description'
  | 'picture-missing'
  | 'detail-left'
  | 'hidden-row-left'
  | 'hidden-row-taken'
  | 'hidden-column-left'
  | 'hidden-column-taken'
  | 'hidden-sheet-left'
  | 'picture-over-cells-left'
  | 'drawing-over-cells-left'
  | 'secret-left'
  | 'results-out-of-date'
  | 'picture-without-cell'
  | 'picture-not-in-cells'
  | 'blank-rows-left'
  | 'blank-columns-left'
  | 'formulas-at-emptied'
  | 'extended-to-rows'
  | 'heading-not-cut'
  | 'formula-made-safe'
  | 'behind-paragraph'
  | 'decimals-ambiguous'
  | 'table-stacked'
  | 'table-apart'
  | 'column-added'
  | 'column-missing'
  | 'not-added-up-counter'
  | 'not-added-up-years'
  | 'not-added-up-no-amounts'
  | 'left-of-total';

/** One loss or change on the way, and how often it happened. */
export interface Note {
  readonly kind: NoteKind;
  readonly params?: Params;
  readonly count: number;
}
