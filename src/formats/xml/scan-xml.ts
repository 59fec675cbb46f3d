import { checkDepth, checkLength, decodeReferences } from './element.ts';
import { type Attributes, type Namespaces, StrictReader, type XmlHandler } from './read-xml.ts';
import { textOf } from './text-of.ts';

/**
 * Reads XML that a program wrote by the million tags, several times as fast as `readXml`, which checks every sign of it: tags
 * are found by looking for their brackets, and a tag that was read before is known by its text. Where names have other
 * prefixes than ours, or anything turns up but tags, text and comments as programs write them, a `StrictReader` goes on from
 * there, so that whoever listens hears the same, and of the same faults.
 */
export async function scanXml(
  chunks: AsyncIterable<Uint8Array>,
  part: string,
  namespaces: Namespaces,
  handler: XmlHandler,
): Promise<void> {
  const reader = new ScanningReader(part, namespaces, handler);
  for await (const piece of textOf(chunks, part)) {
    reader.write(piece);
    if (handler.done?.()) return;
  }
  reader.close();
}

/** The same for a part that is in memory as text, telling the handler where everything stands. */
export function scanXmlText(source: string, part: string, namespaces: Namespaces, handler: XmlHandler): void {
  const reader = new ScanningReader(part, namespaces, handler);
  reader.write(source);
  reader.close();
}

/** Reads by the scanner for as long as that can, then strictly. */
class ScanningReader {
  readonly #part: string;
  readonly #namespaces: Namespaces;
  readonly #handler: XmlHandler;
  readonly #scanner: TagScanner;
  #strict: StrictReader | undefined;
  /** What was written and not read yet, and where it begins. */
  #text = '';
  #start = 0;

  constructor(part: string, namespaces: Namespaces, handler: XmlHandler) {
    this.#part = part;
    this.#namespaces = namespaces;
    this.#handler = handler;
    this.#scanner = new TagScanner(part, namespaces, handler);
  }

