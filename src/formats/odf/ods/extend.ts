import type { Message } from '../../../content/index.ts';
import { columnNumber, printFragment, type Span } from '../../../places/index.ts';
import { type AppendedRows, endsAbove, formulaExtended, repeatedFormula } from '../../sheets/appended.ts';
import { cellName } from '../../sheets/layout.ts';
import { applyEdits, type TextEdit } from '../../text-edits.ts';
import type { Attributes } from '../../xml/read-xml.ts';
import { scanXmlText } from '../../xml/scan-xml.ts';
import { tagAttributes, tagWith } from '../../xml/source-tree.ts';
import { escapeAttribute } from '../../xml/write-xml.ts';
import { contentPart, namespaces } from '../package.ts';
import { a1Formula } from './addresses.ts';
import { type SheetPlaces, SheetPlacesReader } from './remove.ts';

/** A range of a sheet (ISO/IEC 26300-1, 9.2.2), which may say the sheet twice or, in a formula, not at all. */
const range =
  /(\$?(?:'(?:[^']|'')+'|[^\s.'$[\]:;]+))?\.(\$?)([A-Z]{1,3})(\$?)(\d{1,7}):(\$?(?:'(?:[^']|'')+'|[^\s.'$[\]:;]+))?\.(\$?)([A-Z]{1,3})(\$?)(\d{1,7})/g;

/** Addresses whose ranges that end right above the appended rows reach over them; `own` tells of what names no sheet. */
const extended = (
  addresses: string,
  appended: AppendedRows,
  own?: { readonly isThere: boolean; readonly row: number },
): string =>
  addresses.replace(range, (whole, sheet: string | undefined, ...groups: (string | undefined)[]) => {
    const [, left = '', , first = '', , , right = '', , last = ''] = groups;
    const named = sheet?.replace(/^\$?'?|'$/g, '').replaceAll("''", "'");
    const isThere = named === undefined ? own?.isThere : named.toLowerCase() === appended.sheet.toLowerCase();
    const rows = { from: Number(first), to: Number(last) };
    const columns = { from: columnNumber(left), to: columnNumber(right) };
    const isBeside = own?.isThere && rows.from <= own.row && own.row <= rows.to;
    return isThere && !isBeside && endsAbove(rows, columns, appended)
      ? whole.replace(/\d+$/, String(appended.to))
      : whole;
  });

/** An OpenFormula expression (ISO/IEC 26300-2, 5.8): its references stand in brackets. */
const extendedFormula = (
  formula: string,
  appended: AppendedRows,
  own: { readonly isThere: boolean; readonly row: number },
): string =>
  formula.replace(/"(?:[^"]|"")*"|\[[^\]]*\]/g, (part) =>
    part.startsWith('[') ? extended(part, appended, own) : part,
  );

/** The content with formulas, names, database ranges and conditional formats that reach over appended rows. */
export function extendContent(text: string, appended: AppendedRows, told: Message[]): string {
  if (!/\stable:formula=|-address=/.test(text)) return text;
  const reader = new SheetPlacesReader();
  scanXmlText(text, contentPart, namespaces, reader);
  const edits: TextEdit[] = [];
  const change = ({ start, tagEnd }: Place, name: string, before: string, after: string, what: Message): void => {
    if (after === before) return;
    edits.push({ start, end: tagEnd, replacement: tagWith(text.slice(start, tagEnd), { [name]: after }) });
    told.push(what);
  };
  for (const sheet of reader.sheets)
    for (const { rows, cells } of sheet.rows)
      for (const cell of cells) {
        const { formula, columns } = cell;
        const isThere = sheet.name === appended.sheet;
        const isNew = isThere && rows.from > appended.above && rows.from <= appended.to;
        if (formula === undefined || isNew) continue;
        const place = `${printFragment({ kind: 'cells', sheet: sheet.name })}${cellName({ row: rows.from, column: columns.from })}`;
        const after = extendedFormula(formula, appended, { isThere, row: rows.from });
        change(cell, 'table:formula', formula, after, formulaExtended(place));
      }
  for (const { name, attributes, ...place } of rangePlaces(text)) {
    const key = rangeNames.find((each) => attributes[each] !== undefined);
    const addresses = key && attributes[key];
    if (key === undefined || addresses === undefined) continue;
    const label = labelOf(name, attributes['table:name'] ?? '');
    change(place, key, addresses, extended(addresses, appended), label);
  }
  return edits.length > 0
    ? applyEdits(
        text,
        edits.sort((one, other) => one.start - other.start),
      )
    : text;
}

