import { columnLetters, columnNumber } from '../../../places/index.ts';
import { type ReadTools, type Source, sourceOf } from '../../format.ts';
import { partBytes } from '../../package/zip.ts';
import type { FullArea } from '../../sheets/area.ts';
import type { Result } from '../../sheets/evaluate.ts';
import { type NamedTable, withRanges } from '../../sheets/formulas.ts';
import { type FormulaCell, leaning, recompute } from '../../sheets/recompute.ts';
import { takeCells } from '../../sheets/sheet-format.ts';
import { decodeExactly, encodeText } from '../../text/encoding.ts';
import { escapeText } from '../../xml/write-xml.ts';
import { contentTypes, relatedPart, relationshipsOf } from '../opc.ts';
import type { OpcEdit } from '../package-edit.ts';
import { formulasOf } from './pointing.ts';
import { type Book, openXlsx } from './read.ts';
import type { EmptiedCell } from './remove.ts';
import { hasFormulas } from './sheet-rows.ts';
import { readTables } from './workbook.ts';

interface Stale extends FormulaCell {
  readonly part: string;
}

/**
 * The workbook with new results for the formulas that lean on cells that changed, directly or through others: a program that
 * trusts what is kept would show old figures. Where a result cannot be told for certain, there is none until a program works
 * it out on opening; all other results stay.
 */
export async function withFreshResults(
  source: Source,
  book: Book,
  edit: OpcEdit,
  changed: string,
  area: FullArea,
  tools: ReadTools,
): Promise<Uint8Array> {
  const written: Stale[] = [];
  for (const sheet of book.workbook.sheets) {
    if (sheet.name !== changed) await edit.load(sheet.part);
    if (!hasFormulas(edit.findText(sheet.part) ?? '')) continue;
    await formulasOf(book, sheet, (formula, column, row) =>
      written.push({ sheet: sheet.name, part: sheet.part, column, row, formula }),
    );
  }
  const tables: NamedTable[] = [];
  if (written.length > 0) for (const sheet of book.workbook.sheets) tables.push(...(await readTables(book.zip, sheet)));
  const formulas = written.map((cell) => ({
    ...cell,
    formula: withRanges(cell.formula, cell, book.workbook.names, tables),
  }));
  const isCovered = ({ sheet, column, row }: Stale): boolean =>
    sheet === changed &&
    area.rows.from <= row &&
    row <= area.rows.to &&
    area.columns.from <= column &&
    column <= area.columns.to;
  const left = formulas.filter((cell) => !isCovered(cell));
  const stale = leaning(left, changed, area);
  if (stale.length === 0) return edit.bytes();
  setResults(edit, stale, new Map());
  const bytes = await edit.bytes();
  const taken = sourceOf(bytes, source.name);
  const results = await recompute(
    stale,
    (place, hidden) => takeCells({ open: openXlsx }, taken, place, { ...tools, hidden }),
    book.workbook.epoch1904,
  );
  if (results.size === 0) return bytes;
  setResults(edit, stale, results);
  return edit.bytes();
}

function setResults(edit: OpcEdit, stale: readonly Stale[], results: ReadonlyMap<FormulaCell, Result>): void {
  for (const part of new Set(stale.map((cell) => cell.part))) {
    const cells = new Map(
      stale
        .filter((cell) => cell.part === part)
        .map((cell) => [`${columnLetters(cell.column)}${cell.row}`, results.get(cell)]),
    );
    edit.setText(part, withResults(edit.findText(part) ?? '', cells));
  }
}

/** The cells of these addresses with their formula and that result, or none (18.3.1.4). */
const withResults = (text: string, cells: ReadonlyMap<string, Result | undefined>): string =>
  text.replace(
    /<((?:[\w.-]+:)?)c(\s[^<>]*?\br="([A-Z]+\d+)"[^<>]*)>(\s*<\1f(?:\s[^<>]*)?(?:\/>|>[^<]*<\/\1f>))(?:\s*<\1v(?:\s[^<>]*)?(?:\/>|>[^<]*<\/\1v>))?/g,
    (whole, prefix: string, attributes: string, address: string, formula: string) => {
      if (!cells.has(address)) return whole;
      const [type, value] = stored(cells.get(address));
      const kept = attributes.replace(/\st="[^"]*"/, '');
      const result = value === undefined ? '' : `<${prefix}v>${escapeText(value)}</${prefix}v>`;
      return `<${prefix}c${kept}${type === undefined ? '' : ` t="${type}"`}>${formula}${result}`;
    },
  );

function stored(result: Result | undefined): [type: string | undefined, value: string | undefined] {
  if (result === undefined) return [undefined, undefined];
  if (typeof result === 'number') return [undefined, String(result)];
  if (typeof result === 'boolean') return ['b', result ? '1' : '0'];
  return typeof result === 'string' ? ['str', result] : ['e', result.error];
}

/**
 * The list of formulas in the order they are worked out (ISO/IEC 29500-1, 18.6) without those that went: a workbook whose
 * list names a cell without a formula is broken. When none is left, the list and what points to it go.
 */
export async function withoutCalculations(
  { zip, main, relationships }: Book,
  emptied: readonly EmptiedCell[],
): Promise<Map<string, Uint8Array | undefined>> {
  const changes = new Map<string, Uint8Array | undefined>();
  const part = relatedPart(zip, relationships, 'calcChain');
  const entry = part === undefined ? undefined : zip.find(part);
  const gone = emptied.filter(({ hadFormula }) => hadFormula);
  if (!entry || gone.length === 0) return changes;
  const keys = new Set(gone.map(({ sheet, column, row }) => `${sheet.id} ${column} ${row}`));
  const decoded = decodeExactly((await partBytes(zip, entry.name)) ?? new Uint8Array());
  let sheetId = '';
  let left = 0;
  const text = decoded.text.replace(
    /<([\w.-]*:?)c(\s[^<>]*?)(?:\/>|><\/\1c>)/g,
    (whole, _prefix, attributes: string) => {
      sheetId = /\bi="(\d+)"/.exec(attributes)?.[1] ?? sheetId; // it holds for those that follow
      const [, letters = '', digits = ''] = /\br="([A-Z]+)(\d+)"/.exec(attributes) ?? [];
      const column = columnNumber(letters);
      if (keys.has(`${sheetId} ${column} ${digits}`)) return '';
      left++;
      return /\bi="/.test(attributes) ? whole : whole.replace(/<([\w.-]*:?)c\s/, `<$1c i="${sheetId}" `);
    },
  );
  if (left > 0) return changes.set(entry.name, encodeText(text, decoded));
  changes.set(entry.name, undefined);
  await edit(relationshipsOf(main), /<[\w.-]*:?Relationship\s[^<>]*\/calcChain"[^<>]*\/>/);
  await edit(contentTypes, /<[\w.-]*:?Override\s[^<>]*calcChain\+xml"[^<>]*\/>/);
  return changes;

  async function edit(name: string, pattern: RegExp): Promise<void> {
    const found = zip.find(name);
    const whole = decodeExactly((await partBytes(zip, name)) ?? new Uint8Array());
    if (found) changes.set(found.name, encodeText(whole.text.replace(pattern, ''), whole));
  }
}
