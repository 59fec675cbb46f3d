import { columnLetters, findAddress, findRange, maxColumns, printRange, type Span } from '../../../places/index.ts';
import type { FullArea } from '../../sheets/area.ts';
import type { TextEdit } from '../../text-edits.ts';
import { rootTag } from '../../xml/element.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { scanXmlText } from '../../xml/scan-xml.ts';
import { childOf, insertion, SourceTree } from '../../xml/source-tree.ts';
import { namespaces } from '../opc.ts';
import type { SheetRows } from './sheet-rows.ts';

/** What stands around the rows of a sheet (ISO/IEC 29500-1, 18.3.1.99), for looking at and for changing. */
export class SheetFrame {
  readonly tree: SourceTree;
  readonly columns: SheetColumns;
  readonly #part: string;
  readonly #rootTag: string;

  /** @throws DrawerError `unreadable` where the part is not well formed */
  constructor(text: string, { data, end }: Pick<SheetRows, 'data' | 'end'>, part: string) {
    this.#part = part;
    this.#rootTag = rootTag(text);
    this.tree = new SourceTree(text, part, namespaces, data.isEmpty ? {} : { without: { start: data.end, end } });
    this.columns = new SheetColumns(this.tree.all('col').map(({ attributes }) => attributes));
  }

  /** Whether the sheet is protected (18.3.1.85). */
  get isProtected(): boolean {
    return isTrue(childOf(this.tree.root, 'sheetProtection')?.attributes.sheet);
  }

  /** Merged areas (18.3.1.55). */
  get merges(): readonly FullArea[] {
    return this.tree.all('mergeCell').flatMap(({ attributes }) => areaOf(attributes.ref));
  }

  /** The height of rows that have none of their own, in points (18.3.1.81). */
  get rowHeight(): number {
    return Number(childOf(this.tree.root, 'sheetFormatPr')?.attributes.defaultRowHeight ?? 15) || 15;
  }

  /** The source of one of its cells as a tree. */
  fragment(source: string): SourceTree {
    return new SourceTree(source, this.#part, namespaces, { rootTag: this.#rootTag });
  }

  /** The used range that the sheet states (18.3.1.35) grows with an area. */
  withArea({ rows, columns }: FullArea): TextEdit[] {
    const dimension = childOf(this.tree.root, 'dimension');
    const [stated] = areaOf(dimension?.attributes.ref);
    if (!dimension || !stated) return [];
    const corner = (pick: (...numbers: number[]) => number, end: 'from' | 'to'): string =>
      `${columnLetters(pick(stated.columns[end], columns[end]))}${pick(stated.rows[end], rows[end])}`;
    return [this.tree.setAttributes(dimension, { ref: `${corner(Math.min, 'from')}:${corner(Math.max, 'to')}` })];
  }

  /** Removes merged areas and adds others, in their place among the sheet's elements. */
  withMerges({ come, go }: { readonly come: readonly FullArea[]; readonly go: readonly FullArea[] }): TextEdit[] {
    if (come.length + go.length === 0) return [];
    const { tree } = this;
    const p = tree.prefix('');
    const source = come.map((area) => `<${p}mergeCell ref="${printRange(area)}"/>`).join('');
    const known = childOf(tree.root, 'mergeCells');
    if (known) {
      const names = new Set(go.map(printRange));
      const gone = known.children.filter(({ attributes }) =>
        areaOf(attributes.ref).some((area) => names.has(printRange(area))),
      );
      const count = known.children.length - gone.length + come.length;
      // The element has at least one child (18.3.1.55).
      if (count === 0) return [tree.replace(known)];
      return [...gone.map((element) => tree.replace(element)), ...tree.append(known, source, { count: String(count) })];
    }
    const before = tree.root.children.findLast(({ name }) => beforeMerges.has(name));
    if (!before) return [];
    return [insertion(before.end, `<${p}mergeCells count="${come.length}">${source}</${p}mergeCells>`)];
  }

  /** Names a drawing by its relationship, in its place among the sheet's elements. */
  withDrawing(relationshipsSpace: string, id: string): TextEdit[] {
    const { tree } = this;
    const element = `<${tree.prefix('')}drawing xmlns:r="${relationshipsSpace}" r:id="${id}"/>`;
    const next = tree.root.children.find(({ name }) => behindDrawing.has(name));
    return next ? [insertion(next.start, element)] : tree.append(tree.root, element);
  }
}

/** The elements that come after the rows, and those, and before the merged areas. */
const beforeMerges: ReadonlySet<string> = new Set([
  'sheetData',
  'sheetCalcPr',
  'sheetProtection',
  'protectedRanges',
  'scenarios',
  'autoFilter',
  'sortState',
  'dataConsolidate',
  'customSheetViews',
]);

/** What may stand behind a sheet's drawing. */
const behindDrawing: ReadonlySet<string> = new Set([
  'legacyDrawing',
  'legacyDrawingHF',
  'drawingHF',
  'picture',
  'oleObjects',
  'controls',
  'webPublishItems',
  'tableParts',
  'extLst',
  'mc:AlternateContent',
]);

const isTrue = (value: string | undefined): boolean => value === '1' || value === 'true';

/** A range or a single cell; none where it is neither, or past the sheet's end. */
function areaOf(reference = ''): FullArea[] {
  const { rows, columns } = findRange(reference) ?? {};
  if (rows && columns) return columns.to <= maxColumns ? [{ rows, columns }] : [];
  const single = findAddress(reference);
  return single
    ? [{ rows: { from: single.row, to: single.row }, columns: { from: single.column, to: single.column } }]
    : [];
}

/** What a sheet says of its columns (18.3.1.13). */
export class SheetColumns {
  readonly #columns: readonly { readonly span: Span; readonly attributes: Attributes }[];

  constructor(columns: readonly Attributes[]) {
    this.#columns = columns.map((attributes) => ({
      span: { from: Number(attributes.min), to: Number(attributes.max) },
      attributes,
    }));
  }

  /** The first column that is not hidden. */
  get firstShown(): number {
    return this.#columns.reduce(
      (column, { span: { from, to }, attributes }) =>
        isTrue(attributes.hidden) && from <= column && column <= to ? to + 1 : column,
      1,
    );
  }

  /** How many characters a column shows, in fonts of usual width; `undefined` where the sheet does not say. */
  width(column: number): number | undefined {
    const width = this.#number(column, 'width');
    return width > 0 ? width * 1.1 : undefined;
  }

  /** The index of the format that cells of a column have. */
  format(column: number): number {
    return this.#number(column, 'style');
  }

  #number(column: number, name: 'width' | 'style'): number {
    const found = this.#columns.find(({ span: { from, to } }) => from <= column && column <= to);
    return Number(found?.attributes[name] ?? 0) || 0;
  }
}

/** A link from cells to an address (18.3.1.47). */
export interface CellLink {
  readonly area: FullArea;
  readonly relationship: string | undefined;
}

/** What the elements behind a sheet's rows say of its cells. */
export class TailFacts implements XmlHandler {
  readonly merges: FullArea[] = [];
  readonly links: CellLink[] = [];

  /** `tail` begins with the end tag of the rows, `head` ends in front of their start tag. */
  constructor(head: string, prefix: string, tail: string, part: string) {
    if (tail !== '') scanXmlText(`${head}<${prefix}sheetData>${tail}`, part, namespaces, this);
  }

  open(name: string, a: Attributes): void {
    if (name === 'mergeCell') this.merges.push(...areaOf(a.ref));
    if (name === 'hyperlink') for (const area of areaOf(a.ref)) this.links.push({ area, relationship: a['r:id'] });
  }

  close(): void {}
}
