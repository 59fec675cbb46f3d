import type { DrawerPanel } from 'drawer/browser';
import type { DeskFacts, DeskFile, DeskFiles } from 'drawer/connect';
import { make, untilClosed } from './element.ts';
import { chosenFiles, type FileSource, hostedFile, nameOf, type OwnFile } from './files.ts';
import type { Say } from './words/index.ts';

/** The files of the folder that the desk was started in, to choose from in a dialog. */
export class HostedFiles implements FileSource {
  readonly #files: DeskFiles;
  readonly #facts: DeskFacts;
  readonly #panel: DrawerPanel;
  readonly #say: Say;

  constructor(files: DeskFiles, facts: DeskFacts, panel: DrawerPanel, say: Say) {
    this.#files = files;
    this.#facts = facts;
    this.#panel = panel;
    this.#say = say;
  }

  /** A file by its path. */
  open(path: string): Promise<OwnFile> {
    return hostedFile(this.#files, path, this.#facts.author);
  }

  async choose(): Promise<OwnFile | undefined> {
    const path = await this.#ask();
    if (path === undefined) return undefined;
    return path === elsewhere ? chosenFiles.choose() : this.open(path);
  }

  /** Asks for a name, and makes the file in the desk's folder. */
  async create(name: string, bytes: Uint8Array): Promise<OwnFile | undefined> {
    const field = make('input', { value: name, required: '', id: 'file-name' });
    const save = make('button', { type: 'submit', class: 'main' }, this.#say('save'));
    const none = make('button', { type: 'button' }, this.#say('cancel'));
    const title = make('h2', { id: 'create-title' }, this.#say('saveIn', { folder: this.#facts.folder }));
    const form = make(
      'form',
      { method: 'dialog' },
      make('label', { for: 'file-name' }, this.#say('fileName')),
      field,
      make('p', { class: 'row' }, save, none),
    );
    const dialog = make('dialog', { 'aria-labelledby': 'create-title' }, title, form);
    let path: string | undefined;
    form.addEventListener('submit', () => {
      path = field.value.trim();
    });
    none.addEventListener('click', () => dialog.close());
    const closed = untilClosed(dialog);
    field.setSelectionRange(0, name.lastIndexOf('.'));
    await closed;
    if (!path) return undefined;
    await this.#files.save(path, bytes);
    return this.open(path);
  }

  /** Shows the folder until a file is chosen, or none. */
  async #ask(): Promise<string | undefined | typeof elsewhere> {
    const title = make('h2', { id: 'choose-title' });
    const list = make('ul', { class: 'file-list' });
    const other = make('button', { type: 'button' }, this.#say('elsewhere'));
    const none = make('button', { type: 'button' }, this.#say('cancel'));
    const dialog = make(
      'dialog',
      { class: 'choose', 'aria-labelledby': 'choose-title' },
      title,
      list,
      make('p', { class: 'row' }, other, none),
    );
    let answer: string | undefined | typeof elsewhere;
    const end = (given: typeof answer): void => {
      answer = given;
      dialog.close();
    };
    other.addEventListener('click', () => end(elsewhere));
    none.addEventListener('click', () => end(undefined));
    const show = async (folder: string): Promise<void> => {
      const { folders, files } = await this.#files.list(folder);
      title.textContent = this.#say('filesIn', { folder: folder === '' ? this.#facts.folder : folder });
      const named =
        folder === '' ? this.#facts.named.filter(({ path }) => !files.some((file) => file.path === path)) : [];
      list.replaceChildren(
        ...(folder === ''
          ? []
          : [this.#row(this.#say('up'), this.#say('folder'), () => show(folder.split('/').slice(0, -1).join('/')))]),
        ...folders.map((path) => this.#row(nameOf(path), this.#say('folder'), () => show(path))),
        ...[...named, ...files].map((file) =>
          this.#row(nameOf(file.path), this.#told(file), async () => end(file.path)),
        ),
      );
      if (list.childElementCount === 0) list.append(make('li', {}, this.#say('noFiles')));
      list.querySelector('button')?.focus();
    };
    const closed = untilClosed(dialog);
    void this.#panel.attempt(() => show(''));
    await closed;
    return answer;
  }

  #row(name: string, told: string, act: () => Promise<void>): HTMLLIElement {
    const button = make('button', { type: 'button' }, make('span', {}, name), make('span', { class: 'quiet' }, told));
    button.addEventListener('click', () => void this.#panel.attempt(act));
    return make('li', {}, button);
  }

  #told({ size, changed }: DeskFile): string {
    const { words } = this.#panel;
    return `${words.bytes(size)}, ${words.age(new Date(changed).toISOString(), new Date())}`;
  }
}

const elsewhere = Symbol('elsewhere');
