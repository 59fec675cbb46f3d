import { type Content, DrawerError, parseFragment } from 'drawer';
import { type FormatName, findFormatByName, formatNamed } from 'drawer/formats';
import type { Draft, DraftTools } from './draft.ts';
import { make, rowStep } from './element.ts';
import { type OpenFile, obstacleOf } from './open-file.ts';
import { type PlacedCells, SheetGrid } from './sheet-grid.ts';

/** More rows and columns than these, multiplied, are more than the page lays out. */
const mostPlaces = 2_000_000;

/** A sheet of a workbook: read, and laid out, when it is first shown. */
interface Sheet {
  /** Its name in the file; absent where the file has no sheets but values. */
  readonly name: string | undefined;
  /** Its used range; absent where it is new or empty. */
  readonly place: string | undefined;
  readonly box: HTMLElement;
  readonly tab: HTMLButtonElement;
  grid?: SheetGrid;
}

/** A workbook with all its sheets, new or somebody's own; or a file of values, which is one sheet. */
export class WorkbookDraft implements Draft {
  readonly endings = ['xlsx', 'ods', 'csv'];
  readonly #tools: DraftTools;
  readonly #file: File | undefined;
  readonly #sheets: readonly Sheet[];
  obstacle: unknown;
  #shown: Sheet;

