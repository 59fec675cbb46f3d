import { SaxesParser } from 'saxes';
import { DrawerError } from '../../content/index.ts';
import { checkDepth, checkLength } from './element.ts';
import { textOf } from './text-of.ts';

export type Attributes = Readonly<Record<string, string>>;

/** Hears the elements and text of a document. Names carry the prefixes of `namespaces`, whatever the file's own are. */
export interface XmlHandler {
  open(name: string, attributes: Attributes): void;
  close(name: string): void;
  text?(text: string): void;
  /** Told before each of these where its source stands, in UTF-16 units of the part's text; only of a part in memory as text. */
  at?(start: number, end: number): void;
  /**
   * Whether it reads the element that begins here by itself, and then where its end tag ends; -1 when it does not. Asked only
   * by `scanXml`, which passes by what is read so.
   */
  take?(text: string, start: number): number;
  /** Whether enough has been heard; asked after each chunk. */
  done?(): boolean;
}

/** Prefix by namespace URI; the empty prefix leaves local names bare. */
export type Namespaces = ReadonlyMap<string, string>;

/**
 * Reads XML 1.0 (fifth edition) with namespaces, one chunk at a time. A document type declaration is never followed, and
 * one that declares anything is refused, so that no entity is ever defined.
 * @throws DrawerError `unreadable` where the text is not well formed.
 */
export async function readXml(
  chunks: AsyncIterable<Uint8Array>,
  part: string,
  namespaces: Namespaces,
  handler: XmlHandler,
): Promise<void> {
  const reader = new StrictReader(part, namespaces, handler);
  for await (const text of textOf(chunks, part)) {
    reader.write(text);
    if (handler.done?.()) return;
  }
  reader.close();
}

/** Checks every sign of what is written to it. */
export class StrictReader {
  readonly #part: string;
  readonly #names: NameScope;
  readonly #parser: PlainParser;

  /** `reached` is how far a reader before this one came: the start tags that it told the handler of and did not close. */
  constructor(
    part: string,
    namespaces: Namespaces,
    handler: XmlHandler,
    { start, opened }: { readonly start: number; readonly opened: readonly string[] } = { start: 0, opened: [] },
  ) {
    this.#part = part;
    this.#names = new NameScope(namespaces);
    const more = start - opened.reduce((length, tag) => length + tag.length, 0);
    let isTold = opened.length === 0;
    const { at, text } = handler;
    this.#parser = createParser(part, this.#names, {
      open: (name, attributes) => isTold && handler.open(name, attributes),
      close: (name) => handler.close(name),
      ...(text && { text: (words: string) => text.call(handler, words) }),
      ...(at && { at: (from: number, to: number) => isTold && at.call(handler, from + more, to + more) }),
    });
    for (const tag of opened) this.write(tag);
    isTold = true;
  }

  /** @throws DrawerError `unreadable` where the text is not well formed. */
  write(text: string): void {
    this.#names.expect(text);
    checkLength(this.#names.pending, this.#part);
    this.#parser.write(text);
  }

  close(): void {
    this.#parser.close();
  }
}

type PlainParser = SaxesParser<{ xmlns: false }>;

function createParser(part: string, names: NameScope, handler: XmlHandler): PlainParser {
  const parser: PlainParser = new SaxesParser({ xmlns: false, position: false });
  let depth = 0;
  parser.on('error', (error) => {
    throw new DrawerError('unreadable/part-not-xml', { part, detail: error.message });
  });
  parser.on('doctype', (declaration) => {
    if (!declaration.includes('[')) return; // one that only names a file, which is never read
    throw new DrawerError('unreadable/part-has-doctype', { part });
  });
  const tell = handler.at && positions(parser, handler.at.bind(handler));
  parser.on('opentag', ({ name, attributes }) => {
    checkDepth(++depth, part);
    names.enter(attributes, depth);
    tell?.(parser.position);
    handler.open(names.element(name), names.attributes(attributes));
  });
  parser.on('closetag', ({ name }) => {
    tell?.(parser.position);
    handler.close(names.element(name));
    names.leave(depth--);
  });
  const text = handler.text?.bind(handler);
  if (text || tell) {
    parser.on('text', (words) => {
      tell?.(parser.position - 1); // the parser has read the sign that ends the text
      text?.(words);
    });
    parser.on('cdata', (words) => {
      tell?.(parser.position);
      text?.(words);
    });
  }
  return parser;
}

