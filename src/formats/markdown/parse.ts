import type { Definition, FootnoteDefinition, Nodes, Root, RootContent } from 'mdast';
import { fromMarkdown } from 'mdast-util-from-markdown';
import { gfmFromMarkdown } from 'mdast-util-gfm';
import { gfm } from 'micromark-extension-gfm';
import { normalizeIdentifier } from 'micromark-util-normalize-identifier';
import { checkBound } from '../bounds.ts';

/**
 * Parses CommonMark 0.31 with GitHub Flavored Markdown 0.29: tables, task lists, strikethrough, bare addresses, footnotes. Long
 * texts are parsed in portions, since the parser's time grows with the square of the length.
 * @throws DrawerError `too-large` for a portion that would still take too long
 */
export function parseMarkdown(text: string): Root {
  const words = withoutFrontMatter(text);
  const starts = portionsOf(words);
  const portions = starts.map((start, at): Portion => ({ start, text: words.slice(start, starts[at + 1]) }));
  const read = portions.map((portion) => parsePortion(portion));
  const defined = read.map((nodes) => definitionsIn(nodes));
  const children = portions.flatMap((portion, at) => {
    const elsewhere = labelsIn(portion.text, defined, at);
    return elsewhere.length > 0 ? parsePortion(portion, elsewhere) : (read[at] ?? []);
  });
  return { type: 'root', children };
}

/** Replaces front matter (between lines of dashes at the start) by spaces, so that offsets stay. */
const withoutFrontMatter = (text: string): string =>
  text.replace(/^---[ \t]*\r?\n(?:[^\n]{0,4000}\n){0,400}?---[ \t]*(?=\r?\n|$)/, (facts) =>
    /^---[ \t]*\r?\n[\w-]+:/.test(facts) ? facts.replace(/[^\r\n]/g, ' ') : facts,
  );

/** A part of the text that parses the same alone as within the whole. */
interface Portion {
  readonly start: number;
  readonly text: string;
}

type Defined = Definition | FootnoteDefinition;

const syntax = { extensions: [gfm()], mdastExtensions: [gfmFromMarkdown()] };

/** Shortest portion, in UTF-16 units. */
const enough = 1_000;

/** Offsets of the portions: after a blank line, at an unindented line, which ends every list, quote and footnote. */
function portionsOf(text: string): number[] {
  const starts = [0];
  const lines = new LineReader();
  let start = 0;
  for (const [line] of text.matchAll(/[^\r\n]*(?:\r\n|\r|\n|$)/g)) {
    const isBoundary = lines.isFree && start - (starts.at(-1) ?? 0) >= enough && /^(?![-+*]|\d{1,9}[.)])\S/.test(line);
    if (isBoundary) starts.push(start);
    lines.read(line);
    start += line.length;
  }
  return starts;
}

/** Starts and ends of raw HTML that may contain blank lines (CommonMark, section 4.6, kinds 1 to 5). */
const rawHtml: readonly (readonly [begins: RegExp, ends: RegExp])[] = [
  [/^ {0,3}<(?:pre|script|style|textarea)(?:[\s>]|$)/i, /<\/(?:pre|script|style|textarea)>/i],
  [/^ {0,3}<!--/, /-->/],
  [/^ {0,3}<\?/, /\?>/],
  [/^ {0,3}<![a-z]/i, />/],
  [/^ {0,3}<!\[CDATA\[/, /\]\]>/],
];
const marker = /^[ \t]*(?:>|[-+*](?=[ \t]|$)|\d{1,9}[.)](?=[ \t]|$))/;

/** Tracks unindented code and raw HTML from line to line, and counts what makes the parser slow. */
class LineReader {
  /** Recognises the end of the open code or raw HTML. */
  #end: ((line: string) => boolean) | undefined;
  /** Whether it may be inside a list, whose end also ends it. */
  #isIndented = false;
  /** Whether the state is no longer known. */
  #isLost = false;
  #isBlank = false;
  /** Since the last blank line: characters of emphasis and links; underlines and lazy continuation lines. */
  #signs = 0;
  #turns = 0;
  #wasQuote = false;

  /** Whether the last line was blank, outside code and raw HTML. */
  get isFree(): boolean {
    return this.#isBlank && !this.#end && !this.#isLost;
  }

