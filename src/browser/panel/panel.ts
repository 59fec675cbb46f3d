import { html, LitElement, nothing, type PropertyValues, type TemplateResult } from 'lit';
import { type Content, DrawerError, type LandingStyle, type Media } from '../../content/index.ts';
import { Drawer, type Listed } from '../../drawer/index.ts';
import { type Captured, captureKeys } from '../capture/capture.ts';
import { carriedBy, takeCarried } from '../capture/transfer.ts';
import { followCaret, lastPlace } from '../deliver/caret.ts';
import { type Delivered, type DeliverOptions, deliver } from '../deliver/deliver.ts';
import { isKey, type Key, parseKey } from '../keys.ts';
import { catalogueFor, english, type PhraseName, Words } from '../words/index.ts';
import { Deeds } from './deeds.ts';
import { type PanelHost, Refusal, type Sheet } from './host.ts';
import { type PageKey, type PanelKey, pageKeys, panelKeys, phraseOf } from './keys.ts';
import { PanelModel } from './model.ts';
import { AskSheet } from './sheets/ask.ts';
import { KeysSheet } from './sheets/keys.ts';
import { AppendSheet, LabelSheet, LockSheet, SplitSheet } from './sheets/small.ts';
import { SlipList } from './slips.ts';
import { style } from './style.ts';

/** How something is put where the caret last was; a page with a draft of its own may do it itself. */
export type Lander = (content: Content, options: DeliverOptions) => Promise<Pick<Delivered, 'name'>>;

/**
 * The drawer as an element: `<drawer-panel>`. Its looks are custom properties (`--drawer-slip`, `--drawer-wood`, …) and the
 * parts `drawer`, `tray`, `slips`, `front`, `sheet` and `status`; `theme="light"` or `"dark"` overrules the system's,
 * `lang` says its language.
 */
export class DrawerPanel extends LitElement implements PanelHost {
  static override styles = style;
  static override properties = { lang: { type: String, reflect: true } };

  words = new Words(english);
  /** Puts what is pasted where it belongs; `deliver` when the page says nothing else. */
  lander: Lander = deliver;

  #model: PanelModel | undefined;
  #deeds: Deeds = new Deeds(this);
  #list = new SlipList(this);
  #sheet: Sheet | undefined;
  #isOpen = false;
  #said = '';
  #endFollowing: (() => void) | undefined;
  #keyed: Promise<void> = Promise.resolve();
  #inList = keysFrom(panelKeys);
  #onPage = keysFrom(pageKeys);
  #keyWords: Record<string, string> = { ...panelKeys, ...pageKeys, ...captureKeys };

  /** The drawer that is shown. */
  get drawer(): Drawer | undefined {
    return this.#model?.drawer;
  }

  set drawer(drawer: Drawer | undefined) {
    this.#model?.stop();
    this.#sheet = undefined;
    this.#model = drawer && new PanelModel(drawer, () => this.requestUpdate());
    if (this.isConnected) void this.attempt(async () => this.#model?.start());
    this.requestUpdate();
  }

  get model(): PanelModel {
    if (this.#model) return this.#model;
    throw new DrawerError({ code: 'usage', what: 'The panel has no drawer', next: 'Set its property drawer first' });
  }

  /**
   * Opens the drawer that this site keeps and shows it. A locked one asks for its passphrase in the panel; where the browser
   * keeps nothing, there is one that lasts as long as the page, and that is said.
   */
  async openDrawer(name?: string): Promise<Drawer> {
    try {
      const { openDrawer } = await import('../open-drawer.ts');
      this.drawer = await openDrawer(name);
    } catch (error) {
      if (!DrawerError.is(error) || (error.code !== 'locked' && error.code !== 'storage')) throw error;
      this.drawer = error.code === 'locked' ? await this.#askForPassphrase(name) : await this.#unkept();
    }
    return this.model.drawer;
  }

  #askForPassphrase(name: string | undefined): Promise<Drawer> {
    return new Promise((opened) => {
      const { words } = this;
      const sheet = new LockSheet(this, words.say('lock.opening'), words.say('lock.open'), '', async (passphrase) => {
        const { openDrawer } = await import('../open-drawer.ts');
        opened(await openDrawer(name, { passphrase }));
        this.open(undefined);
      });
      this.open(sheet);
    });
  }

  async #unkept(): Promise<Drawer> {
    const { memoryStorage } = await import('../../storage/index.ts');
    this.say(this.words.say('problem.private'));
    return new Drawer(memoryStorage(), { now: () => new Date(), newId: () => crypto.randomUUID() });
  }

