import { type Block, type Inline, joinText } from '../../../content/index.ts';
import type { Budget } from '../../bounds.ts';
import { assemble, type ItemNumber, type RawBlock, type RawParagraph } from '../../flow/assemble.ts';
import type { ParagraphLook, ParagraphMeaning } from '../../flow/look.ts';
import type { NoteCounter } from '../../format.ts';
import type { SourceNode, Trace } from '../../trace.ts';
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

/**
 * The stories that are open: the body, and cells and text boxes inside it. A paragraph whose end a tracked change deleted
 * waits: as accepted, it goes on in the next of its story.
 */
export class TextFlows {
  readonly #context: BodyContext;
  readonly #trace: Trace | undefined;
  readonly #open: { readonly blocks: RawBlock[]; waiting?: OpenParagraph | undefined }[] = [{ blocks: [] }];

  constructor(context: BodyContext, trace: Trace | undefined) {
    this.#context = context;
    this.#trace = trace;
  }

  get depth(): number {
    return this.#open.length;
  }

  open(): void {
    this.#open.push({ blocks: [] });
  }

  close(): RawBlock[] {
    this.flush();
    return this.#open.pop()?.blocks ?? [];
  }

  /** How many blocks, items of lists counted one by one, the body has so far. */
  get count(): number {
    return this.#open[0]?.blocks.length ?? 0;
  }

  get blocks(): Block[] {
    this.flush();
    return assemble(this.#open[0]?.blocks ?? [], this.#trace);
  }

  addBlock(block: Block): void {
    this.#open.at(-1)?.blocks.push({ kind: 'block', block });
  }

  /** Keeps a paragraph that has ended; gives it as it counts, or `undefined` when it shows nothing or waits. */
  add(paragraph: OpenParagraph): RawParagraph | undefined {
    const story = this.#open.at(-1);
    if (!story) return undefined;
    if (story.waiting) goOn(story.waiting, paragraph);
    story.waiting = paragraph.markDeleted ? paragraph : undefined;
    return story.waiting ? undefined : this.#keep(paragraph);
  }

  /** There is no next paragraph. */
  flush(): void {
    const story = this.#open.at(-1);
    const waiting = story?.waiting;
    if (!story || !waiting) return;
    story.waiting = undefined;
    this.#keep(waiting);
  }

  /** One that is not wanted counts for the numbers of those behind it. */
  #keep(paragraph: OpenParagraph): RawParagraph | undefined {
    const blocks = this.#open.at(-1)?.blocks;
    const raw = paragraph.kept ? finishParagraph(paragraph, this.#context) : undefined;
    if (raw) blocks?.push(raw);
    else if (!paragraph.kept) countParagraph(paragraph, this.#context);
    blocks?.push(...paragraph.after);
    return raw;
  }
}

function goOn(before: OpenParagraph, paragraph: OpenParagraph): void {
  paragraph.inlines.unshift(...before.inlines);
  if (!before.node || !paragraph.node) return;
  paragraph.node.pieces.unshift(...before.node.pieces.splice(0));
  paragraph.node.joined.push(...before.node.joined, before.node);
}
