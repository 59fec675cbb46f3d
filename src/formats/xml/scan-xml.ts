import { DrawerError } from '../../content/index.ts';
import { type Attributes, type Namespaces, readXml, unreadableXml, type XmlHandler, xmlLimits } from './read-xml.ts';
import { decodeReferences } from './references.ts';

/**
 * Reads XML that a program wrote by the million tags, several times as fast as `readXml`, which checks every sign of it: tags
 * are found by looking for their brackets, and their attributes by looking for quotes. Where names have other prefixes than
 * ours, or anything but tags, text, comments and character data turns up, all of it is read by `readXml` instead.
 */
export async function scanXml(
  chunks: () => AsyncIterable<Uint8Array>,
  part: string,
  namespaces: Namespaces,
  handler: () => XmlHandler,
): Promise<XmlHandler> {
  const scanned = handler();
  const scanner = new TagScanner(part, namespaces, scanned);
  const decoder = new TextDecoder();
  let text = '';
  for await (const chunk of chunks()) {
    text += decoder.decode(chunk, { stream: true });
    const used = scanner.scan(text);
    if (used < 0) {
      const read = handler();
      await readXml(chunks(), part, namespaces, read);
      return read;
    }
    if (scanned.done?.()) return scanned;
    text = text.slice(used);
  }
  scanner.end();
  return scanned;
}

const code = {
  space: 0x20,
  slash: 0x2f,
  question: 0x3f,
  bang: 0x21,
  equals: 0x3d,
  double: 0x22,
  single: 0x27,
  greater: 0x3e,
} as const;
const noAttributes: Attributes = {};

class TagScanner {
  readonly #part: string;
  readonly #prefixes: ReadonlyMap<string, string>;
  readonly #handler: XmlHandler;
  readonly #open: string[] = [];
  #isRoot = true;

  constructor(part: string, namespaces: Namespaces, handler: XmlHandler) {
    this.#part = part;
    this.#prefixes = namespaces;
    this.#handler = handler;
  }

  /** Reads whole tags and the text between them; gives how much was used, or -1 where another reader is needed. */
  scan(text: string): number {
    let at = 0;
    for (;;) {
      const start = text.indexOf('<', at);
      if (start < 0) return at;
      const next = text.charCodeAt(start + 1);
      if (next === code.bang || next === code.question || Number.isNaN(next)) {
        const end = this.#passOver(text, at, start);
        if (end === undefined) return at;
        if (end < 0) return -1;
        at = end;
        continue;
      }
      const tag = next === code.slash ? undefined : readTag(text, start + 1);
      const end = tag?.end ?? (next === code.slash ? (after(text, '>', start) ?? -1) : -1);
      if (end < 0) return at;
      if (start > at && this.#open.length > 0) this.#handler.text?.(decodeReferences(text.slice(at, start)));
      if (!tag) this.#close(text.slice(start + 2, end - 1).trimEnd());
      else if (!this.#openTag(tag)) return -1;
      at = end;
    }
  }

  end(): void {
    if (this.#open.length > 0 || this.#isRoot)
      throw unreadableXml(this.#part, `is not well-formed XML (unclosed tag: ${this.#open.at(-1) ?? 'none'})`);
  }

  /** The end of a comment, instruction or declaration; `undefined` when it has not come yet. */
  #passOver(text: string, at: number, start: number): number | undefined {
    if (text.startsWith('<?', start)) return after(text, '?>', start);
    if (!text.startsWith('<!--', start)) return text.length - start < 9 ? undefined : -1;
    const end = after(text, '-->', start);
    if (end !== undefined && start > at && this.#open.length > 0)
      this.#handler.text?.(decodeReferences(text.slice(at, start)));
    return end;
  }

  #close(name: string): void {
    if (this.#open.pop() !== name)
      throw unreadableXml(this.#part, `is not well-formed XML (unexpected end of ${name})`);
    this.#handler.close(name);
  }

  #openTag({ name, attributes, isEmpty }: StartTag): boolean {
    if (this.#isRoot && !this.#hasOurPrefixes(attributes)) return false;
    this.#isRoot = false;
    if (this.#open.length >= xmlLimits.depth)
      throw new DrawerError({
        code: 'too-large',
        what: `The part ${this.#part} is nested more than ${xmlLimits.depth} elements deep`,
      });
    this.#handler.open(name, attributes);
    if (isEmpty) this.#handler.close(name);
    else this.#open.push(name);
    return true;
  }

  /** Whether every namespace we know has our prefix, as nearly every program writes them. */
  #hasOurPrefixes(attributes: Attributes): boolean {
    return Object.entries(attributes).every(([name, uri]) => {
      const ours = this.#prefixes.get(uri);
      return ours === undefined || name === `xmlns:${ours}`;
    });
  }
}

const after = (text: string, end: string, from: number): number | undefined => {
  const at = text.indexOf(end, from);
  return at < 0 ? undefined : at + end.length;
};

/** A start tag, read sign by sign but for its values; `undefined` when its end has not come yet. */
interface StartTag {
  readonly name: string;
  readonly attributes: Attributes;
  readonly isEmpty: boolean;
  /** Behind its closing bracket. */
  readonly end: number;
}

function readTag(text: string, start: number): StartTag | undefined {
  let at = start;
  for (let sign = text.charCodeAt(at); sign > code.space && sign !== code.slash && sign !== code.greater; )
    sign = text.charCodeAt(++at);
  const name = text.slice(start, at);
  let attributes: Record<string, string> | undefined;
  for (;;) {
    while (text.charCodeAt(at) <= code.space) at++;
    const sign = text.charCodeAt(at);
    if (sign === code.greater) return { name, attributes: attributes ?? noAttributes, isEmpty: false, end: at + 1 };
    if (sign === code.slash && text.charCodeAt(at + 1) === code.greater)
      return { name, attributes: attributes ?? noAttributes, isEmpty: true, end: at + 2 };
    const equals = text.indexOf('=', at);
    if (equals < 0) return undefined;
    let from = equals + 1;
    while (text.charCodeAt(from) <= code.space) from++;
    const to = text.indexOf(text[from] === "'" ? "'" : '"', from + 1);
    if (to < 0) return undefined;
    attributes ??= {};
    attributes[text.slice(at, equals).trimEnd()] = decodeReferences(text.slice(from + 1, to));
    at = to + 1;
  }
}
