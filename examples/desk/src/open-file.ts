import { proxy, type Remote, wrap } from 'comlink';
import { type Cell, DrawerError } from 'drawer';
import type { Excerpt, FormatName, Outline } from 'drawer/formats';
import { make } from './element.ts';
import type { ChangedCells, ChangedFile, EditedMarkup, FoundCell, Problem, Reader, Reading } from './file.worker.ts';

/** An open file, read and changed in its own worker. */
export class OpenFile {
  readonly name: string;
  readonly #worker = new Worker(new URL('./file.worker.ts', import.meta.url), { type: 'module' });
  readonly #reader: Remote<Reader> = wrap<Reader>(this.#worker);
  readonly #opened: Promise<void>;
  readonly #onRead: (share: number) => void;
  #isStopped = false;
  #stop: (error: DrawerError) => void = () => {};
  readonly #stopped = new Promise<never>((_, stop) => {
    this.#stop = stop;
  });

  /** `onRead` hears how much of it has been read, from 0 to 1. */
  constructor(file: File, onRead: (share: number) => void) {
    this.name = file.name;
    this.#onRead = onRead;
    this.#stopped.catch(() => {}); // heard by whoever waits
    this.#worker.addEventListener('error', ({ message }) =>
      this.#stop(
        new DrawerError(
          'unreadable/file-read-failed',
          { detail: message || 'its reader did not start' },
          { where: this.name },
        ),
      ),
    );
    this.#opened = this.#reader.open(file, proxy(onRead));
  }

  /** Its places. @throws DrawerError */
  outline = (): Promise<Outline> => this.#ask(() => this.#reader.outline());

  /** What a place holds. @throws DrawerError */
  read = (place: string, reading: Reading = {}): Promise<Excerpt> => this.#ask(() => this.#reader.read(place, reading));

  /** Cells that hold the words, at most `most`, sheet by sheet in the order given. @throws DrawerError */
  findCells = (sheets: readonly string[], words: string, most: number): Promise<readonly FoundCell[]> =>
    this.#ask(() => this.#reader.findCells(sheets, words, most));

  /** What an editor's markup holds. @throws DrawerError */
  readMarkup = (markup: string): Promise<Excerpt> => this.#ask(() => this.#reader.readMarkup(markup));

  /** An editor's markup as a file of another format. @throws DrawerError */
  writeMarkup = (markup: string, format: FormatName): Promise<Uint8Array> =>
    this.#ask(() => this.#reader.writeMarkup(markup, format, document.documentElement.lang));

  /** Rows as a file. @throws DrawerError */
  writeCells = (rows: readonly (readonly Cell[])[], format: FormatName): Promise<Uint8Array> =>
    this.#ask(() => this.#reader.writeCells(rows, format));

  /** Checks that what is at a place may be changed and written back. @throws DrawerError */
  checkMayChange = (place: string): Promise<object> => this.#ask(() => this.#reader.checkMayChange(place));

  /** The document with what was changed in an editor. @throws DrawerError */
  changeDocument = (edited: EditedMarkup): Promise<ChangedFile> => this.#ask(() => this.#reader.changeDocument(edited));

  /** The workbook or file of values with cells that were changed. @throws DrawerError */
  changeCells = (runs: readonly ChangedCells[]): Promise<ChangedFile> =>
    this.#ask(() => this.#reader.changeCells(runs));

  /** Tells how much of it has been done, from 0 to 1, where the page itself does it. */
  tell(share: number): void {
    this.#onRead(share);
  }

  /** Lets the page draw and be used before the next part of the work. @throws DrawerError when it was stopped */
  async goOn(): Promise<void> {
    await Promise.race([new Promise((next) => setTimeout(next)), this.#stopped]);
    if (this.#isStopped) await this.#stopped;
  }

  /** Ends whatever is being done. */
  stop(): void {
    this.#isStopped = true;
    this.#worker.terminate();
    this.#stop(new DrawerError('refused/stopped', {}, { where: this.name }));
  }

  async #ask<T extends object>(question: () => Promise<T | Problem>): Promise<T> {
    const answer = await Promise.race([this.#opened.then(question), this.#stopped]);
    if ('problem' in answer) {
      const { problem, params, where } = answer.problem;
      throw new DrawerError(problem, params, { where });
    }
    return answer as T;
  }
}

/** Why what is at a place cannot be changed and written back; `undefined` if it can. */
export const obstacleOf = (open: OpenFile, place: string): Promise<unknown> =>
  open.checkMayChange(place).then(
    () => undefined,
    (error: unknown) => error,
  );

/** Opens a file, with a line that says what is being done, how far it is and, by a button of that name, can stop it. */
export function openShown(
  file: File,
  said: string,
  stop?: string,
): { readonly open: OpenFile; readonly line: HTMLElement } {
  const bar = make('progress', { max: '1', 'aria-label': said });
  const open = new OpenFile(file, (share) => {
    bar.value = share;
  });
  const line = make('p', {}, `${said} … `, bar);
  if (stop !== undefined) {
    const button = make('button', { type: 'button' }, stop);
    button.addEventListener('click', () => open.stop());
    line.append(button);
  }
  return { open, line };
}
