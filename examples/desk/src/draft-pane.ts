import { type Content, DrawerError, type Media } from 'drawer';
import { type DrawerPanel, draggedSlips } from 'drawer/browser';
import type { Draft, DraftTools } from './draft.ts';
import { DocumentDraft, isDocument } from './draft-document.ts';
import { element, make, untilClosed } from './element.ts';
import { download, type FileSource, type OwnFile } from './files.ts';
import { FormattingBar } from './formatting.ts';
import { saveDraft } from './keep-draft.ts';
import { type OpenFile, openShown } from './open-file.ts';
import type { DeskPhrase, Say } from './words/index.ts';

/** How long work goes on before it is shown, in milliseconds. */
const showsAfter = 400;

/** What is being written: a new document or sheet, or a file of one's own that is saved back in its place. */
export class DraftPane {
  readonly #panel: DrawerPanel;
  readonly #files: FileSource;
  readonly #say: Say;
  readonly #place = element('editor', HTMLElement);
  readonly #formatting: FormattingBar;
  readonly #tools: DraftTools;
  #draft: Draft | undefined;
  #own: OwnFile | undefined;
  /** Whether something was written since it was opened or saved. */
  #isChanged = false;

  constructor(panel: DrawerPanel, files: FileSource, say: Say) {
    this.#panel = panel;
    this.#files = files;
    this.#say = say;
    this.#formatting = new FormattingBar(say);
    this.#tools = {
      say,
      changed: () => this.#changed(),
      attempt: (work) => void panel.attempt(work),
      working: (...work) => this.#working(...work),
    };
    const menu = element('file-menu', HTMLElement);
    const on = (id: string, work: () => Promise<unknown>): void =>
      element(id, HTMLButtonElement).addEventListener('click', () => {
        menu.hidePopover();
        void panel.attempt(work);
      });
    on('new-document', async () => (await this.#mayLeave()) && this.newDocument(''));
    on('new-sheet', async () => (await this.#mayLeave()) && this.#newSheet());
    on('open-own', () => this.#openOwn());
    on('save', () => this.#save());
    on('save-back', () => this.#saveBack());
    menu.addEventListener('toggle', (event) => this.#putMenu(event as ToggleEvent, menu));
    this.#place.addEventListener('dragover', (event) => event.preventDefault());
    this.#place.addEventListener('drop', (event) => this.#onDrop(event), { capture: true });
    addEventListener('beforeunload', (event) => {
      if (this.#isAtRisk) event.preventDefault();
    });
  }

  /** A new document, which the browser keeps where it has no folder to be saved in. */
  newDocument(markup: string): Promise<void> {
    const keep = (now: string): void => {
      if (!this.#files.create) void saveDraft(now);
    };
    return this.#begin(
      this.#say('newDocument'),
      async (place) => new DocumentDraft(place, markup, this.#tools, { keep }),
    );
  }

  async #newSheet(): Promise<void> {
    const { WorkbookDraft } = await import('./draft-workbook.ts');
    await this.#begin(this.#say('newSheet'), (place) => WorkbookDraft.fresh(place, this.#tools));
  }

  async #openOwn(): Promise<void> {
    const own = await this.#files.choose();
    if (own && (await this.#mayLeave())) await this.open(own);
  }

  /** Opens a file of one's own to write in; with `goesOn`, where somebody was in the draft before it. */
  async open(own: OwnFile, goesOn = false): Promise<void> {
    const { file } = own;
    const { scrollTop } = this.#place;
    const before = goesOn ? this.#draft : undefined;
    if (isDocument(file.name))
      await this.#begin(file.name, (place) => DocumentDraft.open(place, own, this.#tools, !goesOn), { own, before });
    else {
      const { WorkbookDraft } = await import('./draft-workbook.ts');
      await this.#begin(file.name, (place) => WorkbookDraft.open(place, file, this.#tools, !goesOn), { own, before });
    }
    if (before) this.#place.scrollTop = scrollTop;
    this.#panel.say(this.#say('openedToWrite', { file: file.name }));
    // Said at once: otherwise somebody may write for an hour and hear it then.
    await this.#panel.attempt(async () => {
      if (this.#draft?.obstacle) throw this.#draft.obstacle;
      await own.check?.();
    });
  }

  /** Puts content where the caret is. */
  async insert(content: Content, media: Media): Promise<void> {
    await this.#draft?.insert(content, media);
  }

  /** Shows how content will look where the caret is; with nothing, no longer. */
  preview(content: Content | undefined, media: Media = new Map()): void {
    this.#draft?.preview(content, media);
  }

  /** Slips that are dropped land where they are dropped, as pasting puts them together. */
  #onDrop(event: DragEvent): void {
    const ids = slipsIn(event.dataTransfer);
    if (!ids) return;
    event.preventDefault();
    event.stopPropagation();
    this.#draft?.goTo?.(event.clientX, event.clientY);
    void this.#panel.attempt(() => this.#panel.actions.pasteIds(ids));
  }

  /** Begins a draft in the place of the one there is, which stays where the new one cannot be; it may go on where `before` was. */
  async #begin(
    name: string,
    begin: (place: HTMLElement) => Promise<Draft>,
    { own, before }: { readonly own?: OwnFile; readonly before?: Draft | undefined } = {},
  ): Promise<void> {
    const place = make('div', { class: 'draft-place' });
    this.#place.append(place);
    let draft: Draft;
    try {
      draft = await begin(place);
    } catch (error) {
      place.remove();
      throw error;
    }
    if (before) draft.resume?.(before);
    this.#draft?.close();
    this.#place.replaceChildren(place);
    this.#draft = draft;
    this.#own = own;
    this.#formatting.show(draft instanceof DocumentDraft ? draft : undefined);
    element('draft-title', HTMLElement).textContent = name;
    element('ending', HTMLSelectElement).replaceChildren(
      ...draft.endings.map((ending) => make('option', { value: ending }, this.#say(`ending.${ending}` as DeskPhrase))),
    );
    // A file of one's own is saved in its place; saving it as another moves into the menu.
    const save = element('save', HTMLButtonElement);
    const back = element('save-back', HTMLButtonElement);
    const isSavedBack = own !== undefined && !this.#isBlocked;
    back.hidden = !isSavedBack;
    save.classList.toggle('main', !isSavedBack);
    if (isSavedBack) element('saving', HTMLElement).append(save);
    else back.before(save);
    this.#isChanged = false;
    this.#showState();
  }

  #changed(): void {
    this.#isChanged = true;
    this.#showState();
  }

  /** Whether the browser keeps what is written as it is written. */
  get #isKept(): boolean {
    return !this.#own && !this.#files.create && this.#draft instanceof DocumentDraft;
  }

  /** Whether nothing of it can be saved in its place; of several sheets, others may when one is protected. */
  get #isBlocked(): boolean {
    const obstacle = this.#draft?.obstacle;
    return obstacle !== undefined && !(DrawerError.is(obstacle) && obstacle.reason === 'sheet-protected');
  }

  /** Whether something would be lost with the draft. */
  get #isAtRisk(): boolean {
    return this.#isChanged && !this.#isKept;
  }

  /** Asks before a draft that is not saved gives way to another. */
  async #mayLeave(): Promise<boolean> {
    // What the browser keeps is one document, and the next one takes its place.
    if (!this.#isChanged) return true;
    const leave = make('button', { type: 'submit', value: 'leave' }, this.#say('leaveUnsaved'));
    const stay = make('button', { type: 'submit', class: 'main', value: '' }, this.#say('cancel'));
    const title = make('h2', { id: 'leave-title' }, this.#say('notSaved'));
    const form = make('form', { method: 'dialog' }, make('p', { class: 'row' }, stay, leave));
    const dialog = make('dialog', { 'aria-labelledby': 'leave-title' }, title, form);
    await untilClosed(dialog);
    return dialog.returnValue === 'leave';
  }

  /** What takes longer shows how far it is, and can be stopped. */
  async #working<T>(file: File, phrase: DeskPhrase, work: (open: OpenFile) => Promise<T>, canStop = true): Promise<T> {
    const { open, line } = openShown(
      file,
      this.#say(phrase, { file: file.name }),
      canStop ? this.#say('stop') : undefined,
    );
    line.classList.add('working');
    const timer = setTimeout(() => this.#place.before(line), showsAfter);
    try {
      return await work(open);
    } finally {
      clearTimeout(timer);
      line.remove();
      open.stop();
    }
  }

  #showState(): void {
    const isSaved = this.#own && !this.#isChanged;
    const state = this.#isBlocked
      ? 'stateBlocked'
      : this.#isKept
        ? 'stateKept'
        : isSaved
          ? 'stateSaved'
          : 'stateChanged';
    element('state', HTMLElement).textContent = this.#say(state);
  }

  #putMenu({ newState }: ToggleEvent, menu: HTMLElement): void {
    if (newState !== 'open') return;
    const { left, right, bottom } = element('file', HTMLButtonElement).getBoundingClientRect();
    menu.style.top = `${bottom + 4}px`;
    const isRight = document.documentElement.dir === 'rtl';
    menu.style.left = `${Math.max(8, Math.min(isRight ? right - menu.offsetWidth : left, innerWidth - menu.offsetWidth - 8))}px`;
  }

  async #save(): Promise<void> {
    if (!this.#draft) return;
    const { bytes, name, type, onlySheet } = await this.#draft.save(element('ending', HTMLSelectElement).value);
    const size = this.#panel.words.bytes(bytes.length);
    const said = (file: string): void =>
      this.#panel.say(
        onlySheet === undefined
          ? this.#say('savedAs', { file, size })
          : this.#say('savedSheetAs', { file, size, sheet: onlySheet }),
      );
    if (!this.#files.create) {
      download(bytes, name, type);
      return said(name);
    }
    const own = await this.#files.create(name, bytes);
    if (!own) return;
    await this.open(own);
    said(own.file.name);
  }

  async #saveBack(): Promise<void> {
    const own = this.#own;
    if (!own || !this.#draft?.saveBack) return;
    const { name, type } = own.file;
    const { bytes, changes } = await this.#draft.saveBack();
    if (changes === 0) return this.#panel.say(this.#say('unchanged', { file: name }));
    const written = await own.write?.(bytes);
    this.#isChanged = false;
    if (!written) download(bytes, name, type);
    const saved = written ?? { file: new File([bytes as Uint8Array<ArrayBuffer>], name, { type }) };
    try {
      await this.open(saved, true);
    } catch {
      // It is saved all the same, and has become too much to be shown.
      await this.newDocument('');
      return this.#panel.say(this.#say('savedNotShown', { file: name }));
    }
    this.#panel.say(this.#say(own.write ? 'savedBack' : 'savedDownload', { file: name }));
  }
}

/** The slips that are dragged, by their ids. */
function slipsIn(transfer: DataTransfer | null): readonly string[] | undefined {
  const dragged = transfer?.getData(draggedSlips) ?? '';
  const ids: unknown = dragged === '' ? undefined : JSON.parse(dragged);
  return Array.isArray(ids) ? ids.map(String) : undefined;
}
