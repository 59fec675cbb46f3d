import { asBlocks, type Cell, type Content, cellText, DrawerError, type Fragment, type Media, plainText } from 'drawer';
import { blobSource, browserInflate, takeFromBlob } from 'drawer/browser';
import { type FormatName, formatNamed, formatOf, sourceOf } from 'drawer/formats';
import { type CellComponent, TabulatorFull as Tabulator } from 'tabulator-tables';
import type { Draft } from './draft.ts';

const letters = (column: number): string =>
  column < 26 ? String.fromCharCode(65 + column) : letters(Math.floor(column / 26) - 1) + letters(column % 26);

type Row = { readonly number: number } & { [field: string]: string | number };

/** How many rows and columns are free around what is there. */
const spare = { rows: 20, columns: 3 } as const;

/** A sheet in a grid, new or somebody's own. Cells from slips keep their values and formats; what is typed is read as such. */
export class SheetDraft implements Draft {
  readonly endings = ['xlsx', 'ods', 'csv'];
  readonly #table: Tabulator;
  readonly #file: File | undefined;
  readonly #sheet: string | undefined;
  /** Cells that were put in or typed since it was opened, by row and column from 0. */
  readonly #changed = new Map<string, Cell>();
  readonly #steps: { readonly changes: number; readonly before: ReadonlyMap<string, Cell | undefined> }[] = [];
  readonly ready: Promise<void>;