/** Everything begins where the last thing ended, so that telling the ends is enough. */
function positions(parser: PlainParser, at: (start: number, end: number) => void): (end: number) => void {
  let last = 0;
  const pass = (): void => {
    last = parser.position;
  };
  parser.on('xmldecl', pass);
  parser.on('comment', () => {
    last = parser.position + 1; // it is told before its last sign
  });
  parser.on('processinginstruction', pass);
  return (end) => {
    at(last, end);
    last = end;
  };
}

interface Bindings {
  /** The file's prefix to ours. */
  readonly prefixes: ReadonlyMap<string, string>;
  /** Whether every prefix of the file is ours already, as it nearly always is: names then pass as they are. */
  readonly identical: boolean;
  /** The depth of the element that made them. */
  readonly depth: number;
  readonly names: Map<string, string>;
}

/** Maps the file's prefixes to ours, by the declarations in force. */
class NameScope {
  readonly #namespaces: Namespaces;
  #bindings: Bindings[] = [{ prefixes: new Map(), identical: true, depth: 0, names: new Map() }];

  #mayDeclare = true;
  /** Whether the tag that has begun and not ended has the word. */
  #tagDeclares = false;
  /** The end of what was read: the word may go on in what follows. */
  #tail = '';
  /** How long the tag or text is that has not ended yet. */
  pending = 0;

  constructor(namespaces: Namespaces) {
    this.#namespaces = namespaces;
  }

  /** Text that is about to be read: declarations are looked for only where it, or the tag it goes on with, has the word. */
  expect(text: string): void {
    const declares = (this.#tail + text).includes('xmlns');
    this.#mayDeclare = declares || this.#tagDeclares;
    const start = text.lastIndexOf('<');
    this.pending = start < 0 ? this.pending + text.length : text.length - start;
    this.#tagDeclares = start < 0 ? this.#mayDeclare : text.indexOf('xmlns', start) >= 0;
    this.#tail = (this.#tail + text).slice(-4);
  }

  enter(attributes: Attributes, depth: number): void {
    if (!this.#mayDeclare) return;
    let prefixes: Map<string, string> | undefined;
    for (const key in attributes) {
      if (!key.startsWith('xmlns') || (key.length > 5 && key[5] !== ':')) continue;
      prefixes ??= new Map(this.#current.prefixes);
      const uri = attributes[key] ?? '';
      prefixes.set(key.slice(6), this.#namespaces.get(uri) ?? this.#foreign(key.slice(6)));
    }
    if (!prefixes) return;
    const identical = [...prefixes].every(([theirs, ours]) => theirs === ours);
    this.#bindings.push({ prefixes, identical, depth, names: new Map() });
  }

  leave(depth: number): void {
    if (this.#bindings.length > 1 && this.#current.depth === depth) this.#bindings.pop();
  }

  element(name: string): string {
    return this.#current.identical ? name : this.#rename(name);
  }

  /** Attributes without a prefix are in no namespace. */
  attributes(attributes: Attributes): Attributes {
    if (this.#current.identical) return attributes;
    return Object.fromEntries(
      Object.entries(attributes).map(([name, value]) => [name.includes(':') ? this.#rename(name) : name, value]),
    );
  }

  get #current(): Bindings {
    return this.#bindings.at(-1) as Bindings;
  }

  /** A namespace we do not know keeps its prefix, unless that is one of ours. */
  #foreign(prefix: string): string {
    return prefix === '' || [...this.#namespaces.values()].includes(prefix) ? `foreign-${prefix}` : prefix;
  }

  #rename(name: string): string {
    const { names, prefixes } = this.#current;
    const known = names.get(name);
    if (known !== undefined) return known;
    const colon = name.indexOf(':');
    const theirs = colon < 0 ? '' : name.slice(0, colon);
    const ours = prefixes.get(theirs) ?? theirs;
    const local = name.slice(colon + 1);
    const renamed = ours === '' ? local : `${ours}:${local}`;
    names.set(name, renamed);
    return renamed;
  }
}
