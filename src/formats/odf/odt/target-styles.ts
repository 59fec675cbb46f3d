import type { Element } from 'xast';
import type { List, ListMarker, Marks, ParagraphProperties } from '../../../content/index.ts';
import { x } from '../../xml/element.ts';
import type { SourceElement, SourceTree } from '../../xml/source-tree.ts';
import { xmlSource } from '../../xml/write-xml.ts';
import type { ContentHead } from '../additions.ts';
import type { ContentFacts } from './content-facts.ts';

/** The names of styles that content has where it lands, and those that are added for it. */
export interface OdtStyles {
  heading(level: number): string | undefined;
  named(kind: 'quote' | 'code'): string | undefined;
  rule(): string;
  /** The style of a name that the content has of its own, where there is one. */
  own(name: string | undefined): string | undefined;
  /** A paragraph's style with what its own look adds. */
  paragraphStyle(base: string | undefined, look: ParagraphProperties): string | undefined;
  textStyle(marks: Marks): string | undefined;
  list(list: List): string;
  /** The style of paragraphs in lists, where the document has lists. */
  listParagraph(base: string | undefined): string | undefined;
  /** Of a list in a list: the outer one’s style goes on, unless it is of the other kind. */
  nestedList(list: List): string | undefined;
  table(width: number): string;
  column(width: number): string;
  cell(isHeading: boolean, background: string | undefined): string;
  cellParagraph(isHeading: boolean): string | undefined;
}

/**
 * Finds styles by their names in a document's parts, and makes automatic ones (ISO/IEC 26300-1, section 16.5) where none
 * says what is needed. State: those made so far.
 */
export class TargetStyles implements OdtStyles {
  readonly #facts: ContentFacts;
  readonly #head: ContentHead;
  /** The named styles of the document, by their names. */
  readonly #named: ReadonlyMap<string, SourceElement>;
  readonly #usesOwnLists: boolean;
  readonly #made = new Map<string, { readonly name: string; readonly element: Element }>();
  /** The styles of cells, of which a long table has many that look the same. */
  readonly #cells = new Map<string, string>();
  #outerOrdered: boolean | undefined;

  constructor(facts: ContentFacts, head: ContentHead, styles: SourceTree | undefined, usesOwnLists: boolean) {
    this.#facts = facts;
    this.#head = head;
    const named = styles?.root.children.flatMap(({ children }) => children) ?? [];
    this.#named = new Map(named.map((element) => [element.attributes['style:name'] ?? '', element]));
    this.#usesOwnLists = usesOwnLists;
  }

  /** The source of the styles that were made. */
  get made(): string {
    return xmlSource([...this.#made.values()].map(({ element }) => element));
  }

  heading(level: number): string | undefined {
    const used = this.#facts.headings.get(String(level));
    return used ?? this.#known(`Heading_20_${level}`) ?? this.#known('Heading');
  }

  named(kind: 'quote' | 'code'): string | undefined {
    return kind === 'quote'
      ? (this.#known('Quotations') ??
          this.#make('paragraph', 'Q', { 'fo:margin-left': '28pt', 'fo:margin-right': '28pt' }))
      : (this.#known('Preformatted_20_Text') ??
          this.#make('paragraph', 'K', {}, { 'style:font-name': 'Courier New', 'fo:font-family': "'Courier New'" }));
  }

  rule(): string {
    return (
      this.#known('Horizontal_20_Line') ??
      this.#make('paragraph', 'H', { 'fo:border-bottom': '0.75pt solid #808080', 'fo:margin-bottom': '8pt' })
    );
  }

  own(name: string | undefined): string | undefined {
    return name === undefined ? undefined : this.#known(styleNameOf(name));
  }

  paragraphStyle(base: string | undefined, { align, indent, direction }: ParagraphProperties): string | undefined {
    const own = {
      ...(align && { 'fo:text-align': align }),
      ...(indent !== undefined && { 'fo:margin-left': `${indent}pt` }),
      ...(direction && { 'style:writing-mode': direction === 'rtl' ? 'rl-tb' : 'lr-tb' }),
    };
    return Object.keys(own).length === 0 ? base : this.#make('paragraph', 'P', own, {}, this.#parentOf(base));
  }

  /** Only a named style can be built on (16.2, style:parent-style-name). */
  #parentOf(name: string | undefined): string | undefined {
    if (name === undefined || this.#known(name) !== undefined) return name;
    return this.#head.style(name)?.attributes['style:parent-style-name'];
  }

  textStyle({
    bold,
    italic,
    underline,
    strike,
    position,
    font,
    size,
    colour,
    background,
    code,
    language,
  }: Marks): string | undefined {
    const [tag, country] = (language ?? '').split('-');
    const own = {
      ...(bold && { 'fo:font-weight': 'bold', 'style:font-weight-asian': 'bold', 'style:font-weight-complex': 'bold' }),
      ...(italic && {
        'fo:font-style': 'italic',
        'style:font-style-asian': 'italic',
        'style:font-style-complex': 'italic',
      }),
      ...(underline && {
        'style:text-underline-style': 'solid',
        'style:text-underline-width': 'auto',
        'style:text-underline-color': 'font-color',
      }),
      ...(strike && { 'style:text-line-through-style': 'solid' }),
      ...(position && { 'style:text-position': `${position === 'superscript' ? 'super' : 'sub'} 58%` }),
      ...(font && { 'fo:font-family': `'${font.replaceAll("'", '')}'` }),
      ...(size !== undefined && { 'fo:font-size': `${size}pt` }),
      ...(colour && { 'fo:color': colour }),
      ...(background && { 'fo:background-color': background }),
      ...(tag && { 'fo:language': tag, 'fo:country': country && /^[A-Z]{2}$/.test(country) ? country : 'none' }),
    };
    const known = code ? this.#known('Source_20_Text') : undefined;
    if (code && known === undefined) return this.#make('text', 'T', {}, { 'fo:font-family': "'Courier New'", ...own });
    if (Object.keys(own).length === 0) return known;
    return this.#make('text', 'T', {}, own, known);
  }

  list(list: List): string {
    this.#outerOrdered = list.ordered;
    const known = this.#usesOwnLists ? undefined : this.#usedList(list.ordered);
    return known ?? this.#makeList(list);
  }

  nestedList(list: List): string | undefined {
    return !this.#usesOwnLists && list.ordered === this.#outerOrdered ? undefined : this.#makeList(list);
  }

  listParagraph(base: string | undefined): string | undefined {
    const used = this.#facts.listParagraph;
    return used ?? (base === undefined || this.#usesOwnLists ? base : this.#known('List'));
  }

  /** The style of a list of that kind that the document has already. */
  #usedList(ordered: boolean): string | undefined {
    for (const name of this.#facts.lists) {
      const definition = this.#head.style(name) ?? this.#named.get(name);
      if (definition?.children[0]?.name === `text:list-level-style-${ordered ? 'number' : 'bullet'}`) return name;
    }
    return undefined;
  }

  #makeList({ ordered, marker }: List): string {
    return this.#keep(`list ${ordered} ${marker}`, 'L', (name) =>
      x(
        'text:list-style',
        { 'style:name': name },
        Array.from({ length: 10 }, (_, index) => listLevel(index + 1, ordered, marker)),
      ),
    );
  }

  table(width: number): string {
    return this.#make('table', 'B', {}, {}, undefined, {
      'style:width': `${round(width)}pt`,
      'table:align': 'left',
      'table:border-model': 'collapsing',
    });
  }

