import { type Content, DrawerError, type Gathered, type Note, originOf, parseFragment } from 'drawer';
import { blobSource, browserInflate, takeRange } from 'drawer/browser';
import { type Format, formatOf, type OutlineEntry, type Source, type Taken } from 'drawer/formats';
import { htmlFragment } from 'drawer/formats/html-fragment';
import { type Desk, element, isEnabled, make, setEnabled } from './element.ts';
import { SheetGrid } from './sheet-grid.ts';

interface ReadingDesk extends Desk {
  keep(gathered: Gathered, notes: readonly Note[]): Promise<void>;
}

/** A file that lies open. */
interface OpenFile {
  readonly name: string;
  readonly source: Source;
  readonly format: Format;
  readonly places: readonly OutlineEntry[];
  readonly tab: HTMLButtonElement;
  /** What is shown; made when the file is first looked at. */
  page?: HTMLElement;
}

const tools = { inflate: browserInflate };

/** The file being read, as it looks; what is selected in it, or a place of it, is kept in the drawer. */
export class ReadingPane {
  readonly #desk: ReadingDesk;
  readonly #files: OpenFile[] = [];
  readonly #page = element('page', HTMLElement);
  readonly #keepSelection = element('keep-selection', HTMLButtonElement);
  #shown = -1;
  #wanted = -1;
  #grid: SheetGrid | undefined;

