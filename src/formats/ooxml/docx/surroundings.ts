import type { Piece, SourceNode } from '../../trace.ts';
import { propertiesIn, propertiesSource, type SourceProperty } from './properties.ts';
import { type Page, pageFor } from './write-state.ts';

/** The table style that most tables of the document have. */
export function tableStyleIn(source: string): string | undefined {
  if (!source.includes('tblStyle')) return undefined;
  const uses = new Map<string, number>();
  for (const [, id = ''] of source.matchAll(/<(?:[\w.-]+:)?tblStyle\s[^<>]*?val="([^"]+)"/g))
    uses.set(id, (uses.get(id) ?? 0) + 1);
  return [...uses].sort((one, other) => other[1] - one[1])[0]?.[0];
}

/** What the cells of a table look like, told on themselves, as some programs do in place of a table's style. */
export interface CellLook {
  readonly borders: string;
  readonly shading: string;
  readonly bold: boolean;
}

export interface TableLook {
  readonly head: CellLook;
  readonly body: CellLook;
  /** The margins inside cells. */
  readonly margins: string;
}

/** The look of the first table of a document whose cells tell theirs. */
export function tableLookIn(source: string): TableLook | undefined {
  if (!source.includes('tcBorders')) return undefined;
  const tables = [...source.matchAll(/<((?:[\w.-]+:)?)tbl>[\s\S]*?<\/\1tbl>/g)].map(([table]) => table);
  const table = tables.find((each) => /<(?:[\w.-]+:)?tcBorders>/.test(each)) ?? '';
  const cells = [...table.matchAll(/<((?:[\w.-]+:)?)tc>[\s\S]*?<\/\1tc>/g)].map(([cell]) => cell);
  const part = (text: string, name: string): string =>
    new RegExp(`<((?:[\\w.-]+:)?)${name}(?:\\s[^<>]*)?(?:/>|>[\\s\\S]*?</\\1${name}>)`).exec(text)?.[0] ?? '';
  const [head, last] = [cells[0], cells.at(-1)];
  if (head === undefined || last === undefined || part(head, 'tcBorders') === '') return undefined;
  const look = (cell: string): CellLook => ({
    borders: part(cell, 'tcBorders'),
    shading: part(part(cell, 'tcPr'), 'shd'),
    bold: /<(?:[\w.-]+:)?b\/>/.test(cell),
  });
  return { head: look(head), body: look(last), margins: part(table, 'tblCellMar') };
}

/** The room that there is for tables and pictures: the cell around the place, or the page of its section. */
export function pageAt(source: string, position: number, node: SourceNode | undefined): Page {
  for (let around = node; around; around = around.parent) {
    const width = around.kind === 'cell' ? cellWidth(source.slice(around.start, around.start + 600)) : undefined;
    if (width !== undefined) return { width, height: width, margin: 0 };
  }
  return sectionPage(source, position) ?? pageFor('en-GB');
}

/** Its width less the margins inside, of 5.4 points each. */
function cellWidth(cell: string): number | undefined {
  const [tag] = /<(?:[\w.-]+:)?tcW\s[^<>]*>/.exec(cell) ?? [];
  if (tag === undefined || !/type="dxa"/.test(tag)) return undefined;
  const twips = Number(/:w="(\d+)"/.exec(tag)?.[1] ?? 0);
  return twips > 400 ? twips / 20 - 10.8 : undefined;
}

