import { type Block, DrawerError, type Inline } from '../../../content/index.ts';
import type { Insertion, ReadTools, Source } from '../../format.ts';
import {
  type BlockTarget,
  InsertionGrammar,
  nearestPlain,
  type TracedProse,
  type WordTarget,
} from '../../insertion-grammar.ts';
import { checkUnsigned, PackageEdit } from '../../package/package-edit.ts';
import type { EditableProse, ProseLanding } from '../../prose-format.ts';
import type { Grammar } from '../../removal.ts';
import type { DecodedText } from '../../text/encoding.ts';
import { applyEdits, type TextEdit } from '../../text-edits.ts';
import type { SourceNode } from '../../trace.ts';
import { Declarations, nullPrototype, rootTag } from '../../xml/element.ts';
import {
  childOf,
  insertion,
  type SourceElement,
  SourceTree,
  tagAttributes,
  tagName,
  tagWith,
} from '../../xml/source-tree.ts';
import { escapeAttribute, escapeText, xmlSource } from '../../xml/write-xml.ts';
import { unpairedMarkers, xmlGrammar } from '../../xml/xml-grammar.ts';
import { addPicturePart, bodyOf, ContentHead, manifestPart } from '../additions.ts';
import { contentPart, namespaces, openOdf, writingNamespaces } from '../package.ts';
import { ContentFacts, changeName } from './content-facts.ts';
import { readPackage } from './read.ts';
import { TargetStyles } from './target-styles.ts';
import { type OdtSetting, type OdtStory, writeBlocks, writeInlines, writeItems } from './write-blocks.ts';

/** A document whose content part changes in places, and gains the automatic styles that are missing. */
export async function editOdt(source: Source, tools: ReadTools): Promise<EditableProse> {
  const zip = await openOdf(source, tools);
  checkUnsigned(zip);
  const edit = new PackageEdit(source, zip, tools);
  await edit.load(contentPart);
  const decoded = withOpenBody(edit.get(contentPart));
  let known: DocumentContent | undefined;
  const content = (): DocumentContent => {
    known ??= new DocumentContent(decoded.text);
    return known;
  };
  return {
    source: decoded,
    grammar: odtGrammar((source) => content().fragment(source)),
    read: (request) => readPackage(zip, request, decoded),
    end: () => ({ start: content().textEnd, end: decoded.text.length }),
    async landing(prose, insertion) {
      await edit.load('styles.xml', manifestPart);
      return new OdtLanding(edit, content(), prose, insertion);
    },
    save(text) {
      edit.setText(contentPart, text);
      return edit.bytes();
    },
  };
}

/** A body of one tag, as a document without words may have it, with an end tag. */
function withOpenBody(decoded: DecodedText): DecodedText {
  const { without } = bodyOf(decoded.text);
  if (!without || without.end - without.start > 2_000) return decoded;
  const tree = new SourceTree(decoded.text, contentPart, namespaces);
  const body = childOf(childOf(tree.root, 'office:body'), 'office:text');
  return body && body.innerEnd === body.end ? { ...decoded, text: tree.edited(tree.append(body, '')) } : decoded;
}

/** The content part of a document that is edited. */
class DocumentContent {
  readonly source: string;
  readonly facts: ContentFacts;
  readonly head: ContentHead;
  readonly #rootTag: string;

  constructor(source: string) {
    this.source = source;
    this.facts = new ContentFacts(source);
    this.head = new ContentHead(source);
    this.#rootTag = rootTag(source);
  }

  /** Where the text ends, whatever prefix the file has for it. */
  get textEnd(): number {
    if (this.facts.body) return this.facts.body.innerEnd;
    throw new DrawerError('unsupported/document-without-body');
  }

