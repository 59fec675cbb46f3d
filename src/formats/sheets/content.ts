import {
  type Block,
  type CellsContent,
  type Content,
  cellsToTable,
  DrawerError,
  firstOf,
  type Message,
  type Note,
  type Picture,
} from '../../content/index.ts';
import type { Span } from '../../places/index.ts';
import type { FullArea } from './area.ts';
import type { Grid, GridCell } from './layout.ts';

/** Sheets as one content: one in use is that sheet's range; of several, each is a heading and a table. */
export function sheetsContent(sheets: readonly { readonly name: string; readonly cells: CellsContent }[]): Content {
  const used = sheets.filter(({ cells }) => cells.rows.length > 0);
  const [only] = used;
  if (used.length === 1 && only) return only.cells;
  return {
    shape: 'blocks',
    blocks: used.flatMap(({ name, cells }): Block[] => [
      { type: 'heading', level: 2, inlines: [{ type: 'text', text: name }] },
      cellsToTable(cells),
    ]),
  };
}

/** @throws DrawerError `not-found` when there are not so many pictures. */
export function chosenPictures<T>(pictures: readonly T[], { from, to }: Span): readonly T[] {
  if (to > pictures.length)
    throw new DrawerError('not-found/picture-unknown', {
      number: to,
      ...(pictures.length > 0 && { last: pictures.length }),
    });
  return pictures.slice(from - 1, to);
}

export function picturesContent(chosen: readonly Picture[]): Content {
  const [only] = chosen;
  return chosen.length === 1 && only
    ? { shape: 'picture', picture: only }
    : { shape: 'blocks', blocks: chosen.map((picture): Block => ({ type: 'picture', ...picture })) };
}

/** The rows and columns of an area, for an outline. */
export const areaSize = (area: FullArea | undefined): Message =>
  area
    ? {
        kind: 'size.grid',
        params: { rows: area.rows.to - area.rows.from + 1, columns: area.columns.to - area.columns.from + 1 },
      }
    : { kind: 'size.empty' };

/** How many cells are named in one line. */
const mostNamed = 8;

/** That formulas of these cells now point at emptied ones; nothing where there are none. */
export function pointingNotes(cells: readonly string[]): Note[] {
  if (cells.length === 0) return [];
  return [{ kind: 'formulas-at-emptied', params: { cells: firstOf(cells, mostNamed) }, count: 1 }];
}

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
