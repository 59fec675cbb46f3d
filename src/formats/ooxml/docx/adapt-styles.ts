import type { Element, ElementContent } from 'xast';
import { x } from '../../xml/element.ts';
import type { TableLook } from './body-facts.ts';
import { mergeProperties, raw, type SourceProperty } from './properties.ts';
import type { TargetStyles } from './target-numbering.ts';
import type { CustomStyle } from './write-state.ts';

/** What the names and numbers of our own writing are in the document that it lands in. */
export interface StyleTarget {
  readonly styles: TargetStyles;
  readonly customStyles: ReadonlyMap<string, CustomStyle>;
  numbering(instance: string): string;
  relationship(id: string): string;
  /** Added to the ids of footnotes and of drawings. */
  readonly footnotes: number;
  readonly drawings: number;
  /** The look of the document's own tables, where no style tells it. */
  readonly tables?: TableLook | undefined;
  /** What a paragraph without a style says where the document numbers such paragraphs. */
  readonly unnumbered?: SourceProperty | undefined;
  /** What plain paragraphs and their runs look like there; absent where they should look as they came. */
  readonly plain?:
    | { readonly paragraph: readonly SourceProperty[]; readonly run: readonly SourceProperty[] }
    | undefined;
}

/** Elements of our own writing, changed in place so that they belong to a document: styles by meaning, ids by what is free. */
export function adaptStyles(elements: readonly Element[], target: StyleTarget): readonly Element[] {
  for (const element of elements) new Retargeting(target).visit(element, false);
  return elements;
}

class Retargeting {
  readonly #target: StyleTarget;
  /** Whether the runs being visited are of a paragraph without a look of its own. */
  #isPlain = true;

  constructor(target: StyleTarget) {
    this.#target = target;
  }

  visit(element: Element, inTable: boolean): void {
    this.#renumber(element);
    if (element.name === 'w:p') this.#paragraph(element, inTable);
    if (element.name === 'w:r') this.#run(element);
    if (element.name === 'w:tblPr') this.#table(element);
    if (element.name === 'w:tbl' && this.#looksLikeOthers) for (const row of rowsOf(element)) this.#dress(row);
    for (const child of element.children)
      if (child.type === 'element') this.visit(child, inTable || element.name === 'w:tbl');
  }

  #renumber({ name, attributes }: Element): void {
    const add = (key: string, more: number): void => {
      attributes[key] = String(Number(attributes[key]) + more);
    };
    if (name === 'w:numId') attributes['w:val'] = this.#target.numbering(attributes['w:val'] ?? '');
    if (name === 'w:footnoteReference') add('w:id', this.#target.footnotes);
    if (name === 'wp:docPr' || name === 'pic:cNvPr') add('id', this.#target.drawings);
    for (const key of ['r:id', 'r:embed'])
      if (typeof attributes[key] === 'string') attributes[key] = this.#target.relationship(attributes[key]);
  }

  get #looksLikeOthers(): boolean {
    return this.#target.tables !== undefined && this.#target.styles.find('TableGrid') === undefined;
  }

  /** The cells of a row as the document's own are, heading cells like its heading cells. */
  #dress(row: Element): void {
    const isHead = row.children.some(
      (each) =>
        each.type === 'element' &&
        each.name === 'w:trPr' &&
        each.children.some((child) => child.type === 'element' && child.name === 'w:tblHeader'),
    );
    const look = this.#target.tables?.[isHead ? 'head' : 'body'];
    if (!look) return;
    for (const cell of row.children) {
      if (cell.type !== 'element' || cell.name !== 'w:tc') continue;
      const [properties] = cell.children;
      if (properties?.type !== 'element') continue;
      const shade = properties.children.find((each) => each.type === 'element' && each.name === 'w:shd');
      const others = properties.children.filter((each) => each !== shade);
      const shading = shade ?? (look.shading === '' ? undefined : raw(look.shading));
      properties.children = [...others, raw(look.borders), ...(shading ? [shading] : [])] as Element['children'];
      if (isHead && look.bold) for (const run of runsIn(cell)) addToRun(run, [x('w:b')]);
    }
  }

  #paragraph(paragraph: Element, inTable: boolean): void {
    const [first] = paragraph.children;
    const own = first?.type === 'element' && first.name === 'w:pPr' ? first : undefined;
    const properties: ElementContent[] = own?.children ?? [];
    const style = properties.find((each): each is Element => each.type === 'element' && each.name === 'w:pStyle');
    const others = properties.filter((each) => each !== style);
    const asked = this.#base(style?.attributes['w:val'] ?? undefined);
    this.#isPlain = asked === undefined || /^List/.test(asked.id);
    const known = asked && (asked.found ?? this.#target.styles.find(asked.id));
    const look = asked === undefined && !inTable ? (this.#target.plain?.paragraph ?? []) : [];
    const base = known === undefined ? this.#withoutNumber(look, others) : look;
    const named = known === undefined ? [] : [x('w:pStyle', { 'w:val': known })];
    const fallback = asked && known === undefined ? paragraphFallback(asked.id) : [];
    const merged = mergeProperties('paragraph', [...named, ...fallback, ...others], base);
    const rest = own ? paragraph.children.slice(1) : paragraph.children;
    paragraph.children = [
      ...(merged.length > 0 ? [withChildren('w:pPr', merged)] : []),
      ...rest,
    ] as Element['children'];
    if (asked && known === undefined) for (const run of runsIn(paragraph)) addToRun(run, runFallback(asked.id));
  }

  #withoutNumber(look: readonly SourceProperty[], own: readonly ElementContent[]): readonly SourceProperty[] {
    const { unnumbered } = this.#target;
    const says = look.some(({ name }) => name === 'numPr' || name === 'pStyle');
    const isNumbered = own.some((each) => each.type === 'element' && each.name === 'w:numPr');
    return unnumbered && !says && !isNumbered ? [...look, unnumbered] : look;
  }