  private constructor(
    place: HTMLElement,
    tools: DraftTools,
    named: readonly Pick<Sheet, 'name' | 'place'>[],
    file?: File,
  ) {
    this.#tools = tools;
    this.#file = file;
    this.#sheets = named.map((sheet, index) => {
      const box = make('div', { class: 'sheet-grid', id: `sheet-${index}` });
      const tab = make('button', { type: 'button', role: 'tab', 'aria-controls': box.id }, sheet.name ?? '');
      return { ...sheet, box, tab };
    });
    this.#shown = this.#sheets[0] as Sheet;
    const tabs = make('div', { class: 'tabs', role: 'tablist', 'aria-label': tools.say('sheets') });
    for (const sheet of this.#sheets) {
      tabs.append(sheet.tab);
      sheet.tab.addEventListener('click', () => tools.attempt(() => this.#show(sheet)));
    }
    tabs.addEventListener('keydown', (event) => this.#onTabKey(event));
    place.classList.add('workbook');
    place.append(...this.#sheets.map(({ box }) => box), ...(this.#sheets.length > 1 ? [tabs] : []));
  }

  /** A new one, of one sheet. */
  static async fresh(place: HTMLElement, tools: DraftTools): Promise<WorkbookDraft> {
    const draft = new WorkbookDraft(place, tools, [{ name: undefined, place: undefined }]);
    await draft.#show(draft.#shown);
    return draft;
  }

  /** One's own workbook, or a file of values. */
  static open(place: HTMLElement, file: File, tools: DraftTools, canStop: boolean): Promise<WorkbookDraft> {
    const read = async (open: OpenFile): Promise<WorkbookDraft> => {
      const { entries } = await open.outline();
      const sheets = entries.filter(({ kind, isHidden }) => kind === 'sheet' && !isHidden);
      const named = sheets.map((sheet) => ({ name: nameOf(sheet.place) ?? sheet.label, place: sheet.place }));
      const values = { name: undefined, place: '' };
      const draft = new WorkbookDraft(place, tools, named.length > 0 ? named : [values], file);
      await draft.#show(draft.#shown, open);
      return draft;
    };
    return tools.working(file, 'readingFile', read, canStop);
  }

  async #show(sheet: Sheet, open?: OpenFile): Promise<void> {
    this.#shown = sheet;
    for (const each of this.#sheets) {
      const isShown = each === sheet;
      each.box.hidden = !isShown;
      each.tab.setAttribute('aria-selected', String(isShown));
      each.tab.tabIndex = isShown ? 0 : -1;
    }
    if (sheet.grid) return sheet.grid.redraw();
    const { place } = sheet;
    let obstacle: unknown;
    const read = async (from: OpenFile): Promise<PlacedCells> => {
      obstacle = await obstacleOf(from, place ?? '');
      return readSheet(from, place ?? '');
    };
    const placed =
      place === undefined || !this.#file
        ? undefined
        : await (open ? read(open) : this.#tools.working(this.#file, 'readingFile', read));
    const inside = make('div', {});
    sheet.box.replaceChildren(inside);
    sheet.grid = new SheetGrid(inside, sheet.name ?? this.#tools.say('draft'), () => this.#tools.changed(), placed);
    await sheet.grid.ready;
    if (open) this.obstacle = obstacle;
    else if (obstacle) throw obstacle; // the sheet is shown all the same
  }

  async insert(content: Content): Promise<void> {
    await this.#shown.grid?.insert(content);
  }

  preview(content: Content | undefined): void {
    this.#shown.grid?.preview(content);
  }

  /** A workbook of one's own keeps all it has where it stays of its kind; elsewhere the sheet that is shown is saved. */
  async save(ending: string) {
    const format = formatNamed(ending as FormatName);
    const name = `draft${format.extensions[0]}`;
    const type = format.mediaTypes[0] ?? '';
    if (this.#file && findFormatByName(this.#file.name)?.name === format.name)
      return { bytes: (await this.saveBack()).bytes, name, type };
    const rows = this.#shown.grid?.rows() ?? [];
    const bytes = await this.#tools.working(new File([], name), 'savingFile', (open) =>
      open.writeCells(rows, format.name),
    );
    return { bytes, name, type, onlySheet: this.#sheets.length > 1 ? this.#shown.name : undefined };
  }

  async saveBack() {
    const file = this.#file;
    if (!file) throw new DrawerError('usage/file-not-open');
    const changed = this.#sheets.flatMap(({ name, grid }) => grid?.changes(name) ?? []);
    return this.#tools.working(file, 'savingFile', (open) => open.changeCells(changed));
  }

  resume(before: Draft): void {
    const name = before instanceof WorkbookDraft ? before.#shown.name : undefined;
    const sheet = this.#sheets.find((each) => each.name === name);
    if (sheet && sheet !== this.#shown) this.#tools.attempt(() => this.#show(sheet));
  }

  close(): void {
    for (const { grid } of this.#sheets) grid?.close();
  }

  #onTabKey(event: KeyboardEvent): void {
    const step = rowStep(event);
    if (step === 0) return;
    const { length } = this.#sheets;
    const next = this.#sheets[(this.#sheets.indexOf(this.#shown) + step + length) % length] as Sheet;
    next.tab.focus();
    this.#tools.attempt(() => this.#show(next));
  }
}

/** All cells of a sheet, hidden ones too: what is written has to land where it is seen. */
async function readSheet(open: OpenFile, place: string): Promise<PlacedCells> {
  const { content, lines } = await open.read(place, { hidden: true });
  if (content.shape !== 'cells') throw new DrawerError('not-found/sheet-none', {}, { where: open.name });
  const count = (length: number): number[] => Array.from({ length }, (_, at) => at + 1);
  const cells = content.rows;
  const placed = {
    cells,
    rows: lines?.rows ?? count(cells.length),
    columns: lines?.columns ?? count(cells[0]?.length ?? 0),
  };
  const places = (placed.rows.at(-1) ?? 0) * (placed.columns.at(-1) ?? 0);
  if (places > mostPlaces)
    throw new DrawerError('too-large/editor-cells', { count: places, most: mostPlaces }, { where: open.name });
  return placed;
}

/** A sheet's name out of its place. */
function nameOf(place: string): string | undefined {
  const fragment = parseFragment(place);
  return fragment.kind === 'cells' ? fragment.sheet : fragment.kind === 'name' ? fragment.name : undefined;
}
