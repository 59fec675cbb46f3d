import {
  asBlocks,
  type Block,
  blocksText,
  type Cell,
  type Content,
  cellText,
  clipped,
  compareDecimals,
  decimalNumber,
  divideDecimal,
  findValue,
  firstOf,
  type Note,
  sumDecimals,
  type Table,
  type TableCell,
  tableGrid,
  text,
} from '../content/index.ts';
import { columnLetters } from '../places/index.ts';
import { type Amount, amountText, amountWords, cellAmount, findAmount, tableCellAmount } from './amounts.ts';
import { type ComposeOptions, type ComposeWords, type Piece, plainWords, type TotalKind } from './options.ts';

/** One figure over amounts of one unit. */
export interface Total {
  readonly kind: TotalKind;
  readonly amount: Amount;
}

/** Signs that mean the same as a code (ISO 4217). */
const codes: Readonly<Record<string, string>> = {
  '€': 'EUR',
  '£': 'GBP',
  '₹': 'INR',
  '₺': 'TRY',
  zł: 'PLN',
  Kč: 'CZK',
};
const unitKey = ({ unit = '' }: Amount): string => codes[unit] ?? unit;

/** The figures asked for over amounts, each currency and percentages by themselves: they are never mixed. */
export function totalsOf(amounts: readonly Amount[], kinds: readonly TotalKind[]): Total[] {
  const byUnit = new Map<string, Amount[]>();
  for (const amount of amounts) byUnit.set(unitKey(amount), [...(byUnit.get(unitKey(amount)) ?? []), amount]);
  return [...byUnit.values()].flatMap((alike) => kinds.map((kind) => ({ kind, amount: total(alike, kind) })));
}

/** More places than the amounts have, where a mean needs them. */
const meanPlaces = 12;

function total(alike: readonly Amount[], kind: TotalKind): Amount {
  const precise = alike.reduce((most, each) => (each.places > most.places ? each : most));
  const { unit, unitFirst } = alike[0] as Amount;
  const { isYearLike: _, ...shown } = {
    ...precise,
    ...(unit !== undefined && { unit }),
    ...(unitFirst !== undefined && { unitFirst }),
  };
  const amount = (exact: Amount['exact'], places = shown.places): Amount => ({
    ...shown,
    exact,
    places,
    value: decimalNumber(exact),
  });
  const sum = sumDecimals(alike.map(({ exact }) => exact));
  switch (kind) {
    case 'count': {
      const count = { units: BigInt(alike.length), places: 0 };
      return { value: alike.length, exact: count, places: 0 };
    }
    case 'sum':
      return amount(sum);
    case 'smallest':
      return amount(alike.reduce((least, each) => (compareDecimals(each.exact, least.exact) < 0 ? each : least)).exact);
    case 'largest':
      return amount(alike.reduce((most, each) => (compareDecimals(each.exact, most.exact) > 0 ? each : most)).exact);
    case 'mean':
      return amount(divideDecimal(sum, alike.length, sum.places + meanPlaces), Math.max(shown.places, 2));
  }
}

/** The asked-for totals, what they are called, and the language of their numbers. */
interface Asked {
  readonly kinds: readonly TotalKind[];
  readonly names: ComposeWords['totals'];
  readonly language: string;
}

/**
 * Contents with their totals: rows under the columns of each range and table, else lines under all. The notes name each
 * cell that has words where amounts stand, and each column that holds no amounts but years, numbers of things and the like.
 */
export function withTotals(
  contents: readonly Content[],
  pieces: readonly Piece[],
  options: ComposeOptions,
  notes: Note[],
): readonly Content[] {
  const { totals: kinds = [], language = 'en-GB', words = plainWords } = options;
  if (kinds.length === 0) return contents;
  const asked: Asked = { kinds, names: words.totals, language };
  const isOfTables = contents.every(
    (content) =>
      content.shape === 'cells' ||
      (content.shape === 'blocks' && content.blocks.every((block) => isTable(block) || isBlank(block))),
  );
  if (isOfTables && contents.some((content) => content.shape === 'cells' || asBlocks(content).some(isTable)))
    return contents.map((content) => tablesWithTotals(content, asked, notes));
  return [...contents, ...linesOf(pieces, asked, options.readAs, notes)];
}

const isTable = ({ type }: Block): boolean => type === 'table';
const isBlank = (block: Block): boolean => block.type === 'paragraph' && block.inlines.length === 0;