  /** A style of the content's own is one of the same name, or what it is based on; `undefined` for plain text. */
  #base(id: string | undefined): { readonly id: string; readonly found?: string } | undefined {
    const custom =
      id === undefined ? undefined : [...this.#target.customStyles.values()].find((each) => each.id === id);
    if (!custom) return id === undefined || id === 'Normal' ? undefined : { id };
    const found = this.#target.styles.findNamed(custom.name);
    if (found !== undefined) return { id: custom.basedOn, found };
    return custom.basedOn === 'Normal' ? undefined : { id: custom.basedOn };
  }

  #run(run: Element): void {
    const style = propertiesOf(run)?.children.find(
      (each): each is Element => each.type === 'element' && each.name === 'w:rStyle',
    );
    if (style) {
      const ours = style.attributes['w:val'] ?? '';
      const known = this.#target.styles.find(ours);
      if (known !== undefined) style.attributes['w:val'] = known;
      else replaceProperty(run, style, runFallback(ours));
    }
    const base = this.#isPlain ? (this.#target.plain?.run ?? []) : [];
    if (base.length > 0) setProperties(run, mergeProperties('run', propertiesOf(run)?.children ?? [], base));
  }

  #table(properties: Element): void {
    const style = properties.children.find(
      (each): each is Element => each.type === 'element' && each.name === 'w:tblStyle',
    );
    const known = this.#target.styles.find('TableGrid');
    if (style && known !== undefined) style.attributes['w:val'] = known;
    if (!style || known !== undefined) return;
    const width = properties.children.findIndex((each) => each.type === 'element' && each.name === 'w:tblW');
    const { tables } = this.#target;
    const own = tables ? (tables.margins === '' ? [] : [raw(tables.margins)]) : [borders()];
    properties.children.splice(width + 1, 0, ...(own as Element['children']));
    properties.children = properties.children.filter((each) => each !== style);
  }
}

const withChildren = (name: string, children: readonly ElementContent[]): Element =>
  ({ type: 'element', name, attributes: {}, children: [...children] }) as Element;

const propertiesOf = (run: Element): Element | undefined => {
  const [first] = run.children;
  return first?.type === 'element' && first.name === 'w:rPr' ? first : undefined;
};

function setProperties(run: Element, properties: readonly ElementContent[]): void {
  const rest = propertiesOf(run) ? run.children.slice(1) : run.children;
  run.children = [
    ...(properties.length > 0 ? [withChildren('w:rPr', properties)] : []),
    ...rest,
  ] as Element['children'];
}

const addToRun = (run: Element, properties: readonly Element[]): void => {
  const own = propertiesOf(run)?.children ?? [];
  const added = properties.filter(({ name }) => !own.some((each) => each.type === 'element' && each.name === name));
  if (added.length > 0) setProperties(run, mergeProperties('run', [...own, ...added], []));
};

function replaceProperty(run: Element, old: Element, properties: readonly Element[]): void {
  const kept = (propertiesOf(run)?.children ?? []).filter((each) => each !== old);
  const added = properties.filter(({ name }) => !kept.some((each) => each.type === 'element' && each.name === name));
  setProperties(run, mergeProperties('run', [...kept, ...added], []));
}

const rowsOf = (table: Element): Element[] =>
  table.children.flatMap((child) => (child.type === 'element' && child.name === 'w:tr' ? [child] : []));

const runsIn = (element: Element): Element[] =>
  element.children.flatMap((child) => (child.type !== 'element' ? [] : child.name === 'w:r' ? [child] : runsIn(child)));

/** What a style of ours says, told directly where the document has none for it. */
function paragraphFallback(ourId: string): Element[] {
  const level = ourId === 'Title' ? 1 : Number(/^Heading(\d)$/.exec(ourId)?.[1] ?? 0);
  if (level > 0)
    return [
      x('w:keepNext'),
      x('w:spacing', { 'w:before': '240', 'w:after': '80' }),
      x('w:outlineLvl', { 'w:val': String(level - 1) }),
    ];
  if (ourId === 'Quote') return [x('w:ind', { 'w:left': '560', 'w:right': '560' })];
  const depth = Number(/^ListContinue(\d?)$/.exec(ourId)?.[1] || 1);
  return ourId.startsWith('ListContinue') ? [x('w:ind', { 'w:left': String(360 * depth) })] : [];
}

function runFallback(ourId: string): Element[] {
  const level = ourId === 'Title' ? 1 : Number(/^Heading(\d)$/.exec(ourId)?.[1] ?? 0);
  if (level > 0) return [x('w:b'), ...(level < 4 ? [x('w:sz', { 'w:val': String([32, 28, 24][level - 1]) })] : [])];
  switch (ourId) {
    case 'Quote':
      return [x('w:i')];
    case 'HTMLPreformatted':
    case 'HTMLCode':
      return [x('w:rFonts', { 'w:ascii': 'Courier New', 'w:hAnsi': 'Courier New', 'w:cs': 'Courier New' })];
    case 'Hyperlink':
      return [x('w:color', { 'w:val': '0B5C8A' }), x('w:u', { 'w:val': 'single' })];
    case 'FootnoteReference':
      return [x('w:vertAlign', { 'w:val': 'superscript' })];
    default:
      return [];
  }
}

const borders = (): Element =>
  x(
    'w:tblBorders',
    {},
    ['top', 'left', 'bottom', 'right', 'insideH', 'insideV'].map((side) =>
      x(`w:${side}`, { 'w:val': 'single', 'w:sz': '4', 'w:space': '0', 'w:color': 'auto' }),
    ),
  );