  constructor(
    place: HTMLElement,
    name: string,
    changed: () => void,
    rows: readonly (readonly Cell[])[] = [],
    file?: File,
    sheet?: string,
  ) {
    this.#file = file;
    this.#sheet = sheet;
    const columns = Math.max(6, (rows[0]?.length ?? 0) + spare.columns);
    const data = Array.from(
      { length: rows.length + spare.rows },
      (_, at): Row => ({
        number: at + 1,
        ...Object.fromEntries((rows[at] ?? []).map((cell, column) => [letters(column), cellText(cell)])),
      }),
    );
    this.#table = new Tabulator(place, {
      data,
      index: 'number',
      height: '100%',
      columns: Array.from({ length: columns }, (_, column) => ({
        title: letters(column),
        field: letters(column),
        editor: 'input' as const,
        width: 110,
        headerSort: false,
      })),
      rowHeader: { field: 'number', headerSort: false, width: 44, resizable: false },
      selectableRange: 1,
      history: true,
      editTriggerEvent: 'dblclick',
      keybindings: { undo: false, redo: false },
    });
    this.ready = new Promise((built) => this.#table.on('tableBuilt', () => built()));
    this.#table.on('cellEdited', (cell) => {
      const at = `${Number(cell.getRow().getData().number) - 1},${columnOf(cell.getField())}`;
      this.#steps.push({ changes: 1, before: new Map([[at, this.#changed.get(at)]]) });
      this.#changed.set(at, typed(String(cell.getValue() ?? '')));
      changed();
    });
    place.addEventListener('keydown', (event) => {
      if ((event.ctrlKey || event.metaKey) && !event.shiftKey && event.code === 'KeyZ') this.#undo();
    });
    place.setAttribute('aria-label', name);
  }

  /** The first sheet of one's own workbook, or a file of values. */
  static async open(place: HTMLElement, file: File, name: string, changed: () => void): Promise<SheetDraft> {
    const source = blobSource(file, file.name);
    const format = await (await formatOf(source)).load();
    const outline = await format.outline?.(source, { inflate: browserInflate });
    const sheet = outline?.entries.find(({ kind }) => kind === 'sheet');
    const fragment: Fragment =
      format.name === 'csv' ? { kind: 'whole' } : { kind: 'cells', ...(sheet && { sheet: sheet.label }) };
    const { content } = await takeFromBlob(file, file.name, fragment);
    if (content.shape !== 'cells') throw new DrawerError('not-found/sheet-none', {}, { where: file.name });
    return new SheetDraft(place, name, changed, content.rows, file, sheet?.label);
  }

  insert(content: Content, _media: Media): void {
    const cells = cellsOf(content);
    const [range] = this.#table.getRanges();
    // Its types say a list; it is rows of cells.
    const corner = (range?.getCells() as unknown as CellComponent[][] | undefined)
      ?.flat()
      .find((cell) => cell.getField() !== 'number');
    const [top, left] = [
      corner ? Number(corner.getRow().getData().number) - 1 : 0,
      corner ? columnOf(corner.getField()) : 0,
    ];
    const before = new Map<string, Cell | undefined>();
    for (const [down, row] of cells.entries())
      for (const [across, cell] of row.entries()) {
        const shown = this.#table.getRow(top + down + 1);
        const field = letters(left + across);
        if (!shown || !this.#table.getColumn(field)) continue;
        const at = `${top + down},${left + across}`;
        before.set(at, this.#changed.get(at));
        shown.getCell(field).setValue(cellText(cell));
        this.#changed.set(at, cell);
      }
    // Each cell told of itself as one step: together they are one.
    this.#steps.splice(this.#steps.length - before.size, before.size, { changes: before.size, before });
    const below = this.#table.getRow(top + cells.length + 1);
    // A row that is not there is `false`, whatever its types say.
    const cell = below ? below.getCell(letters(left)) : undefined;
    if (range && cell) range.setBounds(cell, cell);
  }

  #undo(): void {
    const step = this.#steps.pop();
    if (!step) return;
    for (let left = step.changes; left > 0; left--) this.#table.undo();
    for (const [at, cell] of step.before) {
      if (cell) this.#changed.set(at, cell);
      else this.#changed.delete(at);
    }
  }

  async save(ending: string) {
    const format = formatNamed(ending as FormatName);
    const rows = (this.#table.getData() as Row[]).map((row, at) =>
      Object.entries(row)
        .filter(([field]) => field !== 'number')
        .reduce<Cell[]>((cells, [field, value]) => {
          const column = columnOf(field);
          while (cells.length < column) cells.push({ type: 'empty' });
          cells[column] = this.#changed.get(`${at},${column}`) ?? typed(String(value));
          return cells;
        }, []),
    );
    const filled = rows.slice(0, rows.findLastIndex((row) => row.some(({ type }) => type !== 'empty')) + 1);
    const width = Math.max(1, ...filled.map((row) => row.findLastIndex(({ type }) => type !== 'empty') + 1));
    const even = filled.map((row) => Array.from({ length: width }, (_, at): Cell => row[at] ?? { type: 'empty' }));
    const { write, create } = await format.load();
    const content: Content = { shape: 'cells', rows: even };
    const media = new Map<string, Uint8Array>();
    const bytes =
      (await write?.(content, { media })) ??
      (await create?.({ kind: 'cells' }, { content, media, style: 'original', spread: 'range' }))?.bytes;
    if (!bytes) throw new DrawerError('usage/format-not-written', { endings: ['.csv', '.xlsx', '.ods'] });
    return { bytes, name: `draft${format.extensions[0]}`, type: format.mediaTypes[0] ?? '' };
  }

  async saveBack() {
    const file = this.#file;
    if (!file) throw new DrawerError('usage/file-not-open');
    const { insert } = await (await formatOf(blobSource(file, file.name))).load();
    if (!insert) throw new DrawerError('unsupported/format-not-edited');
    let source = blobSource(file, file.name);
    const runs = runsOf(this.#changed);
    for (const { row, column, cells } of runs) {
      const place: Fragment = {
        kind: 'cells',
        ...(this.#sheet !== undefined && { sheet: this.#sheet }),
        rows: { from: row + 1, to: row + 1 },
        columns: { from: column + 1, to: column + cells.length },
      };
      const content: Content = { shape: 'cells', rows: [cells] };
      const insertion = {
        content,
        media: new Map<string, Uint8Array>(),
        style: 'local',
        spread: 'range',
        over: true,
      } as const;
      const { bytes } = await insert(source, place, insertion, { inflate: browserInflate });
      source = sourceOf(bytes, file.name);
    }
    return { bytes: await source.read(0, source.size), changes: this.#changed.size };
  }

  close(): void {
    this.#table.destroy();
  }
}

const columnOf = (field: string): number =>
  [...field].reduce((number, letter) => number * 26 + letter.charCodeAt(0) - 64, 0) - 1;

/** What somebody typed: a number, or words. */
const typed = (words: string): Cell => {
  const value = words.trim();
  if (value === '') return { type: 'empty' };
  return /^-?\d+(?:\.\d+)?$/.test(value)
    ? { type: 'number', value: Number(value), text: value }
    : { type: 'text', value: words };
};

/** Content as rows of cells: a range as it is, tables by their cells, anything else a block a cell. */
function cellsOf(content: Content): readonly (readonly Cell[])[] {
  if (content.shape === 'cells') return content.rows;
  const text = (words: string): Cell => ({ type: 'text', value: words });
  if (content.shape !== 'blocks') return [[text(plainText(content))]];
  return asBlocks(content).flatMap((block): Cell[][] =>
    block.type === 'table'
      ? block.rows.map(({ cells }) => cells.map((cell) => text(plainText({ shape: 'blocks', blocks: cell.blocks }))))
      : block.type === 'list'
        ? block.items.map((item) => [text(plainText({ shape: 'blocks', blocks: item.blocks }))])
        : [[text(plainText({ shape: 'blocks', blocks: [block] }))]],
  );
}

/** Changed cells that stand side by side, together. */
function runsOf(changed: ReadonlyMap<string, Cell>): { row: number; column: number; cells: Cell[] }[] {
  const places = [...changed].map(([at, cell]) => {
    const [row = 0, column = 0] = at.split(',').map(Number);
    return { row, column, cell };
  });
  places.sort((one, other) => one.row - other.row || one.column - other.column);
  const runs: { row: number; column: number; cells: Cell[] }[] = [];
  for (const { row, column, cell } of places) {
    const last = runs.at(-1);
    if (last && last.row === row && last.column + last.cells.length === column) last.cells.push(cell);
    else runs.push({ row, column, cells: [cell] });
  }
  return runs;
}