function tablesWithTotals(content: Content, asked: Asked, notes: Note[]): Content {
  if (content.shape === 'cells') {
    const rows = totalRows(rangeGrid(content.rows), asked, notes, rangeCells(asked.language));
    return { ...content, rows: [...content.rows, ...rows] };
  }
  if (content.shape !== 'blocks') return content;
  return {
    ...content,
    blocks: content.blocks.map((block) => {
      if (block.type !== 'table') return block;
      const rows = totalRows(gridOfTable(block), asked, notes, tableCells(asked.language));
      return { ...block, rows: [...block.rows, ...rows.map((cells) => ({ cells }))] };
    }),
  };
}

/** A line each under what is no table. */
function linesOf(
  pieces: readonly Piece[],
  { kinds, names, language }: Asked,
  readAs: string | undefined,
  notes: Note[],
): Content[] {
  const amounts: Amount[] = [];
  for (const piece of pieces) {
    const amount = findAmount(piece.content, readAs ?? piece.language ?? language);
    if (amount && !amount.isYearLike) amounts.push(amount);
    else notes.push(leftOut([`${piece.number} “${clipped(amountWords(piece.content) || '…', 20)}”`]));
  }
  const lines = totalsOf(amounts, kinds).map(
    ({ kind, amount }): Block => ({
      type: 'paragraph',
      inlines: [text(`${names[kind]}: ${amountText(amount, language)}`)],
    }),
  );
  return lines.length === 0 ? [] : [{ shape: 'blocks', blocks: lines }];
}

// --- Columns ---------------------------------------------------------------------------------------------------------

/** One place of a grid, as far as totals need to know it. */
interface Place {
  readonly words: string;
  readonly amount?: Amount | undefined;
  /** A total already: of a formula that adds up. */
  readonly isTotal?: boolean;
}
type Places = readonly (readonly (Place | undefined)[])[];
interface TotalGrid {
  readonly places: Places;
  /** How many rows at the top are headings for sure. */
  readonly heads: number;
}