  /** Other keys, such as `{ merge: 'G', panel: 'Control+F9' }`; `null` for none. */
  set keys(keys: { readonly [K in PanelKey | PageKey]?: string | null }) {
    this.#keyWords = withoutNull({ ...panelKeys, ...pageKeys, ...captureKeys, ...keys });
    this.#inList = keysFrom(withoutNull({ ...panelKeys, ...keys }), Object.keys(panelKeys));
    this.#onPage = keysFrom(withoutNull({ ...pageKeys, ...keys }), Object.keys(pageKeys));
  }

  get language(): string {
    return this.lang || document.documentElement.lang || 'en-GB';
  }

  override connectedCallback(): void {
    super.connectedCallback();
    this.setAttribute('data-drawer', 'private');
    this.#endFollowing = followCaret();
    document.addEventListener('keydown', this.#onPageKey);
    document.addEventListener('copy', this.#onClipboard, true);
    document.addEventListener('paste', this.#onClipboard, true);
    if (this.#model) void this.attempt(async () => this.#model?.start());
    void this.#speak();
  }

  override disconnectedCallback(): void {
    super.disconnectedCallback();
    this.#endFollowing?.();
    document.removeEventListener('keydown', this.#onPageKey);
    document.removeEventListener('copy', this.#onClipboard, true);
    document.removeEventListener('paste', this.#onClipboard, true);
    this.#model?.stop();
  }

  protected override willUpdate(changed: PropertyValues): void {
    if (changed.has('lang')) void this.#speak();
  }

  async #speak(): Promise<void> {
    const catalogue = await catalogueFor(this.language);
    if (catalogue === this.words.catalogue) return;
    this.words = new Words(catalogue);
    this.#sheet = undefined;
    this.requestUpdate();
  }

  /** Says what became of something gathered: hand it to `capture` as its `report`. */
  readonly report = (captured: Captured): void => {
    if (captured.kind === 'problem') return this.#tell(captured.error);
    const { result, notes } = captured;
    const simplified = notes.length === 0 ? '' : `. ${this.words.say('simplified', { notes: notesOf(notes) })}`;
    const fact = `${this.words.kept(result)}${simplified}`;
    const model = this.#model;
    if (!('position' in result) || !model || model.isFinding) return this.say(fact);
    // The slip lies in the list when it is said that it was kept.
    void this.attempt(() => model.refresh()).then(() => {
      this.#list.show(result.position - 1);
      this.say(fact);
    });
  };

  /** Says one short fact; the same once more is heard once more. */
  say(fact: string): void {
    // A live region speaks when its words change.
    this.#said = fact === this.#said ? `${fact}\u200b` : fact;
    this.requestUpdate();
    this.dispatchEvent(new CustomEvent('drawer-said', { detail: fact, bubbles: true, composed: true }));
  }

  async attempt(work: () => Promise<unknown>): Promise<void> {
    try {
      await work();
    } catch (error) {
      this.#tell(error);
    }
  }

  #tell(error: unknown): void {
    this.say(error instanceof Refusal ? this.words.say(error.phrase) : this.words.problem(error));
    if (!(error instanceof Refusal) && !DrawerError.is(error)) console.error(error);
  }

  async land(content: Content, media: Media, style?: LandingStyle): Promise<string> {
    const landing = style ?? this.model.settings?.style ?? 'local';
    return (await this.lander(content, { media, style: landing, language: this.language })).name;
  }

  open(sheet: Sheet | undefined): void {
    // What has the focus now goes with its sheet.
    const goesBack = this.#sheet !== undefined && this.matches(':focus-within');
    this.#sheet = sheet;
    if (sheet) this.#isOpen = false;
    this.requestUpdate();
    void this.updateComplete.then(() => {
      if (sheet)
        this.renderRoot.querySelector<HTMLElement>('.sheet :is(textarea, input, select, button.main)')?.focus();
      else if (goesBack) this.#list.focus();
    });
  }

  redraw(): void {
    this.requestUpdate();
  }

  /** Brings the keyboard to the list of slips. */
  override focus(): void {
    if (this.#sheet) this.renderRoot.querySelector<HTMLElement>('.sheet :is(textarea, input, select, button)')?.focus();
    else this.#list.focus();
  }

  /** Pastes what comes next in the sequence where the caret is. */
  pasteNext(): Promise<void> {
    return this.#inTurn(() => this.#deeds.pasteNext());
  }

  /** What is asked for in quick succession is done in that order, each when the one before it is done. */
  #inTurn(work: () => Promise<unknown>): Promise<void> {
    this.#keyed = this.#keyed.then(() => this.attempt(work));
    return this.#keyed;
  }

  // --- Keys ------------------------------------------------------------------------------------------------------------

  readonly #onPageKey = (event: KeyboardEvent): void => {
    if (event.defaultPrevented || !this.#model) return;
    const deed = this.#onPage.find(([, key]) => isKey(event, key))?.[0];
    if (deed === undefined) return;
    event.preventDefault();
    if (deed === 'panel') this.focus();
    else void this.pasteNext();
  };

  #onListKey(event: KeyboardEvent): void {
    if (event.defaultPrevented) return;
    const walked = this.#list.walk(event);
    const deed = walked ? undefined : this.#inList.find(([, key]) => isKey(event, key))?.[0];
    if (!walked && deed === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    if (deed !== undefined) void this.#inTurn(() => this.do(deed as PanelKey));
  }

  /** Does what a key or button stands for, with the slips chosen or the one at hand. */
  async do(deed: PanelKey): Promise<void> {
    const { model } = this;
    switch (deed) {
      case 'paste':
        return this.#deeds.paste();
      case 'choose':
        return this.#list.chooseAtHand();
      case 'chooseAll':
        await model.chooseAll();
        return this.say(this.words.say('chosen', { count: model.chosen.length }));
      case 'chooseNone':
        model.chooseOnly([]);
        return this.say(this.words.say('chosen', { count: 0 }));
      case 'up':
      case 'down':
      case 'top':
      case 'end':
        return this.#deeds.move(deed);
      case 'delete':
        return this.#deeds.remove();
      case 'pasteNext':
        return this.#deeds.pasteNext();
      case 'merge':
        return this.#merge();
      case 'append':
        return this.open(new AppendSheet(this, await this.#slips()));
      case 'split':
        return this.open(new SplitSheet(this, await this.#oneSlip()));
      case 'edit': {
        const { EditSheet } = await import('./sheets/edit.ts');
        return this.open(await EditSheet.of(this, await this.#oneSlip()));
      }
      case 'label':
        return this.open(new LabelSheet(this, await this.#oneSlip()));
      case 'hold':
        return this.#deeds.hold();
      case 'hide':
        return this.#deeds.hide();
      case 'undo':
        return this.#deeds.undo();
      case 'redo':
        return this.#deeds.redo();
      case 'find':
        return this.renderRoot.querySelector<HTMLElement>('.lip input')?.focus();
      case 'help':
        return this.open(this.#keysSheet());
      case 'leave':
        return this.#leave();
    }
  }

  /** Lets the choice go first, and then the panel. */
  #leave(): void {
    if (this.model.chosen.length > 0) this.model.chooseOnly([]);
    else lastPlace()?.element.focus();
  }

  async #slips(): Promise<readonly Listed[]> {
    const slips = await this.model.subject();
    if (slips.length === 0) throw new Refusal('problem.needOne');
    return slips;
  }

  async #oneSlip(): Promise<Listed> {
    const slip = this.model.chosen.length === 1 ? (await this.#slips())[0] : this.model.atHand;
    if (!slip) throw new Refusal('problem.needOne');
    return slip;
  }

  async #merge(): Promise<void> {
    const { model } = this;
    if (model.chosen.length < 2) throw new Refusal('problem.needTwo');
    const { MergeSheet } = await import('./sheets/merge.ts');
    this.open(await MergeSheet.of(this, await model.whole(model.chosen)));
  }

  async #rules(): Promise<void> {
    const { RulesSheet } = await import('./sheets/rules.ts');
    this.open(new RulesSheet(this, await this.model.drawer.settings()));
  }

  #keysSheet(): KeysSheet {
    const key = (name: string): string => this.#keyWords[name] ?? '';
    const shown = Object.entries(phraseOf).filter(([name]) => key(name) !== '');
    return new KeysSheet(
      this,
      [['keys.walk', '↑ ↓ Home End'], ...shown.map(([name, phrase]) => [phrase, key(name)] as const)],
      (
        [
          ['keys.page.copy', 'Control+C'],
          ['keys.page.append', captureKeys.append],
          ['keys.page.send', captureKeys.send],
          ['keys.page.panel', this.#onPage.find(([deed]) => deed === 'panel') ? key('panel') : ''],
          ['do.pasteNext', this.#onPage.find(([deed]) => deed === 'pasteNext') ? pageKeys.pasteNext : ''],
        ] as [PhraseName, string][]
      ).filter(([, words]) => words !== ''),
    );
  }

  #lock(): void {
    const { drawer } = this.model;
    if (drawer.isLocked())
      return void this.attempt(async () => {
        await drawer.unlock();
        this.say(this.words.say('unlockedNow'));
      });
    this.open(
      new LockSheet(
        this,
        this.words.say('lock.title'),
        this.words.say('do.lock'),
        this.words.say('lock.hint'),
        async (passphrase) => {
          await drawer.lock(passphrase);
          this.open(undefined);
          this.say(this.words.say('lockedNow'));
        },
      ),
    );
  }

  // --- What is dropped on it, pasted into it and copied out of it -------------------------------------------------------

  /** With the focus in the list they mean slips, though browsers tell the page's own selection of them. */
  readonly #onClipboard = (event: ClipboardEvent): void => {
    if (this.#model === undefined || !this.#list.isFocused) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    if (event.type === 'copy') void this.attempt(() => this.#deeds.copy());
    else this.#gather(event.clipboardData);
  };

  #gather(transfer: DataTransfer | null): void {
    if (!transfer) return;
    const carried = carriedBy(transfer);
    void this.attempt(async () => {
      if (carried.files.length > 0 && carried.markup === '') {
        for (const file of carried.files) await this.#deeds.import(file);
        return;
      }
      const taken = await takeCarried(carried);
      const results = await this.model.drawer.keep(
        taken.map(({ content, media, secret }) => ({ content, media, origin: {}, ...(secret && { secret }) })),
      );
      for (const [index, result] of results.entries())
        this.report({ kind: 'kept', result, notes: taken[index]?.notes ?? [] });
    });
  }

  // --- What is seen ----------------------------------------------------------------------------------------------------

  protected override updated(): void {
    this.#list.measure();
  }

  protected override render(): TemplateResult {
    const { words } = this;
    const { direction, language } = words.catalogue;
    return html`<div class="drawer" part="drawer" dir=${direction} lang=${language}>
      ${this.#sheet ? this.#renderSheet(this.#sheet) : this.#model ? this.#renderTray() : nothing}
      ${this.#model ? this.#renderFront(this.#model) : this.#renderStatus()}
    </div>`;
  }

  #renderTray(): TemplateResult {
    const { words, model } = this;
    return html`<div class="tray" part="tray">
      <div class="lip" role="search">
        <input
          type="search"
          aria-label=${words.say('find')}
          placeholder=${words.say('find')}
          .value=${model.query}
          @input=${(event: Event) => this.#find((event.target as HTMLInputElement).value)}
          @keydown=${(event: KeyboardEvent) => this.#onFindKey(event)}
        />
      </div>
      ${this.#list.render()}
      ${
        model.rows === 0 && model.sequence
          ? html`<p class="empty">${words.say(model.isFinding ? 'foundNone' : 'empty')}</p>`
          : nothing
      }
    </div>`;
  }

  #find(query: string): void {
    void this.attempt(async () => {
      await this.model.find(query);
      this.#list.show(0);
      if (this.model.isFinding)
        this.say(
          this.model.rows === 0 ? this.words.say('foundNone') : this.words.say('found', { count: this.model.rows }),
        );
    });
  }

  #onFindKey(event: KeyboardEvent): void {
    if (event.key === 'ArrowDown' || event.key === 'Enter') this.#list.focus();
    else if (event.key === 'Escape' && this.model.query !== '') this.#find('');
    else return;
    event.preventDefault();
  }

  #renderSheet(sheet: Sheet): TemplateResult {
    const { words } = this;
    return html`<div class="tray" part="tray">
      <section
        class="sheet"
        part="sheet"
        aria-label=${sheet.title}
        @keydown=${(event: KeyboardEvent) => {
          if (event.key !== 'Escape') return;
          event.stopPropagation();
          this.open(undefined);
        }}
      >
        <div class="row">
          <h3 class="said">${sheet.title}</h3>
          <button type="button" @click=${() => this.open(undefined)}>${words.say('back')}</button>
        </div>
        ${sheet.render()}
      </section>
    </div>`;
  }

  #button(phrase: string, deed: () => unknown, { main = false, off = false, key = '' } = {}): TemplateResult {
    return html`<button
      type="button"
      class=${main ? 'main' : ''}
      aria-disabled=${off ? 'true' : nothing}
      aria-keyshortcuts=${key || nothing}
      @click=${() => {
        if (!off) void this.attempt(async () => deed());
      }}
    >
      ${phrase}
    </button>`;
  }

  #renderFront(model: PanelModel): TemplateResult {
    const { words } = this;
    const deeds = this.#deeds;
    const chosen = model.chosen.length;
    const none = model.count === 0;
    const { sequence, settings } = model;
    const isPaused =
      settings?.paused !== undefined && (settings.paused === 'told' || Date.parse(settings.paused) > Date.now());
    const fullness = settings
      ? words.say('fullness', {
          count: model.count,
          capacity: settings.capacity,
          bytes: words.bytes(model.bytes),
          size: words.bytes(settings.size),
        })
      : '';
    return html`<div class="front" part="front">
      <h2 class="plate" title=${fullness}>
        <span>${words.say('drawer')}</span><span>${words.say('slipCount', { count: model.count })}</span>
      </h2>
      <div class="row">
        ${this.#button(
          chosen > 0 ? words.say('do.pasteChosen', { count: chosen }) : words.say('do.paste'),
          () => this.#inTurn(() => deeds.paste()),
          { main: true, off: none },
        )}
        ${this.#button(words.say('do.pasteAll'), () => deeds.pasteAll(), { off: none })}
        ${this.#button(words.say('do.merge'), () => this.do('merge'), { off: chosen < 2 })}
        ${this.#button(words.say('do.undo'), () => this.#inTurn(() => deeds.undo()))}
        <button
          type="button"
          class="handle"
          aria-expanded=${this.#isOpen}
          aria-controls="more"
          @click=${() => {
            this.#isOpen = !this.#isOpen;
            this.requestUpdate();
          }}
        >
          ${words.say('more')}
        </button>
      </div>
      <div class="row">
        <span class="said"
          >${
            sequence?.next
              ? words.say('next', {
                  position: sequence.position,
                  preview: sequence.next.label ?? sequence.next.facts.preview,
                })
              : words.say('nextNone')
          }</span
        >
        ${this.#button(words.say('do.pasteNext'), () => this.pasteNext(), { off: !sequence?.next, key: 'Alt+Shift+N' })}
      </div>
      <div id="more" role="group" aria-label=${words.say('moreOf')} ?hidden=${!this.#isOpen}>
        ${this.#isOpen ? this.#renderMore(model, isPaused, fullness) : nothing}
      </div>
      ${this.#renderStatus()}
    </div>`;
  }

  #renderStatus(): TemplateResult {
    return html`<p class="status" part="status" role="status" aria-live="polite" aria-label=${this.words.say('status')}>${this.#said}</p>`;
  }

  #renderMore(model: PanelModel, isPaused: boolean, fullness: string): TemplateResult {
    const { words } = this;
    const deeds = this.#deeds;
    const none = model.rows === 0;
    const slip = model.atHand;
    const does = (key: PanelKey, phrase: PhraseName = phraseOf[key], off = none): TemplateResult =>
      this.#button(words.say(phrase), () => this.#inTurn(() => this.do(key)), { off });
    const step = (phrase: PhraseName, by: 1 | -1 | 'start'): TemplateResult =>
      this.#button(words.say(phrase), () => this.#inTurn(() => deeds.step(by)), { off: none });
    return html`
      <fieldset>
        <legend>${words.say('withSlips')}</legend>
        <div class="row">
          ${does('label')} ${does('hold', slip?.head.held ? 'do.release' : 'do.hold')}
          ${does('hide', slip?.head.secret ? 'do.open' : 'do.hide')} ${does('edit')} ${does('split')} ${does('append')}
          ${does('up')} ${does('down')} ${does('top')} ${does('end')}
          ${this.#button(words.say('do.copy'), () => deeds.copy(), { off: none })} ${does('delete')}
        </div>
      </fieldset>
      <fieldset>
        <legend>${words.say('withDrawer')}</legend>
        <div class="row">
          ${step('do.skip', 1)} ${step('do.stepBack', -1)} ${step('do.restart', 'start')} ${does('chooseAll')}
          ${does('redo', 'do.redo', false)} ${this.#button(words.say('do.rules'), () => this.#rules())}
          ${this.#button(words.say(isPaused ? 'do.resume' : 'do.pause'), () => deeds.pause(!isPaused))}
          ${this.#button(words.say(model.drawer.isLocked() ? 'do.unlock' : 'do.lock'), () => this.#lock())}
          ${this.#button(words.say('do.import'), () => this.#chooseFile())}
          ${this.#button(words.say('do.export'), () => deeds.export(), { off: none })}
          ${this.#button(words.say('do.clear'), () => this.#askToClear(), { off: none })}
          ${does('help', 'do.help', false)}
        </div>
        <p class="status">${fullness}</p>
      </fieldset>
    `;
  }

  #askToClear(): void {
    const { words, model } = this;
    this.open(
      new AskSheet(
        this,
        `${words.say('do.clear')}: ${words.say('slipCount', { count: model.count })}`,
        words.say('do.clear'),
        () => this.#deeds.clear(),
      ),
    );
  }

