import type { Block } from '../../../content/index.ts';
import { assemble } from '../../flow/assemble.ts';
import type { RawBlock, RawParagraph } from '../../flow/raw.ts';
import type { Trace } from '../../trace.ts';
import { type BodyContext, countParagraph, finishParagraph, type OpenParagraph } from './paragraph.ts';

/**
 * The stories that are open: the body, and cells and text boxes inside it. A paragraph whose end a tracked change deleted
 * waits: as accepted, it goes on in the next of its story.
 */
export class Stories {
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
