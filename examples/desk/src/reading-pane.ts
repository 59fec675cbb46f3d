import { type Content, type Drawer, originOf, picturesIn, preview } from 'drawer';
import { type Captured, capture, type DrawerPanel, headingAbove, readRange, showContent } from 'drawer/browser';
import type { Excerpt, OutlineEntry } from 'drawer/formats';
import { createElement, X } from 'lucide';
import { element, isEnabled, make, rowStep, setEnabled } from './element.ts';
import { chosenFiles, type FileSource } from './files.ts';
import { type Find, FindInFile, mostFinds } from './find-in-file.ts';
import { KeptMarks, type OpenPage, rangeOver } from './kept-marks.ts';
import { type OpenFile, openShown } from './open-file.ts';
import { elementAt, OutlineList } from './outline.ts';
import { PageText } from './page-text.ts';
import { SheetView } from './sheet-view.ts';
import type { DeskPhrase, Say } from './words/index.ts';

/** A file and its tab. */
interface Tab extends OpenPage {
  readonly file: OpenFile;
  readonly button: HTMLButtonElement;
  places: readonly OutlineEntry[];
  sheets: readonly SheetView[];
  /** The sheet in which cells are marked. */
  grid?: SheetView;
  pictures: readonly string[];
}

/** How many blocks are shown before the rest of a document has been read, and how many are laid out at once after that. */
const firstBlocks = 60;
const blocksAtOnce = 400;
/** The cells that are shown before it is known how large the sheets are. */
const firstCells = 'A1:Z60';

/** The files being read, as they look; what is selected in them, pointed at, or named as a place, is kept in the drawer. */
export class ReadingPane {
  readonly #drawer: Drawer;
  readonly #panel: DrawerPanel;
  readonly #say: Say;
  readonly #outline: OutlineList;
  readonly #kept: KeptMarks;
  readonly #finding: FindInFile;
  readonly #tabs: Tab[] = [];
  readonly #page = element('page', HTMLElement);
  readonly #keepSelection = element('keep-selection', HTMLButtonElement);
  readonly #pointer = make('button', { type: 'button', class: 'pointer', tabindex: '-1' });
  #pointed: Range | undefined;
  #shown: Tab | undefined;

