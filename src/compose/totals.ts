import {
  asBlocks,
  type Block,
  blocksText,
  type Cell,
  type Content,
  type Table,
  type TableCell,
  text,
} from '../content/index.ts';
import { type Amount, amountText, cellAmount, findAmount, parseAmount } from './amounts.ts';
import type { ComposeOptions, Piece, TotalKind } from './options.ts';

/** One figure over amounts of one currency. */
export interface Total {
  readonly kind: TotalKind;
  readonly amount: Amount;
}

/** The figures asked for over amounts, each currency by itself: they are never mixed. */
export function totalsOf(amounts: readonly Amount[], kinds: readonly TotalKind[]): Total[] {
  const byCurrency = new Map<string, Amount[]>();
  for (const amount of amounts) {
    const key = amount.currency ?? '';
    byCurrency.set(key, [...(byCurrency.get(key) ?? []), amount]);
  }
  return [...byCurrency.values()].flatMap((alike) => kinds.map((kind) => ({ kind, amount: total(alike, kind) })));
}

function total(alike: readonly Amount[], kind: TotalKind): Amount {
  const [first] = alike;
  const values = alike.map(({ value }) => value);
  const decimals = alike.reduce((most, each) => Math.max(most, each.decimals), 0);
  const shown = { ...first, decimals };
  switch (kind) {
    case 'count':
      return { value: values.length, decimals: 0 };
    case 'sum':
      return { ...shown, value: sum(values, decimals) };
    case 'smallest':
      return { ...shown, value: Math.min(...values) };
    case 'largest':
      return { ...shown, value: Math.max(...values) };
    case 'mean':
      return { ...shown, decimals: Math.max(decimals, 2), value: sum(values, decimals) / values.length };
  }
}

/** In units of the last decimal place, so that pence add up exactly. */
function sum(values: readonly number[], decimals: number): number {
  const unit = 10 ** decimals;
  return values.reduce((whole, value) => whole + Math.round(value * unit), 0) / unit;
}

const names: { readonly [K in TotalKind]: string } = {
  count: 'Count',
  sum: 'Sum',
  smallest: 'Smallest',
  largest: 'Largest',
  mean: 'Mean',
};

/** The content with its totals: a row each under the columns of a range or table, else a line each under all. */
export function withTotals(
  content: Content,
  pieces: readonly Piece[],
  { totals = [], language = 'en-GB' }: ComposeOptions,
): Content {
  if (totals.length === 0) return content;
  if (content.shape === 'cells') {
    const rows = totalRows(
      content.rows,
      cellAmount,
      totals,
      (words): Cell => ({ type: 'text', value: words }),
      (found) => totalCell(found, language),
    );
    return { ...content, rows: [...content.rows, ...rows] };
  }
  const [only] = asBlocks(content);
  if (content.shape === 'blocks' && content.blocks.length === 1 && only?.type === 'table')
    return { shape: 'blocks', blocks: [tableWithTotals(only, totals, language)] };
  const amounts = pieces.flatMap((piece) => findAmount(piece.content) ?? []);
  const lines = totalsOf(amounts, totals).map(
    ({ kind, amount }): Block => ({
      type: 'paragraph',
      inlines: [text(`${names[kind]}: ${amountText(amount, language)}`)],
    }),
  );
  return { shape: 'blocks', blocks: [...asBlocks(content), ...lines] };
}

function tableWithTotals(table: Table, totals: readonly TotalKind[], language: string): Table {
  const amountOf = ({ blocks }: TableCell): Amount | undefined => parseAmount(blocksText(blocks));
  const cellOf = (words: string, align?: 'end'): TableCell => ({
    blocks: [{ type: 'paragraph', inlines: [text(words)], ...(align && { align }) }],
  });
  const rows = totalRows(
    table.rows.map(({ cells }) => cells),
    amountOf,
    totals,
    (words) => cellOf(words),
    (found) =>
      found.length === 0
        ? { blocks: [] }
        : cellOf(found.map((amount) => amountText(amount, language)).join('; '), 'end'),
  );
  return { ...table, rows: [...table.rows, ...rows.map((cells) => ({ cells }))] };
}

/** One row for each figure: its name in the first column that has no amounts, and the figures of each column that has. */
function totalRows<T>(
  rows: readonly (readonly T[])[],
  amountOf: (cell: T) => Amount | undefined,
  kinds: readonly TotalKind[],
  nameCell: (words: string) => T,
  figureCell: (found: readonly Amount[]) => T,
): T[][] {
  const width = rows.reduce((most, row) => Math.max(most, row.length), 0);
  const columns = Array.from({ length: width }, (_, column) =>
    rows.flatMap((row) => {
      const cell = row[column];
      return cell === undefined ? [] : (amountOf(cell) ?? []);
    }),
  );
  const free = columns.findIndex((amounts) => amounts.length === 0);
  return kinds.map((kind) =>
    columns.map((amounts, column) =>
      column === free ? nameCell(names[kind]) : figureCell(totalsOf(amounts, [kind]).map(({ amount }) => amount)),
    ),
  );
}

/** One figure is a number still; of several currencies they are words. */
function totalCell(found: readonly Amount[], language: string): Cell {
  const [only] = found;
  if (!only) return { type: 'empty' };
  if (found.length > 1) return { type: 'text', value: found.map((amount) => amountText(amount, language)).join('; ') };
  const { value, format } = only;
  return { type: 'number', value, text: amountText(only, language), ...(format !== undefined && { format }) };
}
