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
import type { TextEdit } from '../../text-edits.ts';
import type { SourceNode } from '../../trace.ts';
import { Declarations, highest, nullPrototype } from '../../xml/element.ts';
import { unpairedMarkers, xmlGrammar } from '../../xml/text-of.ts';
import { escapeAttribute, escapeText, xmlSource } from '../../xml/write-xml.ts';
import { addPicturePart, manifestPart, withAutomaticStyles } from '../additions.ts';
import { contentPart, openOdf, writingNamespaces } from '../package.ts';
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
  return {
    source: decoded,
    grammar: odtGrammar,
    read: (request) => readPackage(zip, request, decoded),
    end: () => ({ start: endOfText(decoded.text), end: decoded.text.length }),
    async landing(prose, insertion) {
      await edit.load('styles.xml', manifestPart);
      return new OdtLanding(edit, decoded.text, prose, insertion);
    },
    save(text) {
      edit.setText(contentPart, text);
      return edit.bytes();
    },
  };
}

/** The end of the body, whatever prefix the file has for it. */
function endOfText(text: string): number {
  const [, prefix = 'office:'] = /<((?:[\w.-]+:)?)body[\s>]/.exec(text) ?? [];
  const end = text.lastIndexOf(`</${prefix}text>`);
  if (end >= 0) return end;
  throw new DrawerError('unsupported/document-without-body');
}

/** A body of one tag, as a document without words may have it, with an end tag. */
const withOpenBody = (decoded: DecodedText): DecodedText => ({
  ...decoded,
  text: decoded.text.replace(/<((?:[\w.-]+:)?body)>\s*<((?:[\w.-]+:)?text)(\s[^<>]*?)?\/>/, '<$1><$2$3></$2>'),
});

class OdtLanding extends InsertionGrammar implements ProseLanding {
  readonly styles: TargetStyles;
  /** Where what lands is a change that somebody has to accept. */
  readonly tracked: TrackedInsertions | undefined;
  readonly #source: string;
  readonly #declarations: Declarations;
  readonly #prose: TracedProse;
  readonly #insertion: Insertion;
  readonly #story: OdtStory;

  constructor(edit: PackageEdit, source: string, prose: TracedProse, insertion: Insertion) {
    super(odtGrammar);
    this.#source = source;
    this.#declarations = new Declarations(source, writingNamespaces);
    this.#prose = prose;
    this.#insertion = insertion;
    const { author, date } = insertion;
    this.tracked = author === undefined ? undefined : new TrackedInsertions(source, { author, date });
    const stylesPart = edit.findText('styles.xml') ?? '';
    this.styles = new TargetStyles(source, stylesPart, insertion.style === 'original');
    let number = highest(source, /(?:drawer-note-|draw:name="Picture |table:name="Drawer)(\d{1,6})/g);
    const story: OdtStory = {
      styles: this.styles,
      width: textWidth(stylesPart),
      addPicture: (picture) => addPicturePart(edit, picture, insertion.media),
      nextNumber: () => ++number,
      writeNoteBlocks: (blocks) =>
        writeBlocks(story, blocks, { style: stylesPart.includes('style:name="Footnote"') ? 'Footnote' : undefined }),
    };
    this.#story = story;
  }

