import {
  type CellsFragment,
  type CsvFragment,
  type CsvSelection,
  type Fragment,
  findRange,
  printRange,
  printSheet,
  type QuoteFragment,
  type Span,
  type TableCells,
  type TextPositionFragment,
} from './fragment.ts';
import type { Place } from './parse.ts';

/** The place as `FILE#place`; `parsePlace` reads it back to the same. */
export function printPlace({ file, fragment }: Place): string {
  const name = file.replace(/%(?=23|25)/g, '%25').replaceAll('#', '%23');
  return fragment.kind === 'whole' ? name : `${name}#${printFragment(fragment)}`;
}

/** What stands behind the `#`, and the empty string for the whole file. */
export function printFragment(fragment: Fragment): string {
  switch (fragment.kind) {
    case 'whole':
      return '';
    case 'section':
    case 'bookmark':
      return `${fragment.kind}=${encodeName(fragment.name)}${fragment.nth === undefined ? '' : `;${fragment.nth}`}`;
    case 'paragraph':
    case 'table':
    case 'list':
    case 'picture':
      return `${fragment.kind}=${printSpan(fragment)}${fragment.cells ? `!${printTableCells(fragment.cells)}` : ''}`;
    case 'cells':
      return printCells(fragment);
    case 'name':
      return encodeBareName(fragment.name);
    case 'quote':
      return printQuote(fragment);
    case 'line':
    case 'char':
      return printPositions(fragment);
    case 'row':
    case 'col':
    case 'cell':
      return printCsv(fragment);
    case 'snippets':
      return fragment.ranges.map(printSpan).join(',');
  }
}

function printTableCells(cells: TableCells): string {
  if ('heading' in cells) return cells.heading.replaceAll('%', '%25');
  return cells.columns ? printRange(cells) : `row=${printSpan(cells.rows ?? { from: 1, to: 1 })}`;
}

const printSpan = ({ from, to }: Span): string => (from === to ? `${from}` : `${from}-${to}`);

const encode = (character: string): string =>
  encodeURIComponent(character).replace(/^[^%]$/, (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`);

/** A name keeps its look; only `%`, and a `;` that would read as a count, are encoded. */
const encodeName = (name: string): string => name.replaceAll('%', '%25').replace(/;(?=[1-9]\d{0,5}$)/, '%3B');

/** A bare name must not read as another kind of place, so what starts those is encoded. */
const encodeBareName = (name: string): string => {
  const plain = name.replace(/[%=!':]/g, encode);
  const isOther = findRange(plain) !== undefined || /^[\d,-]+$/.test(plain);
  return isOther ? encode(plain[0] ?? '') + plain.slice(1) : plain;
};

function printCells({ sheet, columns, rows }: CellsFragment): string {
  const range = columns || rows ? printRange({ ...(columns && { columns }), ...(rows && { rows }) }) : '';
  return sheet === undefined ? range : `${printSheet(sheet.replaceAll('%', '%25'))}!${range}`;
}

/** Every character that the directive's grammar uses is encoded, and so is white space. */
function printQuote({ prefix, start, end, suffix }: QuoteFragment): string {
  const word = (words: string): string => words.replace(/[%\s&,#-]/gu, encode);
  const parts = [
    ...(prefix === undefined ? [] : [`${word(prefix)}-`]),
    word(start),
    ...(end === undefined ? [] : [word(end)]),
    ...(suffix === undefined ? [] : [`-${word(suffix)}`]),
  ];
  return `:~:text=${parts.join(',')}`;
}

function printPositions({ kind, from, to, length, md5 }: TextPositionFragment): string {
  const range = from !== undefined && from === to ? `${from}` : `${from ?? ''},${to ?? ''}`;
  return [
    `${kind}=${range}`,
    ...(length === undefined ? [] : [`length=${length}`]),
    ...(md5 === undefined ? [] : [`md5=${md5}`]),
  ].join(';');
}

const printCsv = ({ kind, selections }: CsvFragment): string =>
  `${kind}=${selections.map(printCsvSelection).join(';')}`;

function printCsvSelection({ from, to }: CsvSelection): string {
  const start = from.join(',');
  const end = to.join(',');
  return start === end ? start : `${start}-${end}`;
}
