import type { CellsContent, Content, Gap, Gaps, Note } from './model.ts';

/** The rows and columns of a range, those not held counted too. */
export const rangeSize = ({ rows, gaps }: CellsContent): { readonly rows: number; readonly columns: number } => ({
  rows: rows.length + blank(gaps?.rows, rows.length),
  columns: (rows[0]?.length ?? 0) + blank(gaps?.columns, rows[0]?.length ?? 0),
});

const blank = (gaps: readonly Gap[] = [], held: number): number =>
  gaps.reduce((sum, { before, count }) => (before < held ? sum + count : sum), 0);

/** That a table in running text has no place for the gaps of a range. */
export function gapNotes(content: Content): Note[] {
  if (content.shape !== 'cells' || !content.gaps) return [];
  const size = rangeSize(content);
  const left = [
    ['blank-rows-left', size.rows - content.rows.length] as const,
    ['blank-columns-left', size.columns - (content.rows[0]?.length ?? 0)] as const,
  ];
  return left.flatMap(([kind, count]) => (count > 0 ? [{ kind, params: { count }, count: 1 }] : []));
}

/** How far each of the lines held stands from the first line of the range, from 0. */
export function offsets(held: number, gaps: readonly Gap[] = []): number[] {
  const counts = new Map(gaps.map(({ before, count }) => [before, count]));
  let skipped = 0;
  return Array.from({ length: held }, (_, index) => {
    skipped += counts.get(index) ?? 0;
    return index + skipped;
  });
}

/** The gaps of two ranges, the second under the first without its first `heads` rows; columns stand as in the first. */
export function stackedGaps(above: CellsContent, below: CellsContent, heads = 0): Gaps | undefined {
  const moved = (below.gaps?.rows ?? []).flatMap(({ before, count }): Gap[] =>
    before > heads ? [{ before: before - heads + above.rows.length, count }] : [],
  );
  const rows = [...(above.gaps?.rows ?? []), ...moved];
  const columns = above.gaps?.columns;
  return rows.length > 0 || columns ? { ...(rows.length > 0 && { rows }), ...(columns && { columns }) } : undefined;
}

/** The gaps of one row of a range. */
export const rowGaps = ({ gaps }: CellsContent): Pick<CellsContent, 'gaps'> =>
  gaps?.columns ? { gaps: { columns: gaps.columns } } : {};