/** A section's properties stand at its end (ISO/IEC 29500-1, 17.6.17). */
function sectionPage(source: string, position: number): Page | undefined {
  const near = source.indexOf('sectPr', position);
  if (near < 0) return undefined;
  const [section] =
    /<(?:[\w.-]+:)?sectPr[\s>][\s\S]*?<\/(?:[\w.-]+:)?sectPr>/.exec(source.slice(Math.max(position, near - 80))) ?? [];
  if (section === undefined) return undefined;
  const [size = ''] = /<(?:[\w.-]+:)?pgSz\s[^<>]*>/.exec(section) ?? [];
  const [margins = ''] = /<(?:[\w.-]+:)?pgMar\s[^<>]*>/.exec(section) ?? [];
  const points = (tag: string, name: string): number => Number(new RegExp(`:${name}="(\\d+)`).exec(tag)?.[1] ?? 0) / 20;
  const [width, height] = [points(size, 'w'), points(size, 'h')];
  const [columns = ''] = /<(?:[\w.-]+:)?cols\s[^<>]*>/.exec(section) ?? [];
  const count = Math.max(1, Number(/:num="(\d+)"/.exec(columns)?.[1] ?? 1));
  const margin = (points(margins, 'left') + points(margins, 'right')) / 2;
  if (width < 100) return undefined;
  return count === 1 ? { width, height, margin } : { width: (width - 2 * margin) / count - 18, height, margin: 0 };
}

/** What a plain paragraph of the document looks like. */
export function plainLook(source: string, nearest: SourceNode | undefined) {
  if (!nearest) return undefined;
  const run = runAround(
    source,
    nearest,
    nearest.pieces.find(({ words }) => words !== undefined),
  );
  const own = (kind: 'pPr' | 'rPr', node: SourceNode, names: readonly string[]): SourceProperty[] =>
    propertiesIn(propertiesSource(source, node.innerStart, kind)).filter(
      (property) => names.includes(property.name) || isUnnumbered(property),
    );
  return {
    paragraph: own('pPr', nearest, [
      'pStyle',
      'widowControl',
      'suppressAutoHyphens',
      'spacing',
      'ind',
      'contextualSpacing',
      'jc',
      'textAlignment',
    ]),
    run: run ? own('rPr', run, ['rFonts', 'color', 'sz', 'szCs', 'lang']) : [],
  };
}

/** A paragraph may say that it has no number although its style has (17.9.18). */
const isUnnumbered = ({ name, source }: SourceProperty): boolean =>
  name === 'numPr' && /numId\s[^<>]*val="0"/.test(source);

/** The run that a piece of a paragraph lies in (ISO/IEC 29500-1, 17.3.2.25). */
export function runAround(source: string, leaf: SourceNode, piece: Piece | undefined): SourceNode | undefined {
  let node: SourceNode | undefined = piece?.owner;
  while (node && node !== leaf && !/^<(?:[\w.-]+:)?r[\s>]/.test(source.slice(node.start, node.start + 80)))
    node = node.parent;
  return node === leaf ? undefined : node;
}

/** Where something beside a run stands, when the place is at one of its ends: outside the links around it that end there too. */
export function runEdges(source: string, leaf: SourceNode, run: SourceNode, position: number): number | undefined {
  const inside = leaf.pieces.filter(({ start, end }) => start >= run.start && end <= run.end);
  if (position === inside[0]?.start) return outermost(source, leaf, run, 'start');
  return position === inside.at(-1)?.end ? outermost(source, leaf, run, 'end') : undefined;
}

function outermost(source: string, leaf: SourceNode, run: SourceNode, side: 'start' | 'end'): number {
  let node = run;
  for (let around = node.parent; around && around !== leaf; around = around.parent) {
    const between =
      side === 'start' ? source.slice(around.innerStart, node.start) : source.slice(node.end, around.innerEnd);
    if (around.kind !== 'inline' || between.trim() !== '') break;
    node = around;
  }
  return node[side];
}

/** What closes a run in the middle of a piece, and opens another that looks the same. */
export function runSplit(source: string, run: SourceNode, piece: Piece): { close: string; open: string } {
  const [, name = 'w:r'] = /^<([\w.:-]+)/.exec(source.slice(run.start, run.start + 80)) ?? [];
  const text = `${name.slice(0, -1)}t`;
  const properties = propertiesSource(source, run.innerStart, 'rPr');
  const inText = source[piece.start] !== '<';
  return {
    close: `${inText ? `</${text}>` : ''}</${name}>`,
    open: `<${name}>${properties}${inText ? `<${text} xml:space="preserve">` : ''}`,
  };
}
