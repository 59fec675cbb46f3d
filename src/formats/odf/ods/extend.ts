import type { Message } from '../../../content/index.ts';
import { columnNumber, printFragment, type Span } from '../../../places/index.ts';
import { type AppendedRows, endsAbove, formulaExtended, repeatedFormula } from '../../sheets/appended.ts';
import { cellName } from '../../sheets/layout.ts';
import { applyEdits, type TextEdit } from '../../text-edits.ts';
import { decodeReferences } from '../../xml/element.ts';
import { scanXmlText } from '../../xml/scan-xml.ts';
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
  const change = (at: number, before: string, after: string, what: Message): void => {
    const written = escapeAttribute(after);
    if (after === decodeReferences(before)) return;
    edits.push({ start: at, end: at + before.length, replacement: written });
    told.push(what);
  };
  for (const sheet of reader.sheets)
    for (const { rows, cells } of sheet.rows)
      for (const { formula, start, tagEnd, columns } of cells) {
        const isThere = sheet.name === appended.sheet;
        const isNew = isThere && rows.from > appended.above && rows.from <= appended.to;
        const [, lead = '', source = ''] = /(\stable:formula=")([^"]*)"/.exec(text.slice(start, tagEnd)) ?? [];
        if (formula === undefined || isNew || source === '') continue;
        const place = `${printFragment({ kind: 'cells', sheet: sheet.name })}${cellName({ row: rows.from, column: columns.from })}`;
        const at = start + text.slice(start, tagEnd).indexOf(lead + source) + lead.length;
        change(at, source, extendedFormula(formula, appended, { isThere, row: rows.from }), formulaExtended(place));
      }
  const addresses =
    /<(table:named-range|table:database-range|calcext:conditional-format)\s[^<>]*?\b(?:table:cell-range-address|table:target-range-address|calcext:target-range-address)="([^"]*)"/g;
  for (const match of text.matchAll(addresses)) {
    const [whole, kind = '', source = ''] = match;
    const name = /\stable:name="([^"]*)"/.exec(text.slice(match.index, text.indexOf('>', match.index)))?.[1] ?? '';
    const label = labelOf(kind, decodeReferences(name));
    change(match.index + whole.length - source.length - 1, source, extended(decodeReferences(source), appended), label);
  }
  return edits.length > 0
    ? applyEdits(
        text,
        edits.sort((one, other) => one.start - other.start),
      )
    : text;
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
    const tag = text.slice(start, tagEnd);
    const rule = /\stable:content-validation-name="([^"]*)"/.exec(tag)?.[1];
    if (rule !== undefined && columns.to - columns.from < 1_000)
      for (let column = columns.from; column <= columns.to; column++) validations.set(column, rule);
    const column = columns.from;
    if (formula === undefined || column <= appended.columns.to) continue;
    const known = [appended.above, appended.above - 1, appended.above - 2].flatMap((row) => {
      const found = at(row).find((cell) => isWithin(column, cell.columns))?.formula;
      return found === undefined ? [] : [{ row, formula: a1Formula(found) }];
    });
    if (repeatedFormula(column, known, appended) === undefined) continue;
    const style = /\stable:style-name="[^"]*"/.exec(tag)?.[0] ?? '';
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