  write(piece: string): void {
    if (this.#strict) return this.#strict.write(piece);
    const text = this.#text === '' ? piece : this.#text + piece;
    if (forbidden.test(piece)) this.#scanner.isOdd = true;
    const used = this.#scanner.isOdd ? 0 : this.#scanner.scan(text, this.#start);
    this.#start += used;
    this.#text = used === text.length ? '' : text.slice(used);
    checkLength(this.#text.length, this.#part);
    if (this.#scanner.isOdd) this.#goOnStrictly();
  }

  close(): void {
    if (!this.#strict && !(this.#scanner.isClosed && this.#text.trim() === '')) this.#goOnStrictly();
    this.#strict?.close();
  }

  #goOnStrictly(): void {
    const reached = { start: this.#start, opened: this.#scanner.open };
    this.#strict = new StrictReader(this.#part, this.#namespaces, this.#handler, reached);
    this.#strict.write(this.#text);
    this.#text = '';
  }
}

/** Signs that XML does not have (XML 1.0, section 2.2). */
const forbidden = /[\0-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff]/;

const code = {
  space: 0x20,
  slash: 0x2f,
  question: 0x3f,
  bang: 0x21,
  equals: 0x3d,
  double: 0x22,
  single: 0x27,
  less: 0x3c,
  greater: 0x3e,
} as const;

class TagScanner {
  readonly #part: string;
  readonly #prefixes: Namespaces;
  readonly #ours: ReadonlySet<string>;
  readonly #handler: XmlHandler;
  readonly #tags = new TagCache();
  /** The names of the elements that are open, and their tags as they are written. */
  readonly #names: string[] = [];
  readonly open: string[] = [];
  readonly #takes: boolean;
  /** Whether what comes next needs another reader. */
  isOdd = false;
  isClosed = false;
  #base = 0;

  constructor(part: string, namespaces: Namespaces, handler: XmlHandler) {
    this.#part = part;
    this.#prefixes = namespaces;
    this.#ours = new Set(namespaces.values());
    this.#handler = handler;
    this.#takes = handler.take !== undefined;
  }

  /** Reads whole tags and the text in front of them; gives how much was used. `base` is where the text begins in the part. */
  scan(text: string, base: number): number {
    this.#base = base;
    let at = 0;
    for (;;) {
      const start = text.charCodeAt(at) === code.less ? at : text.indexOf('<', at);
      if (start < 0) return at;
      const next = text.charCodeAt(start + 1);
      let end: number;
      if (next === code.slash) end = this.#close(text, at, start);
      else if (next === code.bang || next === code.question) end = this.#skip(text, at, start);
      else end = this.#open(text, at, start);
      if (end < 0) return at;
      at = end;
    }
  }

  /** Behind an end tag; -1 when it has not come whole, or is odd. */
  #close(text: string, at: number, start: number): number {
    const name = this.#names.at(-1);
    if (name === undefined) return this.#turnOdd();
    let end = start + 2 + name.length;
    if (!text.startsWith(name, start + 2) || text.charCodeAt(end) !== code.greater) {
      end = text.indexOf('>', start);
      if (end < 0) return -1;
      if (text.slice(start + 2, end).trimEnd() !== name) return this.#turnOdd();
    }
    if (start > at && !this.#tell(text, at, start)) return -1;
    this.#names.pop();
    this.open.pop();
    this.isClosed = this.#names.length === 0;
    this.#handler.at?.(this.#base + start, this.#base + end + 1);
    this.#handler.close(name);
    return end + 1;
  }

  /** Behind a comment or an instruction in front of everything. */
  #skip(text: string, at: number, start: number): number {
    const isComment = text.startsWith('<!--', start);
    if (!isComment && !(text.startsWith('<?', start) && this.#names.length === 0)) {
      if (text.length - start < 4) return -1;
      return this.#turnOdd();
    }
    const close = isComment ? '-->' : '?>';
    const end = text.indexOf(close, start + 4);
    if (end < 0) return -1;
    if (start > at && !this.#tell(text, at, start)) return -1;
    return end + close.length;
  }

  #open(text: string, at: number, start: number): number {
    const taken = start === at && this.#takes ? (this.#handler.take?.(text, start) ?? -1) : -1;
    if (taken >= 0) return taken;
    const tag = this.#tags.read(text, start);
    if (tag === undefined) return -1;
    if (tag === odd || this.isClosed || (tag.declares && !this.#hasOurPrefixes(tag.attributes))) return this.#turnOdd();
    if (start > at && !this.#tell(text, at, start)) return -1;
    checkDepth(this.#names.length + 1, this.#part);
    const end = start + tag.raw.length;
    this.#handler.at?.(this.#base + start, this.#base + end);
    this.#handler.open(tag.name, tag.attributes);
    if (tag.isEmpty) {
      this.#handler.at?.(this.#base + end, this.#base + end);
      this.#handler.close(tag.name);
      this.isClosed = this.#names.length === 0;
    } else {
      this.#names.push(tag.name);
      this.open.push(tag.raw);
    }
    return end;
  }

  /** Tells the text between two tags; outside the root element there is only blank text, which is not told. */
  #tell(text: string, from: number, to: number): boolean {
    const words = text.slice(from, to);
    const isText = this.#names.length > 0;
    if (isText ? hasUnknownReference(words) : words.trim() !== '') {
      this.#turnOdd();
      return false;
    }
    if (!isText) return true;
    this.#handler.at?.(this.#base + from, this.#base + to);
    this.#handler.text?.(decodeReferences(words));
    return true;
  }

  #turnOdd(): -1 {
    this.isOdd = true;
    return -1;
  }

  /** Whether every namespace we know has our prefix, as nearly every program writes them, and no other has. */
  #hasOurPrefixes(attributes: Attributes): boolean {
    return Object.entries(attributes).every(([name, uri]) => {
      if (!name.startsWith('xmlns')) return true;
      const prefix = name.slice('xmlns:'.length);
      return (this.#prefixes.get(uri) ?? (this.#ours.has(prefix) ? undefined : prefix)) === prefix;
    });
  }
}

const unknownReference = /&(?!#x[0-9a-fA-F]{1,6};|#\d{1,7};|amp;|lt;|gt;|quot;|apos;)/;
const hasUnknownReference = (text: string): boolean => text.includes('&') && unknownReference.test(text);

/** A start tag. */
interface StartTag {
  readonly name: string;
  readonly attributes: Attributes;
  readonly isEmpty: boolean;
  /** Whether it declares a namespace. */
  readonly declares: boolean;
  /** As it is written, from bracket to bracket. */
  readonly raw: string;
}

const odd = Symbol('odd');
const noAttributes: Attributes = {};

/** Documents say the same tags over and over: those of moderate length are read once. */
class TagCache {
  static readonly #most = 4_000;
  static readonly #longest = 200;
  readonly #known = new Map<string, StartTag>();

  /** The tag that begins here; `undefined` when it has not come whole. */
  read(text: string, start: number): StartTag | typeof odd | undefined {
    const end = text.indexOf('>', start);
    if (end < 0) return undefined;
    if (end - start > TagCache.#longest) return readTag(text, start);
    const known = this.#known.get(text.slice(start, end + 1));
    if (known) return known;
    const tag = readTag(text, start);
    if (tag !== undefined && tag !== odd && tag.raw.length === end + 1 - start && this.#known.size < TagCache.#most)
      this.#known.set(tag.raw, tag);
    return tag;
  }
}

function readTag(text: string, start: number): StartTag | typeof odd | undefined {
  let at = start + 1;
  for (let sign = text.charCodeAt(at); sign > code.space && sign !== code.slash && sign !== code.greater; )
    sign = text.charCodeAt(++at);
  const name = text.slice(start + 1, at);
  if (!isName(name)) return at >= text.length ? undefined : odd;
  let attributes: Record<string, string> | undefined;
  let declares = false;
  for (;;) {
    while (text.charCodeAt(at) <= code.space) at++;
    const sign = text.charCodeAt(at);
    const isEmpty = sign === code.slash && text.charCodeAt(at + 1) === code.greater;
    if (isEmpty || sign === code.greater) {
      const raw = text.slice(start, at + (isEmpty ? 2 : 1));
      return { name, attributes: attributes ?? noAttributes, isEmpty, declares, raw };
    }
    const from = at;
    for (let each = sign; each > code.space && each !== code.equals && each !== code.less && each !== code.greater; )
      each = text.charCodeAt(++at);
    const key = text.slice(from, at);
    while (text.charCodeAt(at) <= code.space) at++;
    if (at >= text.length) return undefined;
    if (text.charCodeAt(at++) !== code.equals || !isName(key)) return odd;
    while (text.charCodeAt(at) <= code.space) at++;
    if (at >= text.length) return undefined;
    const quote = text.charCodeAt(at);
    if (quote !== code.double && quote !== code.single) return odd;
    const to = text.indexOf(quote === code.double ? '"' : "'", at + 1);
    if (to < 0) return undefined;
    const value = text.slice(at + 1, to);
    attributes ??= {};
    if (/[<\t\n\r]/.test(value) || hasUnknownReference(value) || key in attributes) return odd;
    attributes[key] = decodeReferences(value);
    declares ||= key.startsWith('xmlns');
    at = to + 1;
  }
}

/** Whether a name is one as programs write them; others are looked at more closely (Namespaces in XML 1.0, section 4). */
const isName = (name: string): boolean => /^[A-Za-z_][\w.-]*(?::[A-Za-z_][\w.-]*)?$/.test(name);
