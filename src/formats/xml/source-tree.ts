import { applyEdits, type TextEdit } from '../text-edits.ts';
import type { Extent } from '../trace.ts';
import { decodeReferences } from './element.ts';
import type { Attributes, Namespaces, XmlHandler } from './read-xml.ts';
import { scanXmlText } from './scan-xml.ts';
import { escapeAttribute, escapeText } from './write-xml.ts';

/** An element of a part, with its position. Its name and those of its attributes carry our prefixes. */
export interface SourceElement extends Extent {
  readonly name: string;
  readonly attributes: Attributes;
  readonly parent: SourceElement | undefined;
  readonly children: readonly SourceElement[];
  /** The text right inside it, references decoded. */
  readonly words: string;
  /** The range between its tags; empty, at its end, where it is a single tag. */
  readonly innerStart: number;
  readonly innerEnd: number;
}

/** Of what a text is a part, or which part of it is passed over. */
export interface TreeOptions {
  /** A stretch of well-formed content that is passed over, such as the rows of a sheet. */
  readonly without?: Extent;
  /** For the source of an element: the start tag of its document's root, which says what its prefixes mean. */
  readonly rootTag?: string;
}

/**
 * The elements of a part and their positions, for changing some of them and leaving every other character as it is. Each change
 * is a `TextEdit`; `edited` applies them. For parts of moderate size: longer ones are read as streams.
 */
export class SourceTree {
  readonly text: string;
  readonly root: SourceElement;
  readonly #namespaces: Namespaces;

  /**
   * @param part - the part's name, for errors
   * @throws DrawerError `unreadable` where the text is not well formed; `too-large`
   */
  constructor(text: string, part: string, namespaces: Namespaces, { without, rootTag }: TreeOptions = {}) {
    this.text = text;
    this.#namespaces = namespaces;
    const { start, end } = without ?? { start: text.length, end: text.length };
    const read = text.slice(0, start) + text.slice(end);
    const builder = new TreeBuilder({ start, end }, rootTag?.length ?? 0);
    const whole = rootTag === undefined ? read : `${rootTag}${read}</${tagName(rootTag)}>`;
    scanXmlText(whole, part, namespaces, builder);
    this.root = builder.root as SourceElement; // a well-formed text has one
  }

  /** The element of a fragment. */
  get element(): SourceElement | undefined {
    return this.root.children[0];
  }

  /** The elements of these names inside an element, and itself, in reading order. */
  all(name: string | readonly string[], within: SourceElement = this.root): SourceElement[] {
    const names = typeof name === 'string' ? [name] : name;
    return [...descendants(within)].filter((element) => names.includes(element.name));
  }

  /** The names of all elements. */
  get names(): string[] {
    return [...new Set([...descendants(this.root)].map(({ name }) => name))];
  }

  /** The first element of a name inside an element. */
  first(name: string, within: SourceElement | undefined = this.root): SourceElement | undefined {
    if (within) for (const element of descendants(within)) if (element.name === name) return element;
    return undefined;
  }

  /** An element as it is written. */
  source({ start, end }: Extent): string {
    return this.text.slice(start, end);
  }

  /** Its start tag as it is written. */
  tag(element: SourceElement): string {
    return this.text.slice(element.start, element.innerStart);
  }

  /** What the part writes in front of names of our prefix at an element, with its colon: mostly the same, or nothing. */
  prefix(ours: string, at: SourceElement = this.root): string {
    for (let element: SourceElement | undefined = at; element; element = element.parent)
      for (const [name, uri] of Object.entries(element.attributes))
        if (/^xmlns(:|$)/.test(name) && this.#namespaces.get(uri) === ours)
          return name === 'xmlns' ? '' : `${name.slice('xmlns:'.length)}:`;
    return ours === '' ? '' : `${ours}:`;
  }

  /** Puts source behind everything in an element, which gets an end tag if it has none, and gives it attributes. */
  append(element: SourceElement, source: string, values: AttributeValues = {}): TextEdit[] {
    return this.#put(element, element.innerEnd, source, values);
  }

  /** Puts source in front of everything in an element. */
  prepend(element: SourceElement, source: string, values: AttributeValues = {}): TextEdit[] {
    return this.#put(element, element.innerStart, source, values);
  }

  #put(element: SourceElement, at: number, source: string, values: AttributeValues): TextEdit[] {
    const tag = this.setAttributes(element, values);
    const put = insertion(at, source);
    if (element.innerEnd < element.end) return Object.keys(values).length > 0 ? [tag, put] : [put];
    const open = tag.replacement.replace(/\s*\/>$/, '>');
    return [{ ...tag, replacement: `${open}${source}</${tagName(open)}>` }];
  }

  /** Puts source in place of an element; without source, takes it out. */
  replace({ start, end }: Extent, replacement = ''): TextEdit {
    return { start, end, replacement };
  }

  /** Puts words in place of all that an element with an end tag holds. */
  setWords({ innerStart, innerEnd }: SourceElement, words: string): TextEdit {
    return { start: innerStart, end: innerEnd, replacement: escapeText(words) };
  }

