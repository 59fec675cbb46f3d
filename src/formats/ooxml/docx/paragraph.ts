import { type Block, type Inline, joinText } from '../../../content/index.ts';
import type { Budget } from '../../bounds.ts';
import type { ParagraphLook } from '../../flow/look.ts';
import type { ItemNumber, RawBlock, RawParagraph } from '../../flow/raw.ts';
import type { ParagraphMeaning } from '../../flow/style-meaning.ts';
import type { NoteCounter } from '../../format.ts';
import type { SourceNode } from '../../trace.ts';
import type { Relationships } from '../opc.ts';
import type { Numbering } from './numbering.ts';
import type { Style, Styles } from './styles.ts';
import type { CellLook } from './table-styles.ts';

/** What the other parts of the package say about the body. */
export interface BodyContext {
  readonly styles: Styles;
  readonly numbering: Numbering;
  readonly relationships: Relationships;
  readonly budget: Budget;
  /** The blocks of a footnote or endnote. */
  readonly footnote: (id: string, kind: 'footnote' | 'endnote') => readonly Block[] | undefined;
  readonly notes: NoteCounter;
}

/** A paragraph that is being heard. */
export class OpenParagraph {
  readonly look: ParagraphLook = {};
  readonly inlines: Inline[] = [];
  /** Blocks of text boxes anchored in it, which follow it. */
  readonly after: RawBlock[] = [];
  readonly node: SourceNode | undefined;
  /** Whether it is wanted; headings always are, since they tell what else is. */
  kept: boolean;
  style: Style | undefined;
  markHidden = false;
  markDeleted = false;
  checked: boolean | undefined;
  /** What the style of the table around it makes of its cell. */
  cellLook: CellLook | undefined;
  readonly #styles: Styles;
  #meaning: ParagraphMeaning | undefined;

  constructor(styles: Styles, node: SourceNode | undefined, kept: boolean) {
    this.#styles = styles;
    this.node = node;
    this.kept = kept;
  }

  setStyle(style: Style | undefined): void {
    this.style = style;
    this.#meaning = undefined;
  }

  /** Asked for when its properties have been heard. */
  get meaning(): ParagraphMeaning {
    this.#meaning ??= this.#styles.meaning(this.style ?? this.#styles.plain, this.look.outlineLevel);
    return this.#meaning;
  }

  get inherited(): ParagraphLook {
    return (this.style ?? this.#styles.plain).paragraph;
  }

  get isNumbered(): boolean {
    return (this.look.numberingId ?? this.inherited.numberingId ?? '0') !== '0';
  }
}

export const openParagraph = (styles: Styles, node: SourceNode | undefined, kept: boolean): OpenParagraph =>
  new OpenParagraph(styles, node, kept);

/** Its place in the list that it is an item of, if it is one; items behind it go on from there. */
export function countParagraph(
  { meaning, inherited, look, style }: OpenParagraph,
  { numbering }: { readonly numbering: Numbering },
): ItemNumber | undefined {
  const numberingId = look.numberingId ?? inherited.numberingId;
  const numberingLevel = look.numberingLevel ?? inherited.numberingLevel;
  const isItem = meaning.kind !== 'heading' && numberingId !== undefined && numberingId !== '0';
  return isItem ? numbering.next(numberingId, numberingLevel, style?.id) : undefined;
}

/** The paragraph as it counts; `undefined` where its hidden mark shows nothing. */
export function finishParagraph(
  paragraph: OpenParagraph,
  { styles, numbering }: { readonly styles: Styles; readonly numbering: Numbering },
): RawParagraph | undefined {
  const { meaning, inherited, checked, node } = paragraph;
  const inlines = joinText(paragraph.inlines);
  if (inlines.length === 0 && paragraph.markHidden) return undefined;
  const look: ParagraphLook = { ...inherited, ...paragraph.look };
  const ownIndent = meaning.kind === 'plain' || meaning.kind === 'named' ? look.indent : paragraph.look.indent;
  const direction = look.direction ?? 'ltr';
  const item = countParagraph(paragraph, { numbering });
  return {
    kind: 'paragraph',
    meaning,
    inlines,
    ...(look.align && { align: look.align }),
    ...(ownIndent !== undefined && { indent: ownIndent }),
    ...(direction !== (styles.plain.paragraph.direction ?? 'ltr') && { direction }),
    ...(item && { item }),
    ...(checked !== undefined && { checked }),
    ...(look.ruled && { ruled: true }),
    ...(node && { source: node }),
  };
}