  blocks(blocks: readonly Block[], spot: BlockTarget): TextEdit {
    const [only] = blocks;
    const plain: OdtSetting = {
      style:
        this.#insertion.style === 'original'
          ? undefined
          : styleName(this.#source, nearestPlain(this.#prose, spot.position)),
    };
    const item = spot.item && spot.list ? this.#itemAround(spot.item) : undefined;
    const elements =
      item && only?.type === 'list'
        ? writeItems(this.#story, only, { style: styleName(this.#source, spot.item) })
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
    const elements = this.tracked?.around(written) ?? written;
    const tag = this.#source.slice(leaf.start, leaf.end);
    const [, name = 'text:p', attributes = ''] = /^<([\w.:-]+)([^<>]*?)\/>$/.exec(tag) ?? [];
    if (tag.endsWith('/>') && !tag.includes('><'))
      return [{ start: leaf.start, end: leaf.end, replacement: `<${name}${attributes}>${elements}</${name}>` }];
    return [{ start: position, end: position, replacement: elements }];
  }

  finish(edited: string): string {
    const text = withAutomaticStyles(edited, this.styles.made);
    return this.tracked?.listedIn(text) ?? text;
  }

  part({ leaf, piece }: WordTarget): { close: string; open: string } | undefined {
    if (piece?.owner !== leaf) return undefined;
    const [open, name] = /^<([\w.:-]+)[^<>]*>/.exec(this.#source.slice(leaf.start, leaf.start + 2000)) ?? [];
    return open && name ? { close: `</${name}>`, open: open.replace(/\s(?:xml:id|text:id)="[^"]*"/g, '') } : undefined;
  }

  #written(nodes: Parameters<typeof xmlSource>[0]): string {
    return nodes
      .map((node) => (node.type === 'element' ? this.#declarations.on(xmlSource([node])) : xmlSource([node])))
      .join('');
  }

  #itemAround(leaf: SourceNode): SourceNode | undefined {
    let node: SourceNode | undefined = leaf;
    while (node && !this.#source.startsWith('<text:list-item', node.start)) node = node.parent;
    return node;
  }
}

const styleName = (source: string, node: SourceNode | undefined): string | undefined =>
  node && /^<[^<>]*?text:style-name="([^"]+)"/.exec(source.slice(node.start, node.start + 1000))?.[1];

const points: Readonly<Record<string, number>> = nullPrototype({ cm: 72 / 2.54, mm: 7.2 / 2.54, in: 72, pt: 1 });

/** The width of the page less its margins (16.6), of the first page layout. */
function textWidth(styles: string): number {
  const [layout = ''] = /<style:page-layout-properties\s[^<>]*>/.exec(styles) ?? [];
  const length = (name: string): number => {
    const [, number = '0', unit = 'pt'] = new RegExp(`fo:${name}="([\\d.]+)(cm|mm|in|pt)"`).exec(layout) ?? [];
    return Number(number) * (points[unit] ?? 1);
  };
  const width = length('page-width') - length('margin-left') - length('margin-right');
  return width > 72 ? Math.round(width * 100) / 100 : 453.5;
}

const pairs = [
  { start: 'bookmark-start', end: 'bookmark-end', key: 'name' },
  { start: 'reference-mark-start', end: 'reference-mark-end', key: 'name' },
  { start: 'change-start', end: 'change-end', key: 'change-id' },
  { start: 'toc-mark-start', end: 'toc-mark-end', key: 'id' },
  { start: 'user-index-mark-start', end: 'user-index-mark-end', key: 'id' },
  { start: 'alphabetical-index-mark-start', end: 'alphabetical-index-mark-end', key: 'id' },
  { start: 'fieldmark-start', end: 'fieldmark-end', key: 'name' },
];

/** ISO/IEC 26300-1: marks stand inside paragraphs, so what is left of them needs one. */
export const odtGrammar: Grammar = {
  ...xmlGrammar,
  remains: (source) => unpairedMarkers(source, pairs),
  remainsInside: true,
  emptyParagraph: (source) => wrapped(source, unpairedMarkers(source, pairs)),
};

/** The paragraph's own tags around what stays of it. */
function wrapped(source: string, inside: string): string {
  const [open = '', name = ''] = /^<([\w.:-]+)[^<>]*>/.exec(source) ?? [];
  return open.endsWith('/>') ? open : `${open}${inside}</${name}>`;
}

/** Who put something in, and when. */
interface Author {
  readonly author: string;
  /** ISO 8601. */
  readonly date: string | undefined;
}

const dublinCore = 'http://purl.org/dc/elements/1.1/';
const prefix = 'drawer-change-';

/**
 * Puts things in as insertions that somebody may accept or reject (ISO/IEC 26300-1, 5.5): marks where each begins and ends,
 * and a list of who made them. State: the regions so far.
 */
export class TrackedInsertions {
  readonly #author: Author;
  readonly #regions: string[] = [];
  #number: number;

  constructor(source: string, author: Author) {
    this.#author = author;
    this.#number = [...source.matchAll(new RegExp(`"${prefix}(\\d{1,9})"`, 'g'))].reduce(
      (most, [, each]) => Math.max(most, Number(each)),
      0,
    );
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
    const id = `${prefix}${++this.#number}`;
    const { author, date } = this.#author;
    const when = date === undefined ? '' : `<dc:date>${escapeText(date.replace(/\.\d+Z$/, 'Z'))}</dc:date>`;
    this.#regions.push(
      `<text:changed-region xml:id="${id}" text:id="${id}"><text:insertion><office:change-info xmlns:dc="${dublinCore}"><dc:creator>${escapeText(author)}</dc:creator>${when}</office:change-info></text:insertion></text:changed-region>`,
    );
    const mark = (name: string): string => `<text:${name} text:change-id="${escapeAttribute(id)}"/>`;
    return { start: mark('change-start'), end: mark('change-end') };
  }

  /** The content part with the list of changes, which stands in front of the text, behind its forms. */
  listedIn(content: string): string {
    const regions = this.#regions.join('');
    if (regions === '') return content;
    const end = content.indexOf('</text:tracked-changes>');
    if (end >= 0) return content.slice(0, end) + regions + content.slice(end);
    const list = `<text:tracked-changes>${regions}</text:tracked-changes>`;
    const [empty] = /<text:tracked-changes(?:\s[^<>]*)?\/>/.exec(content) ?? [];
    if (empty !== undefined) return content.replace(empty, () => list);
    const open = /<office:text(?:\s[^<>]*)?>(?:\s*<office:forms(?:\s[^<>]*)?(?:\/>|>[\s\S]*?<\/office:forms>))?/.exec(
      content,
    );
    if (!open) return content;
    const at = open.index + open[0].length;
    return content.slice(0, at) + list + content.slice(at);
  }
}