  read(line: string): void {
    const words = line.replace(/[\r\n]+$/, '');
    this.#isBlank = words.trim() === '';
    if (this.#end) {
      if (this.#end(words)) this.#end = undefined;
      else if (this.#isIndented && /^\S/.test(words)) this.#isLost = true;
      return;
    }
    this.#count(words);
    const [, fence = ''] = /^ {0,3}(`{3,}(?=[^`]*$)|~{3,})/.exec(words) ?? [];
    const html = rawHtml.find(([begins]) => begins.test(words));
    if (fence !== '') this.#end = (each) => /^ {0,3}(`{3,}|~{3,})[ \t]*$/.exec(each)?.[1]?.startsWith(fence) === true;
    else if (html && !html[1].test(words.slice(words.indexOf('<') + 1))) this.#end = (each) => html[1].test(each);
    this.#isIndented = words.startsWith(' ');
  }

  /** @throws DrawerError `too-large` */
  #count(words: string): void {
    if (this.#isBlank) {
      this.#signs = 0;
      this.#turns = 0;
    }
    let depth = 0;
    for (let rest = words, found = marker.exec(rest); found; found = marker.exec(rest)) {
      rest = rest.slice(found[0].length);
      checkBound('depth', ++depth);
    }
    // List items, headings and table rows are parsed separately.
    const isOwn = /^[ \t>]*(?:[-+*][ \t]|\d{1,9}[.)][ \t]|#)/.test(words) || words.includes('|');
    this.#signs = (isOwn ? 0 : this.#signs) + countOf(words);
    checkBound('signs', this.#signs);
    const isQuote = /^ {0,3}>/.test(words);
    if (/^ {0,3}(?:=+|-+)[ \t]*$/.test(words) || (this.#wasQuote && !isQuote)) this.#turns++;
    checkBound('turns', this.#turns);
    this.#wasQuote = isQuote;
  }
}

const countOf = (words: string): number => words.match(/[*_~[\]`<]/g)?.length ?? 0;

/** Parses a portion behind the link definitions of other portions, which are then left out. */
function parsePortion({ start, text }: Portion, elsewhere: readonly string[] = []): RootContent[] {
  const front = elsewhere.length === 0 ? '' : `${elsewhere.map((label) => `[${label}]: x\n\n`).join('')}[-]: x\n\n`;
  const { children } = fromMarkdown(front + text, syntax);
  const own = children.filter(({ position }) => (position?.start.offset ?? 0) >= front.length);
  if (start !== front.length) shift(own, start - front.length);
  return own;
}

/** All nodes and their descendants. */
function* everyNode(nodes: readonly Nodes[]): Generator<Nodes> {
  const waiting = [...nodes];
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    yield next;
    if ('children' in next) for (const child of next.children) waiting.push(child);
  }
}

/** Moves the offsets of nodes to those in the whole text; lines and columns are not used. */
function shift(nodes: readonly Nodes[], by: number): void {
  for (const { position } of everyNode(nodes)) {
    if (position?.start.offset !== undefined) position.start.offset += by;
    if (position?.end.offset !== undefined) position.end.offset += by;
  }
}

function definitionsIn(nodes: readonly Nodes[]): ReadonlySet<string> {
  const labels = new Set<string>();
  for (const node of everyNode(nodes)) if (isDefinition(node)) labels.add(normalizeIdentifier(labelOf(node)));
  return labels;
}

const isDefinition = (node: Nodes): node is Defined => node.type === 'definition' || node.type === 'footnoteDefinition';
const labelOf = ({ type, identifier }: Defined): string => `${type === 'footnoteDefinition' ? '^' : ''}${identifier}`;

/** Labels that a portion uses and only other portions define. */
function labelsIn(text: string, defined: readonly ReadonlySet<string>[], at: number): string[] {
  if (defined.length < 2 || defined.every(({ size }, other) => other === at || size === 0)) return [];
  const found = new Map<string, string>();
  for (const [, label = ''] of text.matchAll(/\[((?:[^\\[\]]|\\.){1,999})\]/gs)) {
    const normal = normalizeIdentifier(label);
    const isElsewhere = defined.some((labels, other) => other !== at && labels.has(normal));
    if (isElsewhere && !defined[at]?.has(normal)) found.set(normal, label.replace(/\s+/g, ' '));
  }
  // Footnotes come first; text after them could become part of them.
  return [...found.values()].sort((one, other) => Number(other.startsWith('^')) - Number(one.startsWith('^')));
}
