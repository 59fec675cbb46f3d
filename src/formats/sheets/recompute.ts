import type { Cell, Note } from '../../content/index.ts';
import type { Fragment, Span } from '../../places/index.ts';
import { bounds } from '../bounds.ts';
import type { Excerpt } from '../format.ts';
import { evaluate, type Result } from './evaluate.ts';
import { meansCells, referencesIn } from './formulas.ts';

/** A cell with a formula, in A1 notation. */
export interface FormulaCell {
  readonly sheet: string;
  readonly column: number;
  readonly row: number;
  readonly formula: string;
}

interface Area {
  readonly rows: Span;
  readonly columns: Span;
}

/** More comparisons than these are not worth their while: all formulas are worked out again then. */
const mostCompared = 30_000_000;

/** The formulas that lean on an area, and those that lean on them; names and tables are taken to mean any cell. */
export function leaning<F extends FormulaCell>(formulas: readonly F[], sheet: string, area: Area): F[] {
  const found: F[] = [];
  const left = new Map(formulas.map((cell) => [cell, namesAny(cell.formula) ? undefined : referencesIn(cell.formula)]));
  const open: { readonly sheet: string; readonly area: Area }[] = [{ sheet, area }];
  let compared = 0;
  for (let next = open.pop(); next; next = open.pop()) {
    for (const [cell, references] of left) {
      if (++compared > mostCompared) return [...formulas];
      const isOwn = cell.sheet === next.sheet;
      const { sheet: changed, area: cells } = next;
      if (references && !references.some((each) => meansCells(each, isOwn, changed, cells))) continue;
      left.delete(cell);
      found.push(cell);
      const only = (at: number): Span => ({ from: at, to: at });
      open.push({ sheet: cell.sheet, area: { rows: only(cell.row), columns: only(cell.column) } });
    }
  }
  return found;
}

/** Whether a formula has a word that is no function, address or truth value: a name, or a table's column. */
const namesAny = (formula: string): boolean =>
  /\[|(?<![\w.$!'])(?!(?:TRUE|FALSE)\b)[A-Za-z_][A-Za-z_.]{3,}\w*(?![\w(!.])/.test(
    formula.replace(/"(?:[^"]|"")*"|'(?:[^']|'')*'!/g, ''),
  );

const isIn = (at: number, span: Span | undefined): boolean => !span || (span.from <= at && at <= span.to);

/**
 * What formulas give whose results are gone, by where they stand; those that cannot be told for certain are left out.
 * @param read the cells of a place of the workbook as it has become.
 */
export async function recompute(
  stale: readonly FormulaCell[],
  read: (place: Fragment, hidden: boolean) => Promise<Excerpt>,
  epoch1904 = false,
): Promise<ReadonlyMap<FormulaCell, Result>> {
  const results = new Map<FormulaCell, Result>();
  if (stale.length > bounds.formulas.most) return results;
  const running = new Map<FormulaCell, Promise<Result | undefined>>();
  const ranges = new Map<string, Promise<readonly (readonly Cell[])[] | undefined>>();
  const cells = (place: Fragment, hidden: boolean) => {
    const key = JSON.stringify([place, hidden]);
    const known = ranges.get(key) ?? rangeOf(place, hidden);
    ranges.set(key, known);
    return known;
  };
  const rangeOf = async (place: Fragment, hidden: boolean) => {
    const { content } = await read(place, hidden).catch(() => ({ content: undefined }));
    return content?.shape === 'cells' ? content.rows : undefined;
  };
  const open = new Set<FormulaCell>();
  const resultOf = (cell: FormulaCell): Promise<Result | undefined> => {
    if (open.has(cell)) return Promise.resolve(undefined); // it leans on itself
    const known = running.get(cell) ?? work(cell);
    running.set(cell, known);
    return known;
  };
  const work = async (cell: FormulaCell): Promise<Result | undefined> => {
    open.add(cell);
    const isSubtotal = /\bSUBTOTAL\(/i.test(cell.formula);
    const result = await evaluate(
      { text: cell.formula, sheet: cell.sheet },
      {
        epoch1904,
        async cells(place) {
          const all = await cells(place, true);
          // Hidden rows do not count for a subtotal, and why they are hidden is not known here.
          if (isSubtotal && all && (await cells(place, false))?.length !== all.length) return undefined;
          return all;
        },
        waiting: (sheet, { rows, columns }) =>
          stale
            .filter((other) => other.sheet.toLowerCase() === sheet.toLowerCase())
            .filter((other) => isIn(other.row, rows) && isIn(other.column, columns))
            .map((other) => ({ formula: other.formula, result: () => resultOf(other) })),
      },
    );
    open.delete(cell);
    if (result !== undefined) results.set(cell, result);
    return result;
  };
  for (const cell of stale) await resultOf(cell);
  return results;
}

/** That formulas have no results, so that nobody takes their blanks for what they give. */
export function outOfDateNotes(rows: readonly (readonly Cell[])[]): Note[] {
  let count = 0;
  for (const row of rows)
    for (const cell of row)
      if (cell.type === 'empty' && cell.formula !== undefined && !cell.formula.includes('""')) count++;
  return count === 0 ? [] : [{ kind: 'results-out-of-date', params: { count }, count: 1 }];
}
