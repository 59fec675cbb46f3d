import type { Content, Media } from 'drawer';
import { type DrawerPanel, draggedSlips } from 'drawer/browser';
import type { Draft } from './draft.ts';
import { DocumentDraft, isDocument } from './draft-document.ts';
import { element, make } from './element.ts';
import { download, type FileSource, type OwnFile } from './files.ts';
import { FormattingBar } from './formatting.ts';
import { saveDraft } from './keep-draft.ts';
import type { DeskPhrase, Say } from './words/index.ts';

/** What is being written: a new document or sheet, or a file of one's own that is saved back in its place. */
export class DraftPane {
  readonly #panel: DrawerPanel;
  readonly #files: FileSource;
  readonly #say: Say;
  readonly #place = element('editor', HTMLElement);
  readonly #formatting: FormattingBar;
  #draft: Draft | undefined;
  #own: OwnFile | undefined;
  /** Whether something was written since it was opened or saved. */
  #isChanged = false;

  constructor(panel: DrawerPanel, files: FileSource, say: Say) {
    this.#panel = panel;
    this.#files = files;
    this.#say = say;
    this.#formatting = new FormattingBar(say);
    const menu = element('file-menu', HTMLElement);
    const on = (id: string, work: () => Promise<void>): void =>
      element(id, HTMLButtonElement).addEventListener('click', () => {
        menu.hidePopover();
        void panel.attempt(work);
      });
    on('new-document', () => this.newDocument(''));
    on('new-sheet', () => this.#newSheet());
    on('open-own', () => this.#openOwn());
    on('save', () => this.#save());
    on('save-back', () => this.#saveBack());
    menu.addEventListener('toggle', (event) => this.#putMenu(event as ToggleEvent, menu));
    this.#place.addEventListener('dragover', (event) => event.preventDefault());
    this.#place.addEventListener('drop', (event) => this.#onDrop(event), { capture: true });
    addEventListener('beforeunload', (event) => {
      if (this.#isChanged && !this.#isKept) event.preventDefault();
    });
  }

  /** A new document, which the browser keeps where it has no folder to be saved in. */
  async newDocument(markup: string): Promise<void> {
    const changed = (now: string): void => {
      if (!this.#files.create) void saveDraft(now);
      this.#changed();
    };
    const draft = new DocumentDraft(this.#fresh(), markup, this.#say('draft'), changed);
    this.#start(draft, this.#say('newDocument'));
    this.#formatting.show(draft);
  }

  async #newSheet(): Promise<void> {
    const { SheetDraft } = await import('./draft-sheet.ts');
    const draft = new SheetDraft(this.#fresh(), this.#say('draft'), () => this.#changed());
    await draft.ready;
    this.#start(draft, this.#say('newSheet'));
  }

  async #openOwn(): Promise<void> {
    const own = await this.#files.choose();
    if (own) await this.open(own);
  }

  /** Opens a file of one's own to write in. */
  async open(own: OwnFile): Promise<void> {
    const { file } = own;
    if (isDocument(file.name)) {
      const draft = await DocumentDraft.open(this.#fresh(), own, this.#say('draft'), () => this.#changed());
      this.#start(draft, file.name, own);
      this.#formatting.show(draft);
    } else {
      const { SheetDraft } = await import('./draft-sheet.ts');
      const draft = await SheetDraft.open(this.#fresh(), file, this.#say('draft'), () => this.#changed());
      await draft.ready;
      this.#start(draft, file.name, own);
    }
    this.#panel.say(this.#say('openedToWrite', { file: file.name }));
  }

  /** Puts content where the caret is. */
  insert(content: Content, media: Media): void {
    this.#draft?.insert(content, media);
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

  #fresh(): HTMLElement {
    this.#draft?.close();
    this.#draft = undefined;
    this.#formatting.show(undefined);
    const place = make('div', { class: 'draft-place' });
    this.#place.replaceChildren(place);
    return place;
  }

  #start(draft: Draft, name: string, own?: OwnFile): void {
    this.#draft = draft;
    this.#own = own;
    element('draft-title', HTMLElement).textContent = name;
    element('ending', HTMLSelectElement).replaceChildren(
      ...draft.endings.map((ending) => make('option', { value: ending }, this.#say(`ending.${ending}` as DeskPhrase))),
    );
    // A file of one's own is saved in its place; saving it as another moves into the menu.
    const save = element('save', HTMLButtonElement);
    const back = element('save-back', HTMLButtonElement);
    back.hidden = own === undefined;
    save.classList.toggle('main', own === undefined);
    if (own) element('saving', HTMLElement).append(save);
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

  #showState(): void {
    const state = this.#isKept ? 'stateKept' : this.#isChanged || !this.#own ? 'stateChanged' : 'stateSaved';
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
    const { bytes, name, type } = await this.#draft.save(element('ending', HTMLSelectElement).value);
    const size = this.#panel.words.bytes(bytes.length);
    if (!this.#files.create) {
      download(bytes, name, type);
      return this.#panel.say(this.#say('savedAs', { file: name, size }));
    }
    const own = await this.#files.create(name, bytes);
    if (!own) return;
    await this.open(own);
    this.#panel.say(this.#say('savedAs', { file: own.file.name, size }));
  }

  async #saveBack(): Promise<void> {
    const own = this.#own;
    if (!own || !this.#draft?.saveBack) return;
    const { name, type } = own.file;
    const { bytes, changes } = await this.#draft.saveBack();
    if (changes === 0) return this.#panel.say(this.#say('unchanged', { file: name }));
    const written = await own.write?.(bytes);
    if (!written) download(bytes, name, type);
    await this.open(written ?? { file: new File([bytes as Uint8Array<ArrayBuffer>], name, { type }) });
    this.#panel.say(this.#say(own.write ? 'savedBack' : 'savedDownload', { file: name }));
  }
}

/** The slips that are dragged, by their ids. */
function slipsIn(transfer: DataTransfer | null): readonly string[] | undefined {
  const dragged = transfer?.getData(draggedSlips) ?? '';
  const ids: unknown = dragged === '' ? undefined : JSON.parse(dragged);
  return Array.isArray(ids) ? ids.map(String) : undefined;
}