  /** Gives attributes other values, adds those that are missing, and removes those that are `undefined`. */
  setAttributes(element: SourceElement, values: AttributeValues): TextEdit {
    // The names of the attributes are in the order in which they are written.
    const names = Object.keys(element.attributes);
    const tag = this.tag(element);
    const written = [...tag.matchAll(attribute)].map(([, , name = '']) => name);
    const named = Object.entries(values).map(([name, value]) => {
      const at = names.indexOf(name);
      return [at < 0 ? this.#written(name, element) : (written[at] ?? name), value] as const;
    });
    const replacement = tagWith(tag, Object.fromEntries(named));
    return { start: element.start, end: element.innerStart, replacement };
  }

  #written(name: string, at: SourceElement): string {
    const [prefix = '', local] = name.split(':');
    return local === undefined ? name : `${this.prefix(prefix, at)}${local}`;
  }

  /** The text with changes applied. */
  edited(edits: readonly TextEdit[]): string {
    return applyEdits(this.text, edits);
  }
}

/** Something put in at a position. */
export const insertion = (at: number, replacement: string): TextEdit => ({ start: at, end: at, replacement });

/** A child of an element by its name. */
export const childOf = (element: SourceElement | undefined, name: string): SourceElement | undefined =>
  element?.children.find((child) => child.name === name);

function* descendants(element: SourceElement): Iterable<SourceElement> {
  yield element;
  for (const child of element.children) yield* descendants(child);
}

/** Values by the names of attributes; `undefined` where there is to be none. */
export type AttributeValues = Readonly<Record<string, string | undefined>>;

/** The source of an element with other attributes, by their names as they are written; all else stays as it is. */
export function tagWith(source: string, values: AttributeValues): string {
  const [tag = ''] = startTag.exec(source) ?? [];
  const edits: TextEdit[] = [];
  const there = new Set<string>();
  for (const { index, 0: whole, 1: lead = '', 2: name = '' } of tag.matchAll(attribute)) {
    there.add(name);
    if (!(name in values)) continue;
    const value = values[name];
    const start = value === undefined ? index : index + lead.length;
    edits.push({ start, end: index + whole.length, replacement: value === undefined ? '' : quoted(value) });
  }
  const end = tag.length - (/\s*\/?>$/.exec(tag)?.[0].length ?? 0);
  for (const [name, value] of Object.entries(values))
    if (value !== undefined && !there.has(name)) edits.push(insertion(end, ` ${name}=${quoted(value)}`));
  return applyEdits(tag, edits) + source.slice(tag.length);
}

/** The attributes of the start tag that a source begins with, by their names as they are written. */
export function tagAttributes(source: string): Attributes {
  const [tag = ''] = startTag.exec(source) ?? [];
  return Object.fromEntries(
    [...tag.matchAll(attribute)].map(([, , name = '', value = '']) => [name, decodeReferences(value.slice(1, -1))]),
  );
}

const startTag = /^<[^\s/>]+(?:[^"'>]|"[^"]*"|'[^']*')*>/;
/** An attribute of a start tag: up to its value, its name, and the value in its quotes. */
const attribute = /(\s+([^\s=/>]+)\s*=\s*)("[^"]*"|'[^']*')/g;
const quoted = (value: string): string => `"${escapeAttribute(value)}"`;
/** The name in the start tag that a source begins with, as it is written. */
export const tagName = (source: string): string => /^<([^\s/>]+)/.exec(source)?.[1] ?? '';
/** What is written in front of that name, with its colon; mostly nothing. */
export const tagPrefix = (source: string): string => /^<([^\s/>:]+:)/.exec(source)?.[1] ?? '';

type Open = { -readonly [K in keyof SourceElement]: SourceElement[K] } & { children: SourceElement[] };

class TreeBuilder implements XmlHandler {
  root: SourceElement | undefined;
  readonly #without: Extent;
  /** How much stands in front of the text. */
  readonly #lead: number;
  #open: Open | undefined;
  #start = 0;
  #end = 0;

  constructor(without: Extent, lead: number) {
    this.#without = without;
    this.#lead = lead;
  }

  at(start: number, end: number): void {
    const { start: from, end: to } = this.#without;
    this.#start = start - this.#lead;
    this.#end = end - this.#lead;
    if (this.#start >= from) this.#start += to - from;
    if (this.#end > from) this.#end += to - from;
  }

  open(name: string, attributes: Attributes): void {
    const [start, end] = [this.#start, this.#end];
    const element: Open = {
      name,
      attributes,
      parent: this.#open,
      children: [],
      words: '',
      start,
      innerStart: end,
      innerEnd: end,
      end,
    };
    this.root ??= element;
    this.#open?.children.push(element);
    this.#open = element;
  }

  text(words: string): void {
    if (this.#open) this.#open.words += words;
  }

  close(): void {
    const element = this.#open as Open;
    element.innerEnd = this.#start;
    element.end = this.#end;
    this.#open = element.parent as Open | undefined;
  }
}