  /** The source of one of its elements as a tree. */
  fragment(source: string): SourceTree {
    return new SourceTree(source, contentPart, namespaces, { rootTag: this.#rootTag });
  }

  /** The element of a node. */
  element(node: SourceNode): SourceTree {
    return this.fragment(this.source.slice(node.start, node.end));
  }

  styleOf(node: SourceNode | undefined): string | undefined {
    if (!node) return undefined;
    const name = `${this.head.tree.prefix('text')}style-name`;
    return tagAttributes(this.source.slice(node.start, node.innerStart))[name];
  }
}

class OdtLanding extends InsertionGrammar implements ProseLanding {
  readonly styles: TargetStyles;
  /** Where what lands is a change that somebody has to accept. */
  readonly tracked: TrackedInsertions | undefined;
  readonly #content: DocumentContent;
  readonly #declarations: Declarations;
  readonly #prose: TracedProse;
  readonly #insertion: Insertion;
  readonly #story: OdtStory;

  constructor(edit: PackageEdit, content: DocumentContent, prose: TracedProse, insertion: Insertion) {
    super(odtGrammar((source) => content.fragment(source), insertion.bookmark));
    const { facts, head } = content;
    this.#content = content;
    this.#declarations = new Declarations(content.source, writingNamespaces);
    this.#prose = prose;
    this.#insertion = insertion;
    const { author, date } = insertion;
    this.tracked = author === undefined ? undefined : new TrackedInsertions(facts, { author, date });
    const stylesPart = edit.findText('styles.xml');
    const styles = stylesPart === undefined ? undefined : new SourceTree(stylesPart, 'styles.xml', namespaces);
    this.styles = new TargetStyles(facts, head, styles, insertion.style === 'original');
    let number = facts.lastNumber;
    const story: OdtStory = {
      styles: this.styles,
      width: textWidth(styles?.first('style:page-layout-properties')),
      addPicture: (picture) => addPicturePart(edit, picture, insertion.media),
      nextNumber: () => ++number,
      writeNoteBlocks: (blocks) => writeBlocks(story, blocks, { style: this.styles.own('Footnote') }),
    };
    this.#story = story;
  }

  blocks(blocks: readonly Block[], spot: BlockTarget): TextEdit {
    const [only] = blocks;
    const plain: OdtSetting = {
      style:
        this.#insertion.style === 'original'
          ? undefined
          : this.#content.styleOf(nearestPlain(this.#prose, spot.position)),
    };
    const item = spot.item && spot.list ? this.#itemAround(spot.item) : undefined;
    const elements =
      item && only?.type === 'list'
        ? writeItems(this.#story, only, { style: this.#content.styleOf(spot.item) })
        : writeBlocks(this.#story, blocks, plain);
    const position = item ? (spot.below ? item.start : item.end) : spot.position;
    const written = elements.map((element) => this.#written([element])).join('');
    const tracked = item ? this.tracked?.inItems(written) : this.tracked?.around(written);
    return { start: position, end: position, replacement: tracked ?? written };
  }

  words(inlines: readonly Inline[], { leaf, position }: WordTarget): readonly TextEdit[] {
    const bare = inlines.every((inline) => inline.type === 'text' && !inline.marks && !/\t| {2}/.test(inline.text));
    const words = inlines.map((inline) => (inline.type === 'text' ? inline.text : '')).join('');
    const written = bare ? escapeText(words) : this.#written(writeInlines(this.#story, inlines));
    const { bookmark } = this.#insertion;
    const inside = bookmark === undefined ? written : this.bookmarked(written, bookmark);
    const elements = this.tracked?.around(inside) ?? inside;
    if (leaf.innerEnd < leaf.end) return [{ start: position, end: position, replacement: elements }];
    const tree = this.#content.element(leaf); // an empty paragraph may be written as one tag
    const whole = tree.element ? tree.edited(tree.append(tree.element, elements)) : elements;
    return [{ start: leaf.start, end: leaf.end, replacement: whole }];
  }

  /** Bookmarks begin and end inside paragraphs (ISO/IEC 26300-1, 6.2.1). */
  bookmarked(source: string, name: string): string {
    const mark = (which: 'start' | 'end'): string => `<text:bookmark-${which} text:name="${escapeAttribute(name)}"/>`;
    const first = /<text:[ph](?:\s[^<>]*[^/<>]|)>/.exec(source);
    const last = Math.max(source.lastIndexOf('</text:p>'), source.lastIndexOf('</text:h>'));
    const from = first ? first.index + first[0].length : -1;
    if (from < 0 || last < from) {
      if (/<text:[ph][\s/>]/.test(source)) throw new DrawerError('unsupported/bookmark-not-here'); // a picture alone, or nothing
      return mark('start') + source + mark('end');
    }
    return source.slice(0, from) + mark('start') + source.slice(from, last) + mark('end') + source.slice(last);
  }

  withoutBookmark(name: string): readonly TextEdit[] {
    return (this.#content.facts.bookmarks.get(name) ?? []).map((extent) => ({ ...extent, replacement: '' }));
  }

  finish(edited: string): string {
    // Nothing before the text's own paragraphs has changed, so positions there are still right.
    const { head } = this.#content;
    return applyEdits(edited, [
      ...head.withStyles(this.styles.made),
      ...(this.tracked?.listed(this.#content.source) ?? []),
    ]);
  }

  part({ leaf, piece }: WordTarget): { close: string; open: string } | undefined {
    if (piece?.owner !== leaf) return undefined;
    const tag = this.#content.source.slice(leaf.start, leaf.innerStart);
    const open = tagWith(tag, { 'xml:id': undefined, [`${this.#content.head.tree.prefix('text')}id`]: undefined });
    return { close: `</${tagName(tag)}>`, open };
  }

  #written(nodes: Parameters<typeof xmlSource>[0]): string {
    return nodes
      .map((node) => (node.type === 'element' ? this.#declarations.on(xmlSource([node])) : xmlSource([node])))
      .join('');
  }

  #itemAround(leaf: SourceNode): SourceNode | undefined {
    let node: SourceNode | undefined = leaf;
    const tag = `<${this.#content.head.tree.prefix('text')}list-item`;
    while (node && !this.#content.source.startsWith(tag, node.start)) node = node.parent;
    return node;
  }
}

const points: Readonly<Record<string, number>> = nullPrototype({ cm: 72 / 2.54, mm: 7.2 / 2.54, in: 72, pt: 1 });

/** The width of the page less its margins (16.6), of the first page layout. */
function textWidth(layout: SourceElement | undefined): number {
  const length = (name: string): number => {
    const [, number = '0', unit = 'pt'] = /^([\d.]+)(cm|mm|in|pt)$/.exec(layout?.attributes[`fo:${name}`] ?? '') ?? [];
    return Number(number) * (points[unit] ?? 1);
  };
  const width = length('page-width') - length('margin-left') - length('margin-right');
  return width > 72 ? Math.round(width * 100) / 100 : 453.5;
}

const pairs = [
  ['bookmark', 'text:name'],
  ['reference-mark', 'text:name'],
  ['change', 'text:change-id'],
  ['toc-mark', 'text:id'],
  ['user-index-mark', 'text:id'],
  ['alphabetical-index-mark', 'text:id'],
].map(([name, key = '']) => ({ start: `text:${name}-start`, end: `text:${name}-end`, key }));
const fieldMarks = { start: 'field:fieldmark-start', end: 'field:fieldmark-end', key: 'text:name' };

/**
 * ISO/IEC 26300-1: marks stand inside paragraphs, so what is left of them needs one.
 * @param dropped - the name of a bookmark that is not to be kept
 */
export function odtGrammar(fragment: (source: string) => SourceTree, dropped?: string): Grammar {
  const drop =
    dropped === undefined ? undefined : { start: 'text:bookmark-start', end: 'text:bookmark-end', key: dropped };
  const left = (source: string): string =>
    /-(?:start|end)\b/.test(source) ? unpairedMarkers(fragment(source), [...pairs, fieldMarks], drop) : '';
  return {
    ...xmlGrammar,
    remains: left,
    remainsInside: true,
    emptyParagraph: (source) => {
      const tree = fragment(source);
      const { element } = tree;
      if (!element || element.innerEnd === element.end) return source;
      return tree.tag(element) + left(source) + source.slice(element.innerEnd);
    },
  };
}

/** Who put something in, and when. */
interface Author {
  readonly author: string;
  /** ISO 8601. */
  readonly date: string | undefined;
}

const dublinCore = 'http://purl.org/dc/elements/1.1/';

/**
 * Puts things in as insertions that somebody may accept or reject (ISO/IEC 26300-1, 5.5): marks where each begins and ends,
 * and a list of who made them. State: the regions so far.
 */
export class TrackedInsertions {
  readonly #author: Author;
  readonly #facts: ContentFacts;
  readonly #regions: string[] = [];
  #number: number;

  constructor(facts: ContentFacts, author: Author) {
    this.#author = author;
    this.#facts = facts;
    this.#number = facts.lastChange;
  }

  /** Source of words, or of whole paragraphs and tables, between marks. */
  around(source: string): string {
    const { start, end } = this.#marks();
    return start + source + end;
  }

  /** Source of list items: the marks stand in their first and last paragraph, since none may stand between items. */
  inItems(source: string): string {
    const first = /<text:[ph](?:\s[^<>]*)?>/.exec(source);
    const last = Math.max(source.lastIndexOf('</text:p>'), source.lastIndexOf('</text:h>'));
    const from = first ? first.index + first[0].length : -1;
    if (from < 0 || last < from) return source;
    const { start, end } = this.#marks();
    return source.slice(0, from) + start + source.slice(from, last) + end + source.slice(last);
  }

  #marks(): { readonly start: string; readonly end: string } {
    const id = `${changeName}${++this.#number}`;
    const { author, date } = this.#author;
    const when = date === undefined ? '' : `<dc:date>${escapeText(date.replace(/\.\d+Z$/, 'Z'))}</dc:date>`;
    this.#regions.push(
      `<text:changed-region xml:id="${id}" text:id="${id}"><text:insertion><office:change-info xmlns:dc="${dublinCore}"><dc:creator>${escapeText(author)}</dc:creator>${when}</office:change-info></text:insertion></text:changed-region>`,
    );
    const mark = (name: string): string => `<text:${name} text:change-id="${escapeAttribute(id)}"/>`;
    return { start: mark('change-start'), end: mark('change-end') };
  }

  /** Adds the list of changes to the content part: it stands in front of the text, behind its forms. */
  listed(source: string): TextEdit[] {
    const regions = this.#regions.join('');
    const { changes, formsEnd } = this.#facts;
    if (regions === '') return [];
    if (changes && changes.innerEnd < changes.end) return [insertion(changes.innerEnd, regions)];
    const list = `<text:tracked-changes>${regions}</text:tracked-changes>`;
    if (!changes) return [insertion(formsEnd, list)];
    const tag = source.slice(changes.start, changes.end).replace(/\s*\/>$/, '>');
    return [{ start: changes.start, end: changes.end, replacement: `${tag}${regions}</${tagName(tag)}>` }];
  }
}