  constructor(drawer: Drawer, panel: DrawerPanel, files: FileSource, say: Say) {
    this.#drawer = drawer;
    this.#panel = panel;
    this.#say = say;
    this.#kept = new KeptMarks(drawer, say);
    this.#finding = new FindInFile((words) => this.#find(words), say);
    const keep = (place: string) => void panel.attempt(() => this.#keepPlace(place));
    this.#outline = new OutlineList(panel, { keep, go: (place) => this.#go(place) }, say);
    new ResizeObserver(() => void this.#kept.renew()).observe(this.#page);
    const chooser = element('open', HTMLInputElement);
    chooser.addEventListener('change', () => panel.attempt(() => this.openAll([...(chooser.files ?? [])])));
    element('open-files', HTMLButtonElement).addEventListener('click', () => {
      if (files === chosenFiles) return chooser.click(); // the browser's own chooser takes several at once
      void panel.attempt(async () => {
        const own = await files.choose();
        if (own) await this.openAll([own.file]);
      });
    });
    this.#page.addEventListener('dragover', (event) => event.preventDefault());
    this.#page.addEventListener('drop', (event) => {
      event.preventDefault();
      void panel.attempt(() => this.openAll([...(event.dataTransfer?.files ?? [])]));
    });
    element('files', HTMLElement).addEventListener('keydown', (event) => this.#onTabKey(event));
    const close = element('close', HTMLButtonElement);
    close.append(createElement(X, { 'aria-hidden': 'true' }));
    close.title = say('closeFile');
    close.addEventListener('click', () => this.#close());
    const capturing = capture(this.#page, drawer, {
      report: (captured) => this.#report(captured, rangeSelected()),
      origin: (node) => originOf({ file: this.#shown?.file.name, place: headingAbove(node) }),
    });
    this.#page.addEventListener('copy', () => {
      const grid = this.#shown?.grid;
      if (grid && document.getSelection()?.isCollapsed !== false) void panel.attempt(() => this.#keepPlace(grid.place));
    });
    this.#keepSelection.addEventListener('click', () => {
      if (!isEnabled(this.#keepSelection)) return;
      const grid = this.#shown?.grid;
      void panel.attempt(() => (grid ? this.#keepPlace(grid.place) : capturing.keepSelection()));
    });
    this.#showNothing();
    document.addEventListener('selectionchange', () => this.#offerSelection());
    this.#page.addEventListener('pointermove', (event) => this.#point(event));
    this.#page.addEventListener('pointerleave', () => this.#pointer.remove());
    this.#pointer.addEventListener('click', () => panel.attempt(() => this.#keepPointed()));
  }

  async openAll(files: readonly File[]): Promise<void> {
    for (const file of files) await this.open(file);
    const [first] = files;
    if (first)
      this.#panel.say(
        files.length === 1
          ? this.#say('opened', { file: first.name })
          : this.#say('openedSome', { count: files.length }),
      );
  }

  /** Opens a file and shows it as far as it has been read; one that nobody asked for takes no other's place. */
  async open(chosen: File, isAsked = true): Promise<void> {
    const name = chosen.name;
    const said = this.#say('readingFile', { file: name });
    const { open: file, line: progress } = openShown(chosen, said, this.#say('stop'));
    progress.className = 'reading-on';
    file.tell(0);
    const page = make('article', { class: 'sheet-of-paper' }, progress);
    const button = make(
      'button',
      { type: 'button', role: 'tab', 'aria-selected': 'false', 'aria-controls': 'page', tabindex: '-1' },
      name,
    );
    const tab: Tab = { name, file, button, page, places: [], sheets: [], pictures: [], kept: new Map() };
    this.#tabs.push(tab);
    button.addEventListener('click', () => this.#show(tab));
    element('files', HTMLElement).append(button);
    if (isAsked || !this.#shown) this.#show(tab);
    try {
      await this.#fill(tab, progress);
      tab.kept.clear(); // what was not there is now, and what was has been laid out anew
      if (this.#shown === tab) this.#markKept();
    } catch (error) {
      if (page.children.length <= 1) this.#drop(tab);
      throw error;
    } finally {
      progress.remove();
    }
  }

  async #fill(tab: Tab, progress: HTMLElement): Promise<void> {
    const { file, page } = tab;
    const isDocument = /\.(docx|docm|dotx|dotm|odt|ott)$/i.test(file.name);
    if (isDocument) {
      // A first look, before the rest has been read.
      const first = await file.read('', { enough: firstBlocks });
      page.append(showContent(first.content, first.media, { live: true }));
      describeLanguage(page, first);
    }
    const isWorkbook = /\.(xlsx|xlsm|xltx|xltm|ods|ots)$/i.test(file.name);
    const glimpse = isWorkbook ? await file.read(firstCells).catch(() => undefined) : undefined;
    if (glimpse) page.append(make('div', { class: 'glimpse' }, showContent(glimpse.content, glimpse.media)));
    const outline = await file.outline();
    tab.places = outline.entries;
    page.querySelector('.glimpse')?.remove();
    if (this.#shown === tab) this.#showPlaces();
    const sheets = tab.places.filter(({ kind }) => kind === 'sheet');
    if (sheets.length > 0) return this.#showSheets(tab, sheets);
    const taken = await file.read('');
    const { content, media } = taken;
    describeLanguage(page, taken);
    tab.pictures = [...picturesIn(content)].map((picture) => picture.media);
    await this.#layOut(page, progress, content, media);
  }

  /** A long document is laid out a part at a time, so that the page stays at hand. */
  async #layOut(page: HTMLElement, progress: HTMLElement, content: Content, media: Excerpt['media']): Promise<void> {
    const blocks = content.shape === 'blocks' ? content.blocks : undefined;
    if (!blocks || blocks.length <= blocksAtOnce) {
      page.replaceChildren(progress, showContent(content, media, { live: true }));
      return;
    }
    for (let from = 0; from < blocks.length; from += blocksAtOnce) {
      const part = showContent({ shape: 'blocks', blocks: blocks.slice(from, from + blocksAtOnce) }, media, {
        live: true,
      });
      if (from === 0) page.replaceChildren(progress, part);
      else page.append(part);
      await new Promise((next) => setTimeout(next));
    }
  }

  async #showSheets(tab: Tab, sheets: readonly OutlineEntry[]): Promise<void> {
    tab.page.classList.add('sheets');
    for (const sheet of sheets) {
      const view = new SheetView(sheet.place, sheet.label, tab.file.read, (active) => {
        tab.grid = active;
        this.#offerSelection();
      });
      tab.page.append(make('h3', {}, sheet.label), view.element);
      tab.sheets = [...tab.sheets, view];
      await view.ready();
    }
  }

  #show(tab: Tab): void {
    this.#shown = tab;
    for (const each of this.#tabs) {
      each.button.setAttribute('aria-selected', String(each === tab));
      each.button.tabIndex = each === tab ? 0 : -1;
    }
    tab.button.scrollIntoView({ block: 'nearest', inline: 'nearest' });
    this.#page.setAttribute('aria-label', tab.file.name);
    this.#page.replaceChildren(tab.page);
    this.#page.scrollTop = 0;
    this.#finding.clear();
    this.#showPlaces();
    this.#offerSelection();
    this.#markKept();
  }

  #markKept(): void {
    this.#kept.show(this.#shown);
  }

  /** Where words stand in the file that is shown; of a workbook, its cells. */
  async #find(words: readonly string[]): Promise<readonly Find[]> {
    const tab = this.#shown;
    if (!tab) return [];
    if (tab.sheets.length === 0)
      return new PageText(tab.page).find(words, mostFinds).map((range) => ({
        range,
        go: () => range.startContainer.parentElement?.scrollIntoView({ block: 'center' }),
      }));
    const found = await tab.file.findCells(
      tab.sheets.map(({ whole }) => whole),
      words.join(' '),
      mostFinds,
    );
    return found.flatMap(({ sheet, row, column }) => {
      const view = tab.sheets[sheet];
      return view ? { go: () => view.reveal(row, column) } : [];
    });
  }

  /** Whether a file of that name is the one in front. */
  shows(name: string): boolean {
    return this.#shown?.file.name === name;
  }

  #close(): void {
    const tab = this.#shown;
    if (!tab) return;
    this.#drop(tab);
    this.#panel.say(this.#say('closed', { file: tab.file.name }));
  }

  #drop(tab: Tab): void {
    tab.file.stop();
    tab.button.remove();
    const index = this.#tabs.indexOf(tab);
    this.#tabs.splice(index, 1);
    const next = this.#tabs[Math.min(index, this.#tabs.length - 1)];
    if (next) this.#show(next);
    else {
      this.#shown = undefined;
      this.#markKept();
      this.#showNothing();
    }
  }

  #showPlaces(): void {
    this.#outline.show(this.#shown?.places ?? []);
    element('places', HTMLElement).hidden = this.#shown === undefined;
  }