  #chooseFile(): void {
    const field = document.createElement('input');
    field.type = 'file';
    field.multiple = true;
    field.addEventListener('change', () => {
      void this.attempt(async () => {
        for (const file of field.files ?? []) await this.#deeds.import(file);
      });
    });
    field.click();
  }

  /** What the list of slips needs of its panel. */
  readonly listEvents = {
    key: (event: KeyboardEvent): void => this.#onListKey(event),
    drop: (transfer: DataTransfer | null): void => this.#gather(transfer),
    moved: (ids: readonly string[], position: number): void =>
      void this.attempt(() => this.#deeds.moveTo(ids, position)),
    pasted: (): void => void this.attempt(() => this.#deeds.paste()),
  };
}

const withoutNull = (keys: { readonly [name: string]: string | null | undefined }): Record<string, string> =>
  Object.fromEntries(Object.entries(keys).filter((entry): entry is [string, string] => typeof entry[1] === 'string'));

const keysFrom = (keys: { readonly [name: string]: string }, names = Object.keys(keys)): [string, Key][] =>
  names.flatMap((name): [string, Key][] => (keys[name] === undefined ? [] : [[name, parseKey(keys[name])]]));

const notesOf = (notes: Extract<Captured, { kind: 'kept' }>['notes']): string =>
  [...new Set(notes.map(({ what, count }) => (count === 1 ? inPanel(what) : `${inPanel(what)} (${count})`)))].join(
    '; ',
  );

/** What a terminal would be told to type is of no use here. */
const inPanel = (note: string): string => note.replace(/ \(--[^)]*\)/g, '');
