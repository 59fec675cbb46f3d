import type { Picture } from '../../content/index.ts';
import type { Grid, GridCell } from './layout.ts';

/** In points: no row is higher than 409 (ISO/IEC 29500-1, 18.3.1.73), and a wider picture hides much of the sheet. */
const limits = { width: 480, height: 400 };
/** In points, above and below a picture, so that its row's lines show. */
export const pictureMargin = 2;

/** The size in points at which a picture is laid over a sheet: its own, or in proportion what a row can hold. */
export function laidSize({ width = 72, height = 72 }: Picture): { readonly width: number; readonly height: number } {
  const scale = Math.min(1, limits.width / width, limits.height / height);
  return { width: round(width * scale), height: round(height * scale) };
}

/** How high a row has to be, in points, for the pictures laid over its cells; 0 without one. */
export const heightForPictures = (line: readonly (GridCell | undefined)[]): number =>
  line.reduce((most, cell) => Math.max(most, cell?.picture ? laidSize(cell.picture).height + 2 * pictureMargin : 0), 0);

/** A picture with its cell, both counted from 1. */
export interface LaidPicture {
  readonly picture: Picture;
  readonly row: number;
  readonly column: number;
}

/** The pictures of a grid whose first cell is the corner. */
export const picturesOf = (grid: Grid, corner: { readonly row: number; readonly column: number }): LaidPicture[] =>
  grid.flatMap(({ offset: down, cells }) =>
    cells.flatMap((cell, across) =>
      cell?.picture ? [{ picture: cell.picture, row: corner.row + down, column: corner.column + across }] : [],
    ),
  );

const round = (points: number): number => Math.max(1, Math.round(points * 100) / 100);