  column(width: number): string {
    return this.#make('table-column', 'S', {}, {}, undefined, { 'style:column-width': `${round(width)}pt` });
  }

  cell(isHeading: boolean, background: string | undefined): string {
    const key = `${isHeading} ${background}`;
    const known = this.#cells.get(key);
    if (known !== undefined) return known;
    const { headCell, bodyCell } = this.#facts;
    const used = background || this.#usesOwnLists ? undefined : isHeading ? headCell : bodyCell;
    const name =
      used ??
      this.#make('table-cell', 'C', {}, {}, undefined, {
        'fo:padding': '3pt',
        'fo:border': '0.5pt solid #808080',
        ...(background && { 'fo:background-color': background }),
      });
    this.#cells.set(key, name);
    return name;
  }

  cellParagraph(isHeading: boolean): string | undefined {
    return (isHeading ? this.#known('Table_20_Heading') : undefined) ?? this.#known('Table_20_Contents');
  }

  /** The name, where the document has a style of that name. */
  #known(name: string): string | undefined {
    return this.#named.has(name) ? name : undefined;
  }

  #make(
    family: string,
    letter: string,
    paragraph: Record<string, string>,
    text: Record<string, string> = {},
    parent?: string,
    other: Record<string, string> = {},
  ): string {
    return this.#keep(JSON.stringify([family, paragraph, text, parent, other]), letter, (name) =>
      x('style:style', { 'style:name': name, 'style:family': family, 'style:parent-style-name': parent }, [
        ...(Object.keys(other).length > 0 ? [x(`style:${family}-properties`, other)] : []),
        ...(Object.keys(paragraph).length > 0 ? [x('style:paragraph-properties', paragraph)] : []),
        ...(Object.keys(text).length > 0 ? [x('style:text-properties', text)] : []),
      ]),
    );
  }

  #keep(key: string, letter: string, make: (name: string) => Element): string {
    const known = this.#made.get(key);
    if (known) return known.name;
    const name = this.#head.freeName(letter, this.#made.size + 1);
    this.#made.set(key, { name, element: make(name) });
    return name;
  }
}

/** A name as an XML name can be (16.2, style:display-name): other signs stand as their numbers between low lines. */
export const styleNameOf = (name: string): string =>
  name.replace(/[^A-Za-z0-9.-]/g, (sign) => `_${sign.codePointAt(0)?.toString(16)}_`);

const round = (points: number): number => Math.round(points * 100) / 100;

const bulletSigns: Partial<Record<ListMarker, string>> = { circle: '◦', square: '▪' };
const numberForms: Partial<Record<ListMarker, string>> = {
  'lower-alpha': 'a',
  'upper-alpha': 'A',
  'lower-roman': 'i',
  'upper-roman': 'I',
};

/** One level (16.31, 16.33), its sign hanging in front of the words. */
function listLevel(level: number, ordered: boolean, marker: ListMarker | undefined): Element {
  const place = x('style:list-level-properties', { 'text:list-level-position-and-space-mode': 'label-alignment' }, [
    x('style:list-level-label-alignment', {
      'text:label-followed-by': 'listtab',
      'text:list-tab-stop-position': `${18 * (level + 1)}pt`,
      'fo:text-indent': '-18pt',
      'fo:margin-left': `${18 * (level + 1)}pt`,
    }),
  ]);
  const form = (marker && numberForms[marker]) ?? '1';
  const sign = (marker && bulletSigns[marker]) ?? '•';
  return ordered
    ? x(
        'text:list-level-style-number',
        { 'text:level': String(level), 'style:num-format': form, 'style:num-suffix': '.' },
        [place],
      )
    : x('text:list-level-style-bullet', { 'text:level': String(level), 'text:bullet-char': sign }, [place]);
}
