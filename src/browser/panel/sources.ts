import type { DeskFiles } from '../../host/connect/index.ts';
import { type PanelHost, subjectOf } from './host.ts';

/** Files are looked at again no sooner, in milliseconds. */
const rest = 3_000;

/** Where the panel can read the sources of snippets again: the files of a served drawer, or a page's own. */
export type Sources = Pick<DeskFiles, 'savedSince' | 'renewals'>;

/** Which snippets come from files that were saved since, and how they are renewed. */
export class SourceMarks {
  readonly #host: PanelHost;
  readonly #sources: Sources;
  #saved: ReadonlySet<string> = new Set();
  /** The snippets in view, and those whose files were looked at last. */
  #inView: readonly string[] = [];
  #asked: ReadonlySet<string> = new Set();
  #timer: ReturnType<typeof setTimeout> | undefined;

  constructor(host: PanelHost, sources: Sources) {
    this.#host = host;
    this.#sources = sources;
    // Files are saved in other programs, from which the user comes back.
    const onFocus = (): void => {
      if (host.sources === this) this.#lookIn(0);
      else removeEventListener('focus', onFocus);
    };
    addEventListener('focus', onFocus);
  }

  /** Whether a snippet's file was saved since it was gathered, as far as is known. */
  isSaved(id: string): boolean {
    return this.#saved.has(id);
  }

  /** Looks at the files of the snippets in view: at once for new ones, soon for others. */
  look(ids: readonly string[]): void {
    this.#inView = ids;
    if (ids.some((id) => !this.#asked.has(id))) this.#lookIn(0);
    else if (ids.length > 0 && this.#timer === undefined) this.#lookIn(rest);
  }

  #lookIn(wait: number): void {
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => {
      this.#timer = undefined;
      void this.#ask(this.#inView).catch(() => {}); // a lost connection is said elsewhere
    }, wait);
  }

  async #ask(ids: readonly string[]): Promise<void> {
    this.#asked = new Set(ids);
    const saved = new Set(await this.#sources.savedSince(ids));
    if (saved.size === this.#saved.size && [...saved].every((id) => this.#saved.has(id))) return;
    this.#saved = saved;
    this.#host.redraw();
  }

  /** Opens a sheet with what has changed in the files of the chosen snippets. */
  async renew(): Promise<void> {
    const [{ RenewSheet }] = await Promise.all([import('./sheets/renew.ts'), this.#host.words.load()]);
    const ids = (await subjectOf(this.#host)).map(({ summary }) => summary.id);
    const renewals = await this.#sources.renewals(ids);
    this.#host.open(new RenewSheet(this.#host, renewals, () => this.#lookIn(0)));
  }
}
