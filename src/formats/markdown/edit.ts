import { gfmToMarkdown } from 'mdast-util-gfm';
import { type Options, toMarkdown } from 'mdast-util-to-markdown';
import { type Block, DrawerError, type Footnote, type Inline, type List } from '../../content/index.ts';
import type { Insertion, Source } from '../format.ts';
import { type BlockTarget, InsertionGrammar } from '../insertion-grammar.ts';
import type { EditableProse, ProseLanding } from '../prose-format.ts';
import { lineEndOf, lineStart, standing } from '../text/positions.ts';
import { editableText } from '../text/text.ts';
import { applyEdits, type TextEdit } from '../text-edits.ts';
import type { SourceNode } from '../trace.ts';
import { markdownGrammar, mendMarkdown } from './grammar.ts';
import { commentOf, readMarkdown } from './read.ts';
import { type MarkdownWriter, writeBlocks, writeInlines } from './write-blocks.ts';

/** A text in which what lands is written in the signs that it uses already. */
export const editMarkdown = (source: Source): Promise<EditableProse> =>
  editableText(source, {
    grammar: markdownGrammar,
    read: readMarkdown,
    landing: (text, insertion) => new MarkdownLanding(text, insertion),
    mend: mendMarkdown,
  });

class MarkdownLanding extends InsertionGrammar implements ProseLanding {
  readonly #writer: MarkdownWriter;
  readonly #options: Options;
  readonly #source: string;
  readonly #bookmark: string | undefined;