const addsUp = (cell: Cell | undefined): boolean => /^(?:SUM|SUBTOTAL|AVERAGE|COUNT)\(/i.test(cell?.formula ?? '');

const rangeGrid = (rows: readonly (readonly Cell[])[]): TotalGrid => ({
  heads: 0,
  places: rows.map((row) =>
    row.map((cell) => ({
      words: cellText(cell),
      amount: cellAmount(cell),
      isTotal: addsUp(cell),
    })),
  ),
});

const gridOfTable = (table: Table): TotalGrid => ({
  heads: table.headerRows ?? 0,
  places: tableGrid(table).map((line, row) =>
    line.map((placed, column) =>
      placed?.row === row && placed.column === column
        ? {
            words: blocksText(placed.cell.blocks, ' '),
            amount: tableCellAmount(placed.cell),
            isTotal: addsUp(findValue(placed.cell)),
          }
        : undefined,
    ),
  ),
});

/** How cells of a total row are made. */
interface CellMaker<T> {
  name(words: string): T;
  figures(found: readonly Amount[]): T;
}

/** One row for each figure: its name in the first column that has no amounts, and the figures of each column that has. */
function totalRows<T>(grid: TotalGrid, { kinds, names }: Asked, notes: Note[], make: CellMaker<T>): T[][] {
  const { places } = grid;
  const width = places.reduce((most, row) => Math.max(most, row.length), 0);
  const columns = Array.from({ length: width }, (_, column) => columnAmounts(grid, column, notes));
  if (columns[0]?.every(isCounter) && columns.slice(1).some(({ length }) => length > 0)) {
    if (columns[0].length > 0) notes.push(notAddedUp(grid, 0, 'counter'));
    columns[0] = [];
  }
  const free = columns.findIndex((amounts) => amounts.length === 0);
  return kinds.map((kind) =>
    columns.map((amounts, column) =>
      column === free ? make.name(names[kind]) : make.figures(totalsOf(amounts, [kind]).map(({ amount }) => amount)),
    ),
  );
}

/** Whole numbers without a unit, in the first column of several, tell the rows apart. */
const isCounter = ({ unit, places, format }: Amount): boolean =>
  unit === undefined && places === 0 && !format?.includes(',');

const headsOf = ({ places, heads }: TotalGrid): number => (heads > 0 ? heads : headingRows(places));

function notAddedUp(grid: TotalGrid, column: number, why: 'counter' | 'years' | 'no-amounts'): Note {
  const name = grid.places[headsOf(grid) - 1]?.[column]?.words.trim() ?? '';
  const named = name === '' ? '' : ` (${clipped(name, 30)})`;
  return { kind: `not-added-up-${why}`, params: { column: `${columnLetters(column + 1)}${named}` }, count: 1 };
}

/** Words that name a column of numbers that are no amounts: numbers of things, codes, telephones, years. */
const noAmounts =
  /^(?:no\.?|nos\.?|nr\.?|n[°º]\.?|#|num(?:ber|mer|éro|ero)?|id|ident\w*|code|ref\.?|reference|sku|article|artikel(?:nr\.?)?|part(?: no\.?| number)?|account|konto|iban|isbn|phone|tel(?:ephone|efon|\.)?|mobile|fax|zip|post ?code|postcode|plz|year|years|jahr|année|año|anno|ano|date|datum|رقم|هاتف|سنة|عام)$|(?: no\.?| id| code| number| nr\.?)$/i;
/** Words that begin a row of totals. */
const totalWords =
  /^(?:grand |sub)?(?:total|sum|mean|average|count)\b|^(?:gesamt|summe|zwischensumme|mittelwert|durchschnitt|somme|moyenne|suma|totale|المجموع|الإجمالي)/i;

function columnAmounts(grid: TotalGrid, column: number, notes: Note[]): readonly Amount[] {
  const { places } = grid;
  const first = headsOf(grid);
  const entries = places.slice(first).flatMap((row, index) => {
    const place = row[column];
    const isTotal = place?.isTotal === true || row.some((each) => totalWords.test(each?.words.trim() ?? ''));
    return place && place.words.trim() !== '' ? [{ ...place, at: first + index, isTotal }] : [];
  });
  const counted = entries.filter(({ isTotal }) => !isTotal);
  const amounts = counted.flatMap(({ amount }) => amount ?? []);
  if (amounts.length === 0 || amounts.length * 2 < counted.length) return [];
  const name = first > 0 ? (places[first - 1]?.[column]?.words.trim() ?? '') : '';
  const isYears = amounts.every(({ isYearLike }) => isYearLike);
  if (isYears || noAmounts.test(name)) {
    notes.push(notAddedUp(grid, column, isYears ? 'years' : 'no-amounts'));
    return [];
  }
  const unread = entries.filter(({ amount, isTotal }) => !amount || isTotal);
  if (unread.length > 0)
    notes.push(
      leftOut(unread.map(({ words, at }) => `${columnLetters(column + 1)}${at + 1} “${clipped(words.trim(), 20)}”`)),
    );
  return amounts;
}

/** A first row of words, with years among them at most, over something that is more. */
function headingRows([first = [], ...rest]: Places): number {
  const isHeading =
    first.some((place) => place && !place.amount && place.words.trim() !== '') &&
    first.every((place) => !place?.amount || (place.amount.isYearLike && !place.amount.format)) &&
    rest.some((row) => row.some((place) => place?.amount));
  return isHeading ? 1 : 0;
}

/** How many are named in one line. */
const mostNamed = 6;

const leftOut = (named: readonly string[]): Note => ({
  kind: 'left-of-total',
  params: { amounts: firstOf(named, mostNamed) },
  count: 1,
});

const inWords = (found: readonly Amount[], language: string): string =>
  found.map((amount) => amountText(amount, language)).join('; ');

/** One figure is a number still; of several units they are words. */
const rangeCells = (language: string): CellMaker<Cell> => ({
  name: (words) => ({ type: 'text', value: words }),
  figures(found) {
    const [only] = found;
    if (!only) return { type: 'empty' };
    if (found.length > 1) return { type: 'text', value: inWords(found, language) };
    const { value, format } = only;
    return { type: 'number', value, text: amountText(only, language), ...(format !== undefined && { format }) };
  },
});

const tableCells = (language: string): CellMaker<TableCell> => ({
  name: (words) => ({ blocks: [{ type: 'paragraph', inlines: [text(words)] }] }),
  figures(found) {
    const [only] = found;
    if (!only) return { blocks: [] };
    const words = inWords(found, language);
    const { value, format } = only;
    return {
      blocks: [{ type: 'paragraph', inlines: [text(words)], align: 'end' }],
      ...(found.length === 1 && {
        value: { type: 'number', value, text: words, ...(format !== undefined && { format }) },
      }),
    };
  },
});
