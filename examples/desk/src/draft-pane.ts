import type { Content, Media } from 'drawer';
import type { DrawerPanel } from 'drawer/browser';
import type { Draft } from './draft.ts';
import { DocumentDraft, isDocument } from './draft-document.ts';
import { element, make, setEnabled } from './element.ts';
import { download, type FileSource, type OwnFile } from './files.ts';
import { saveDraft } from './keep-draft.ts';

/** What is being written: a new document or sheet, or a file of one's own that is saved back in its place. */
export class DraftPane {
  readonly #panel: DrawerPanel;
  readonly #files: FileSource;
  readonly #place = element('editor', HTMLElement);
  #draft: Draft | undefined;
  #own: OwnFile | undefined;

  constructor(panel: DrawerPanel, files: FileSource) {
    this.#panel = panel;
    this.#files = files;
    const on = (id: string, work: () => Promise<void>): void =>
      element(id, HTMLButtonElement).addEventListener('click', () => panel.attempt(work));
    on('new-document', () => this.newDocument(''));
    on('new-sheet', () => this.#newSheet());
    on('open-own', () => this.#openOwn());
    on('save', () => this.#save());
    on('save-back', () => this.#saveBack());
  }

  async newDocument(markup: string): Promise<void> {
    this.#start(new DocumentDraft(this.#fresh(), markup, (now) => void saveDraft(now)), 'New document');
  }

  async #newSheet(): Promise<void> {
    const { SheetDraft } = await import('./draft-sheet.ts');
    const draft = new SheetDraft(this.#fresh());
    await draft.ready;
    this.#start(draft, 'New sheet');
  }

  async #openOwn(): Promise<void> {
    const own = await this.#files.choose();
    if (own) await this.open(own);
  }

  /** Opens a file of one's own to write in. */
  async open(own: OwnFile): Promise<void> {
    const { file } = own;
    if (isDocument(file.name)) this.#start(await DocumentDraft.open(this.#fresh(), own, () => {}), file.name, own);
    else {
      const { SheetDraft } = await import('./draft-sheet.ts');
      const draft = await SheetDraft.open(this.#fresh(), file);
      await draft.ready;
      this.#start(draft, file.name, own);
    }
    this.#panel.say(`Opened ${file.name} to write in`);
  }

  /** Puts content where the caret is. */
  insert(content: Content, media: Media): void {
    this.#draft?.insert(content, media);
  }

  #fresh(): HTMLElement {
    this.#draft?.close();
    this.#draft = undefined;
    const place = make('div', { class: 'draft-place' });
    this.#place.replaceChildren(place);
    return place;
  }

  #start(draft: Draft, name: string, own?: OwnFile): void {
    this.#draft = draft;
    this.#own = own;
    element('draft-name', HTMLElement).textContent = name;
    element('ending', HTMLSelectElement).replaceChildren(
      ...draft.endings.map(([ending, words]) => make('option', { value: ending }, words)),
    );
    setEnabled(element('save-back', HTMLButtonElement), own !== undefined);
  }

  async #save(): Promise<void> {
    if (!this.#draft) return;
    const { bytes, name, type } = await this.#draft.save(element('ending', HTMLSelectElement).value);
    download(bytes, name, type);
    this.#panel.say(`Saved as ${name}, ${bytes.length.toLocaleString('en-GB')} bytes`);
  }

  async #saveBack(): Promise<void> {
    const own = this.#own;
    if (!own || !this.#draft?.saveBack) return;
    const { name, type } = own.file;
    const { bytes, changes } = await this.#draft.saveBack();
    if (changes === 0) return this.#panel.say(`Nothing was changed in ${name}`);
    const written = await own.write?.(bytes);
    if (!written) download(bytes, name, type);
    await this.open(written ?? { file: new File([bytes as Uint8Array<ArrayBuffer>], name, { type }) });
    this.#panel.say(own.write ? `Saved ${name} in its place` : `Saved ${name}: it was downloaded under its name`);
  }
}