  constructor(source: string, { media, pictureAddress, bookmark }: Insertion) {
    super(markdownGrammar);
    this.#bookmark = bookmark;
    this.#source = source;
    this.#options = signsOf(source);
    const start = notesIn(source);
    this.#writer = {
      options: { media, ...(pictureAddress && { pictureAddress }) },
      footnotes: new NumberedFrom(start),
    };
  }

  blocks(blocks: readonly Block[], spot: BlockTarget): TextEdit {
    const node = spot.item ?? spot.above ?? spot.below;
    if (spot.list && node) return this.#items(blocks, spot, node);
    const prefix = node ? prefixOf(this.#source, node) : '';
    if (this.#bookmark !== undefined && prefix !== '') throw new DrawerError('unsupported/bookmark-not-here');
    return standing(this.#source, this.#behindBookmarks(spot), this.#text(blocks), { prefix });
  }

  /** Items under those of a list, their numbers following, parted as these are. */
  #items(
    blocks: readonly Block[],
    { list, itemsBefore = 0, position, below }: BlockTarget,
    node: SourceNode,
  ): TextEdit {
    const [added] = blocks as readonly [List];
    const first = (list?.start ?? 1) + itemsBefore;
    const body = this.#text([{ ...added, ...(added.ordered && { start: first }) }]);
    const marker = prefixOf(this.#source, node, true);
    const outer = marker.replace(/(?:[-*+]|\d{1,9}[.)])[ \t]+(?:\[[ xX]\][ \t]+)?$/, '');
    const isLoose = /\n[ \t]*\r?\n/.test(
      this.#source.slice(node.parent?.parent?.start ?? node.start, node.parent?.parent?.end ?? node.end).trim(),
    );
    const place = below ? lineStart(this.#source, position) : position;
    return standing(this.#source, place, body, { prefix: outer.replace(/[^>\s]/g, ' '), gap: isLoose ? 2 : 1 });
  }

  words(inlines: readonly Inline[], { position }: { readonly position: number }): TextEdit[] {
    if (this.#bookmark !== undefined) throw new DrawerError('unsupported/bookmark-not-here');
    const written = toMarkdown(
      { type: 'root', children: [{ type: 'paragraph', children: writeInlines(this.#writer, inlines) }] },
      this.#options,
    ).replace(/\n$/, '');
    // The writer guards spaces at the ends of a paragraph; inside one they need no guard.
    const bare = written
      .replace(/^&#x20;/, ' ')
      .replace(/&#x20;$/, ' ')
      .replaceAll('\n', lineEndOf(this.#source));
    return [{ start: position, end: position, replacement: bare }];
  }

  part(): { close: string; open: string } {
    return { close: '', open: '' };
  }

  #text(blocks: readonly Block[]): string {
    return toMarkdown({ type: 'root', children: writeBlocks(this.#writer, blocks) }, this.#options).replace(/\n$/, '');
  }

  /** A bookmark lies beside another that ends at the place, not in it. */
  #behindBookmarks({ position, above }: BlockTarget): number {
    if (this.#bookmark === undefined || !above) return position;
    const [ends = ''] = /^(?:\s*<!-- \/bookmark: \w+ -->)*/.exec(this.#source.slice(position)) ?? [];
    return position + ends.length;
  }

  /** Comments of HTML on lines of their own (CommonMark, section 4.6, kind 2). */
  bookmarked(source: string, name: string): string {
    const end = lineEndOf(this.#source);
    return source.replace(
      /^(\s*)([\s\S]*?)(\s*)$/,
      (_, lead, inside, trail) =>
        `${lead}${commentOf(name)}${end}${end}${inside}${end}${end}${commentOf(name, true)}${trail}`,
    );
  }

  withoutBookmark(name: string): readonly TextEdit[] {
    const comments = [commentOf(name), commentOf(name, true)];
    if (!comments.every((comment) => this.#source.includes(comment))) return [];
    return comments.map((comment) => {
      const start = this.#source.indexOf(comment);
      const behind = start + comment.length;
      const [blank = ''] = /^(?:[ \t]*\r?\n){0,2}/.exec(this.#source.slice(behind)) ?? [];
      return { start, end: behind + blank.length, replacement: '' };
    });
  }

  /** The notes that came along stand at the end of the text. */
  finish(text: string): string {
    const { footnotes } = this.#writer;
    const from = (footnotes as NumberedFrom).first;
    let edited = text;
    for (let index = from; index < footnotes.length; index++) {
      const body = toMarkdown(
        {
          type: 'root',
          children: [
            {
              type: 'footnoteDefinition',
              identifier: String(index + 1),
              children: writeBlocks(this.#writer, footnotes[index]?.blocks ?? []),
            },
          ],
        },
        this.#options,
      );
      edited = applyEdits(edited, [standing(edited, edited.length, body.replace(/\n$/, ''))]);
    }
    return edited;
  }
}

/** Notes whose numbers go on behind those of the text. */
class NumberedFrom extends Array<Footnote> {
  readonly first: number;
  constructor(first: number) {
    super();
    this.length = first;
    this.first = first;
  }
}

/** The highest number that a note of the text has. */
const notesIn = (source: string): number =>
  [...source.matchAll(/\[\^(\d{1,6})\]/g)].reduce((most, [, number]) => Math.max(most, Number(number)), 0);

/** The signs that a text uses for what can be written in several ways: those it uses first. */
function signsOf(source: string): Options {
  const bullet = /^[ \t>]*([-*+])[ \t]+\S/m.exec(source)?.[1] as '-' | '*' | '+' | undefined;
  const delimiter = /^[ \t>]*\d{1,9}([.)])[ \t]+\S/m.exec(source)?.[1] as '.' | ')' | undefined;
  const emphasis = /(?<![*_\w])([*_])(?![*_\s])[^*_\n]+\1(?![*_\w])/.exec(source)?.[1] as '*' | '_' | undefined;
  const strong = /(?<![*_\w])(\*\*|__)(?![*_\s])[^*_\n]+\1/.exec(source)?.[1]?.[0] as '*' | '_' | undefined;
  const fence = /^[ \t>]*(`{3}|~{3})/m.exec(source)?.[1]?.[0] as '`' | '~' | undefined;
  const isSetext = /^[^\n#>-][^\n]*\n(?:=+|-{2,})[ \t]*$/m.test(source) && !/^#{1,2} /m.test(source);
  return {
    bullet: bullet ?? '-',
    bulletOrdered: delimiter ?? '.',
    emphasis: emphasis ?? '*',
    strong: strong ?? '*',
    fence: fence ?? '`',
    rule: '-',
    setext: isSetext,
    listItemIndent: 'one',
    extensions: [gfmToMarkdown()],
  };
}

/** What stands before a block on its first line, as the lines below it have it: quote signs stay, list signs are space. */
function prefixOf(source: string, node: SourceNode, whole = false): string {
  const before = source.slice(lineStart(source, node.start), node.start);
  return whole ? before : before.replace(/[^>\s]/g, ' ');
}