  /** The next step, where nothing is open. */
  #showNothing(): void {
    const [next, hint] = [this.#say('nothingOpen'), this.#say('nothingOpenHint')];
    this.#page.replaceChildren(make('div', { class: 'nothing' }, make('p', {}, next), make('p', {}, hint)));
    for (const id of ['places', 'outline']) element(id, HTMLElement).hidden = true;
  }

  /** Brings a place of the outline into sight. */
  #go(place: string): void {
    const page = this.#shown?.page;
    const found = page && elementAt(page, place);
    if (!found) return;
    found.scrollIntoView({ block: 'start' });
    this.#page.scrollTop -= 12;
  }

  #onTabKey(event: KeyboardEvent): void {
    const step = rowStep(event);
    if (step === 0 || !this.#shown) return;
    const next = this.#tabs[(this.#tabs.indexOf(this.#shown) + step + this.#tabs.length) % this.#tabs.length];
    if (!next) return;
    this.#show(next);
    next.button.focus();
  }

  #offerSelection(): void {
    const selection = document.getSelection();
    const isSelected =
      selection !== null &&
      !selection.isCollapsed &&
      this.#page.contains(selection.getRangeAt(0).commonAncestorContainer);
    setEnabled(this.#keepSelection, isSelected || this.#shown?.grid !== undefined);
  }

  async #keepPlace(place: string): Promise<void> {
    const tab = this.#shown;
    if (!tab) return;
    const beside = elementAt(tab.page, place);
    await this.#keep(await tab.file.read(place), undefined, beside && rangeOver(beside));
  }

  async #keep(taken: Excerpt, place = taken.place, beside?: Range): Promise<void> {
    const { content, media, language, secret, notes } = taken;
    const origin = originOf({ file: this.#shown?.file.name, place });
    const [result] = await this.#drawer.keep([
      { content, media, origin, ...(language !== undefined && { language }), ...(secret && { secret }) },
    ]);
    if (result) this.#report({ kind: 'kept', result, notes }, beside);
  }

  /** Says what was kept, and marks it in the margin. */
  #report(captured: Captured, beside: Range | undefined): void {
    this.#panel.report(captured);
    const page = this.#shown?.page;
    if (captured.kind !== 'kept' || !beside || !page?.contains(beside.startContainer)) return;
    const { result } = captured;
    if ('position' in result && 'summary' in result) this.#kept.add(result.summary.id, beside);
  }

  // --- Pointing: a button beside whatever the mouse is over ---------------------------------------------------------------

  #point(event: PointerEvent): void {
    const target = event.target instanceof Element ? event.target : undefined;
    if (!target || target === this.#pointer || event.buttons !== 0) return;
    const block = target.closest('h1, h2, h3, h4, h5, h6, table:not(.grid), ul, ol, img, p, blockquote, pre');
    if (!block || !this.#shown?.page.contains(block)) return;
    const range = document.createRange();
    range.selectNode(block);
    let what: DeskPhrase = 'paragraph';
    if (/^H[1-6]$/.test(block.tagName)) {
      what = 'section';
      range.setEndAfter(sectionEnd(block));
    } else if (block.tagName === 'TABLE') what = 'table';
    else if (block.tagName === 'IMG') what = 'picture';
    else if (/^[UO]L$/.test(block.tagName)) what = 'list';
    this.#pointed = range;
    this.#pointer.textContent = this.#say('keepThis', { what: this.#say(what) });
    const [at, page] = [block.getBoundingClientRect(), this.#page.getBoundingClientRect()];
    this.#pointer.style.top = `${at.top - page.top + this.#page.scrollTop}px`;
    if (this.#pointer.parentNode !== this.#page) this.#page.append(this.#pointer);
  }

  async #keepPointed(): Promise<void> {
    const range = this.#pointed?.cloneRange();
    const tab = this.#shown;
    if (!range || !tab) return;
    const at = range.startContainer.childNodes[range.startOffset] ?? range.startContainer;
    // What the file has a place for is taken from the file, footnotes and all.
    const entry = tab.places.find(({ place }) => elementAt(tab.page, place) === at);
    if (entry) return this.#keepPlace(entry.place);
    await this.#keep(await readRange(range), headingAbove(at), range);
  }
}

/** Says in which language and direction a file is read; its first letter tells where it does not say. */
function describeLanguage(page: HTMLElement, { content, language }: Pick<Excerpt, 'content' | 'language'>): void {
  if (language) page.lang = language;
  const letter = /\p{L}/u.exec(preview(content, 200))?.[0] ?? '';
  page.dir = /[\p{Script=Arabic}\p{Script=Hebrew}\p{Script=Syriac}\p{Script=Thaana}]/u.test(letter) ? 'rtl' : 'ltr';
}

/** What is selected on the page. */
function rangeSelected(): Range | undefined {
  const selection = document.getSelection();
  return selection && selection.rangeCount > 0 ? selection.getRangeAt(0).cloneRange() : undefined;
}

/** The last element of the section that a heading begins. */
function sectionEnd(heading: Element): Element {
  let last = heading;
  for (let next = heading.nextElementSibling; next; next = next.nextElementSibling) {
    if (/^H[1-6]$/.test(next.tagName) && next.tagName <= heading.tagName) break;
    last = next;
  }
  return last;
}