  constructor(desk: ReadingDesk) {
    this.#desk = desk;
    const chooser = element('open', HTMLInputElement);
    chooser.addEventListener('change', () => desk.attempt(() => this.#openAll([...(chooser.files ?? [])])));
    this.#page.addEventListener('dragover', (event) => event.preventDefault());
    this.#page.addEventListener('drop', (event) => {
      event.preventDefault();
      desk.attempt(() => this.#openAll([...(event.dataTransfer?.files ?? [])]));
    });
    this.#page.addEventListener('copy', () => desk.attempt(() => this.#keepWhatIsSelected()));
    element('files', HTMLElement).addEventListener('keydown', (event) => this.#onTabKey(event));
    element('keep-place', HTMLButtonElement).addEventListener('click', () =>
      desk.attempt(() => this.#keepPlace(element('place', HTMLSelectElement).value)),
    );
    this.#keepSelection.addEventListener('click', () => {
      if (isEnabled(this.#keepSelection)) desk.attempt(() => this.#keepWhatIsSelected());
    });
    document.addEventListener('selectionchange', () =>
      setEnabled(this.#keepSelection, this.#grid !== undefined || this.#selectedRange() !== undefined),
    );
  }

  async #openAll(files: readonly File[]): Promise<void> {
    for (const file of files) await this.open(file);
    this.show(this.#files.length - 1);
    const [first] = files;
    if (first) this.#desk.say(`Opened ${files.length === 1 ? first.name : `${files.length} files`}`);
  }

  async open(file: File): Promise<void> {
    const source = blobSource(file, file.name);
    const format = await (await formatOf(source)).load();
    const outline = await format.outline?.(source, tools);
    const tab = make(
      'button',
      { type: 'button', role: 'tab', 'aria-selected': 'false', 'aria-controls': 'page', tabindex: '-1' },
      file.name,
    );
    const index = this.#files.push({ name: file.name, source, format, places: outline?.entries ?? [], tab }) - 1;
    tab.addEventListener('click', () => this.show(index));
    element('files', HTMLElement).append(tab);
  }

  show(index: number): void {
    this.#desk.attempt(async () => {
      const file = this.#files[index];
      if (!file) return;
      this.#wanted = index;
      file.page ??= await this.#makePage(file);
      if (this.#wanted !== index) return; // another was asked for while this one was being read
      this.#shown = index;
      for (const each of this.#files) {
        each.tab.setAttribute('aria-selected', String(each === file));
        each.tab.tabIndex = each === file ? 0 : -1;
      }
      this.#page.setAttribute('aria-label', file.name);
      this.#page.replaceChildren(file.page);
      this.#page.scrollTop = 0;
      this.#showPlaces(file);
    });
  }

  async #makePage(file: OpenFile): Promise<HTMLElement> {
    const sheets = file.places.filter(({ kind }) => kind === 'sheet');
    if (sheets.length > 0) return this.#makeSheets(file, sheets);
    const { content, media, language } = await this.#take(file, '');
    const page = make('article', { class: 'sheet-of-paper', ...(language && { lang: language }) });
    page.innerHTML = htmlFragment(content, media); // made from the content model, so nothing in it can run
    return page;
  }

  async #makeSheets(file: OpenFile, sheets: readonly OutlineEntry[]): Promise<HTMLElement> {
    const page = make('article', { class: 'sheet-of-paper' });
    for (const sheet of sheets) {
      const { content } = await this.#take(file, sheet.place);
      if (content.shape !== 'cells' || content.rows.length === 0) continue;
      const grid = new SheetGrid(sheet.place, sheet.label, content, (active) => {
        this.#grid = active;
        setEnabled(this.#keepSelection, true);
      });
      page.append(make('h3', {}, sheet.label), grid.element);
    }
    return page;
  }

  #showPlaces({ places }: OpenFile): void {
    const chooser = element('place', HTMLSelectElement);
    chooser.replaceChildren(
      ...places.map(({ place, label, size, depth, kind }) =>
        make(
          'option',
          { value: place },
          `${'\u2003'.repeat(depth)}${kind === 'section' || kind === 'sheet' ? '' : `${kind}: `}${label} (${size})`,
        ),
      ),
    );
    element('places', HTMLElement).hidden = places.length === 0;
    this.#grid = undefined;
    setEnabled(this.#keepSelection, false);
  }

  #onTabKey(event: KeyboardEvent): void {
    const steps: Record<string, number> = { ArrowRight: 1, ArrowLeft: -1 };
    const step = steps[event.key];
    if (step === undefined || this.#files.length === 0) return;
    const next = (this.#wanted + step + this.#files.length) % this.#files.length;
    this.show(next);
    this.#files[next]?.tab.focus();
  }

  #selectedRange(): Range | undefined {
    const selection = document.getSelection();
    if (!selection || selection.isCollapsed || selection.rangeCount === 0) return undefined;
    const range = selection.getRangeAt(0);
    return this.#page.contains(range.commonAncestorContainer) ? range : undefined;
  }

  async #keepWhatIsSelected(): Promise<void> {
    const range = this.#selectedRange();
    if (this.#grid && !range) return this.#keepPlace(this.#grid.place);
    const file = this.#files[this.#shown];
    if (!range || !file) return this.#desk.say('Nothing is selected');
    const taken = await takeRange(range);
    await this.#keep(file, taken, headingAbove(range));
  }

  async #keepPlace(place: string): Promise<void> {
    const file = this.#files[this.#shown];
    if (!file) return;
    const taken = await this.#take(file, place);
    await this.#keep(file, taken, taken.place);
  }

  async #take({ format, source, name }: OpenFile, place: string): Promise<Taken> {
    const taken = await format.take?.(source, parseFragment(place), tools);
    if (!taken)
      throw new DrawerError({
        code: 'unsupported',
        what: 'Taking from this kind of file is not served yet',
        where: name,
      });
    return taken;
  }

  #keep(
    file: OpenFile,
    {
      content,
      media,
      notes,
      language,
    }: { content: Content; media: Taken['media']; notes: readonly Note[]; language?: string },
    place: string | undefined,
  ): Promise<void> {
    return this.#desk.keep(
      { content, media, origin: originOf({ file: file.name, place }), ...(language !== undefined && { language }) },
      notes,
    );
  }
}

/** The last heading before the range: where in the file it comes from. */
function headingAbove(range: Range): string | undefined {
  const page = range.startContainer.parentElement?.closest('.sheet-of-paper');
  const headings = [...(page?.querySelectorAll('h1, h2, h3, h4, h5, h6') ?? [])];
  return headings
    .findLast(
      (heading) =>
        heading.compareDocumentPosition(range.startContainer) &
        (Node.DOCUMENT_POSITION_FOLLOWING | Node.DOCUMENT_POSITION_CONTAINED_BY),
    )
    ?.textContent?.trim();
}