/** A start tag. */
interface Place {
  readonly start: number;
  readonly tagEnd: number;
}

/** The attributes that name the cells of a named range, a database range or a conditional format. */
const rangeNames = ['table:cell-range-address', 'table:target-range-address', 'calcext:target-range-address'];

/** The elements that name cells. */
function rangePlaces(text: string): (Place & { readonly name: string; readonly attributes: Attributes })[] {
  const found: (Place & { readonly name: string; readonly attributes: Attributes })[] = [];
  let place = { start: 0, tagEnd: 0 };
  const names = ['table:named-range', 'table:database-range', 'calcext:conditional-format'];
  scanXmlText(text, contentPart, namespaces, {
    at: (start, tagEnd) => {
      place = { start, tagEnd };
    },
    open: (name, attributes) => {
      if (names.includes(name)) found.push({ name, attributes, ...place });
    },
    close: () => {},
  });
  return found;
}

function labelOf(kind: string, name: string): Message {
  if (kind.startsWith('calcext')) return { kind: 'extended.condition' };
  if (name.startsWith('__')) return { kind: 'extended.filter' };
  return { kind: kind.includes('database') ? 'extended.table' : 'extended.name', params: { name } };
}

/** What appended rows have of the row above them, by column. */
export interface RowAbove {
  /** Writes the source of a repeated formula cell for a row of that number. */
  readonly formulas: ReadonlyMap<number, (row: number) => string>;
  /** The names of rules for what may be entered (9.4.5). */
  readonly validations: ReadonlyMap<number, string>;
}

/** What appended rows inherit from the row above: repeated formulas to their right, and validation rules. */
export function rowAbove(text: string, sheet: SheetPlaces, appended: AppendedRows): RowAbove {
  const at = (number: number) => sheet.rows.find(({ rows }) => rows.from <= number && number <= rows.to)?.cells ?? [];
  const isWithin = (column: number, { from, to }: Span): boolean => from <= column && column <= to;
  const formulas = new Map<number, (row: number) => string>();
  const validations = new Map<number, string>();
  for (const { start, tagEnd, columns, formula } of at(appended.above)) {
    const attributes = tagAttributes(text.slice(start, tagEnd));
    const rule = attributes['table:content-validation-name'];
    if (rule !== undefined && columns.to - columns.from < 1_000)
      for (let column = columns.from; column <= columns.to; column++) validations.set(column, rule);
    const column = columns.from;
    if (formula === undefined || column <= appended.columns.to) continue;
    const known = [appended.above, appended.above - 1, appended.above - 2].flatMap((row) => {
      const found = at(row).find((cell) => isWithin(column, cell.columns))?.formula;
      return found === undefined ? [] : [{ row, formula: a1Formula(found) }];
    });
    if (repeatedFormula(column, known, appended) === undefined) continue;
    const name = attributes['table:style-name'];
    const style = name === undefined ? '' : ` table:style-name="${escapeAttribute(name)}"`;
    formulas.set(column, (row) => {
      const moved = formula.replace(/"(?:[^"]|"")*"|\[[^\]]*\]/g, (part) =>
        part.startsWith('[')
          ? part.replace(
              /(\.\$?[A-Z]{1,3})(\d{1,7})/g,
              (_, cell: string, digits: string) => `${cell}${Number(digits) + row - appended.above}`,
            )
          : part,
      );
      return `<table:table-cell${style} table:formula="${escapeAttribute(moved)}"/>`;
    });
  }
  return { formulas, validations };
}
