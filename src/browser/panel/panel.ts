import { html, LitElement, nothing, type PropertyValues, type TemplateResult } from 'lit';
import { type Content, DrawerError, type Media, type PasteStyle } from '../../content/index.ts';
import type { Drawer } from '../../drawer/index.ts';
import type { Connected } from '../../host/connect/index.ts';
import { catalogueFor, english, Words } from '../../messages/index.ts';
import type { Captured } from '../capture/capture.ts';
import { carriedBy, readCarried } from '../capture/transfer.ts';
import { followCaret, lastPlace } from '../deliver/caret.ts';
import { type Delivered, type DeliverOptions, deliver } from '../deliver/deliver.ts';
import { inEachFrame } from '../dom.ts';
import { Actions } from './actions.ts';
import { type CommandHost, type CommandId, commandOf } from './commands.ts';
import { Dialogs } from './dialogs.ts';
import { Cancelled, type PanelEvents, problemInWords, Refusal, type Sheet } from './host.ts';
import { type KeyChanges, Keymap } from './keys.ts';
import type { MenuPlace } from './menu.ts';
import { PanelModel } from './model.ts';
import { SlipList } from './slips.ts';
import type { SourceMarks } from './sources.ts';
import { style } from './style/index.ts';
import { Toolbar, type ToolbarHost } from './toolbar.ts';

/** Shows a preview of content at its target; without content, removes it. */
export type PreviewHandler = (content?: Content, options?: DeliverOptions) => void;

/** Pastes content where the caret last was, or into a page's own draft; returns the name of the target. */
export type PasteHandler = (content: Content, options: DeliverOptions) => Promise<Pick<Delivered, 'name'>>;

/** Puts content on the clipboard. @param isSecret - whether clipboard managers are told not to keep it */
export type CopyHandler = (content: Content, media: Media, isSecret: boolean) => Promise<void>;

/**
 * The drawer as an element: `<drawer-panel>`. Its looks are custom properties (`--drawer-slip`, `--drawer-tray`, …) and the
 * parts `drawer`, `tray`, `slips`, `toolbar`, `sheet` and `status`; `theme="light"` or `"dark"` overrules the system's,
 * `lang` says its language.
 */
export class DrawerPanel extends LitElement implements ToolbarHost, CommandHost {
  static override styles = style;
  static override properties = { lang: { type: String, reflect: true } };

  words = new Words(english);
  /** Pastes content; `deliver` unless the page sets another. */
  pasteHandler: PasteHandler = deliver;
  /** Copies content to the clipboard; `toClipboard` unless the page sets another. */
  copyHandler: CopyHandler = async (content, media) =>
    (await import('../deliver/index.ts')).toClipboard(content, media);
  /** Previews content at its target until called without content; absent if the page cannot. */
  previewHandler: PreviewHandler | undefined;
  keymap = new Keymap();
  sources: SourceMarks | undefined;

  #model: PanelModel | undefined;
  readonly actions = new Actions(this);
  readonly dialogs = new Dialogs(this);
  readonly #toolbar = new Toolbar(this);
  #list = new SlipList(this);
  #sheet: Sheet | undefined;
  /** Renders the filter chips; loaded after the slips. */
  #chips: (() => TemplateResult | typeof nothing) | undefined;
  #said = '';
  /** The chosen ids last reported to the page. */
  #chosen: readonly string[] = [];
  #listening: AbortController | undefined;
  #keyed: Promise<void> = Promise.resolve();
  /** The latest call of `openDrawer`; an earlier call that ends later does not show its drawer. */
  #opening: object | undefined;

  /** The drawer shown. */
  get drawer(): Drawer | undefined {
    return this.#model?.drawer;
  }

  set drawer(drawer: Drawer | undefined) {
    this.#model?.stop();
    this.#sheet = undefined;
    this.sources = undefined;
    this.#model = drawer && new PanelModel(drawer, () => this.requestUpdate());
    if (this.#model) this.#model.isDense = this.hasAttribute('dense');
    if (this.isConnected) void this.attempt(async () => this.#model?.start());
    this.requestUpdate();
  }

  get model(): PanelModel {
    if (this.#model) return this.#model;
    throw new DrawerError('usage/panel-without-drawer');
  }

  /**
   * Opens the drawer that this site keeps and shows it. A locked one asks for its passphrase in the panel; where the browser
   * keeps nothing, there is one that lasts as long as the page, and that is said.
   */
  async openDrawer(name?: string): Promise<Drawer> {
    const opening = {};
    this.#opening = opening;
    const drawer = await this.#open(name);
    if (this.#opening === opening) this.drawer = drawer;
    return drawer;
  }

  async #open(name: string | undefined): Promise<Drawer> {
    try {
      return await (await import('../open-drawer.ts')).openDrawer(name);
    } catch (error) {
      if (DrawerError.is(error) && error.code === 'locked') return this.dialogs.locked(name);
      if (DrawerError.is(error) && error.code === 'storage') return this.dialogs.unkept();
      await this.#tell(error);
      throw error;
    }
  }

  /**
   * Connects to a drawer that a program serves, shows it, and gives it with the files beside it. A locked one asks for its
   * passphrase in the panel. A lost connection is said, and so is its return.
   */
  async connectDrawer(url: string | URL): Promise<Connected> {
    return (await import('./connect-panel.ts')).connectPanel(this, url);
  }

  /** Keys that replace the defaults, such as `{ merge: 'G', panel: 'Control+F9' }`; `null` for none. */
  set keys(keys: KeyChanges) {
    this.keymap = new Keymap(keys);
  }

  get language(): string {
    return this.lang || document.documentElement.lang || 'en-GB';
  }

  override connectedCallback(): void {
    super.connectedCallback();
    this.setAttribute('data-drawer', 'private');
    this.#listening = new AbortController();
    const { signal } = this.#listening;
    signal.addEventListener('abort', followCaret());
    const hearKeys = (page: EventTarget, until: AbortSignal): void =>
      page.addEventListener('keydown', this.#onPageKey as (event: Event) => void, { signal: until });
    inEachFrame(document, hearKeys, signal);
    document.addEventListener('copy', this.#onClipboard, { capture: true, signal });
    document.addEventListener('paste', this.#onClipboard, { capture: true, signal });
    if (this.#model) void this.attempt(async () => this.#model?.start());
    void this.#speak();
    void this.attempt(async () => {
      this.#chips ??= (await import('./chips.ts')).chipsOf(this);
      this.requestUpdate();
    });
  }

  override disconnectedCallback(): void {
    super.disconnectedCallback();
    this.#listening?.abort();
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

  /** Says what was kept; pass it to `capture` as `report`. */
  readonly report = (captured: Captured): void => void this.attempt(() => this.#report(captured));

  async #report(captured: Captured): Promise<void> {
    if (captured.kind === 'problem') throw captured.error;
    const { result, notes } = captured;
    this.#tellPage('drawer-keep', result);
    if (notes.length > 0) await this.words.load();
    const fact = [this.words.kept(result), this.words.notes(notes)].filter((each) => each !== undefined).join('. ');
    const model = this.#model;
    if ('position' in result && model && !model.isFinding) {
      // The list shows the slip before the message says it was kept.
      await model.refresh();
      this.#list.show(result.position - 1);
    }
    this.say(fact);
  }

  /** Shows and announces a short message; the same message again is announced again. */
  say(fact: string): void {
    // A live region is announced when its text changes.
    this.#said = fact === this.#said ? `${fact}\u200b` : fact;
    this.requestUpdate();
    this.#tellPage('drawer-say', fact);
  }

  /** Dispatches an event to the page; `false` if the page cancelled it. */
  #tellPage<K extends keyof PanelEvents>(type: K, detail: PanelEvents[K]['detail'], cancelable = false): boolean {
    return this.dispatchEvent(new CustomEvent(type, { detail, bubbles: true, composed: true, cancelable }));
  }

  async attempt(work: () => Promise<unknown>): Promise<void> {
    try {
      await work();
    } catch (error) {
      await this.#tell(error);
    }
  }

  async #tell(error: unknown): Promise<void> {
    if (error instanceof Cancelled) return;
    this.#tellPage('drawer-error', error);
    this.say(await problemInWords(this.words, error));
    if (!(error instanceof Refusal) && !DrawerError.is(error)) console.error(error);
  }

  async land(content: Content, media: Media, style?: PasteStyle): Promise<string> {
    const landing = style ?? this.model.settings?.style ?? 'local';
    if (!this.#tellPage('drawer-paste', { content, media, style: landing }, true)) throw new Cancelled();
    return (await this.pasteHandler(content, { media, style: landing, language: this.language })).name;
  }

  preview(content: Content, media: Media, style: PasteStyle): boolean {
    this.previewHandler?.(content, { media, style, language: this.language });
    return this.previewHandler !== undefined;
  }

  open(sheet: Sheet | undefined): void {
    this.previewHandler?.();
    // The focused element disappears with its sheet.
    const goesBack = this.#sheet !== undefined && this.matches(':focus-within');
    this.#sheet?.closed?.();
    this.#sheet = sheet;
    this.requestUpdate();
    void this.updateComplete.then(() => {
      if (sheet)
        this.renderRoot
          .querySelector<HTMLElement>(
            '.sheet :is(textarea, input:not([type=radio]:not(:checked)), select, button.main)',
          )
          ?.focus();
      else if (goesBack) this.#list.focus();
    });
  }

  redraw(): void {
    this.requestUpdate();
  }

  /** Focuses the list of slips. */
  override focus(): void {
    if (this.#sheet) this.renderRoot.querySelector<HTMLElement>('.sheet :is(textarea, input, select, button)')?.focus();
    else this.#list.focus();
  }

  /** Pastes the next snippet of the sequence at the caret. */
  pasteNext(): Promise<void> {
    return this.perform('pasteNext');
  }

  /** Runs calls in order, each after the one before it has ended. */
  inTurn(work: () => Promise<unknown>): Promise<void> {
    this.#keyed = this.#keyed.then(() => this.attempt(work));
    return this.#keyed;
  }

  // --- Keys ------------------------------------------------------------------------------------------------------------

  readonly #onPageKey = (event: KeyboardEvent): void => {
    if (event.defaultPrevented || !this.#model) return;
    const id = this.keymap.onPage(event);
    if (id === undefined) return;
    event.preventDefault();
    if (id === 'panel') this.focus();
    else void this.pasteNext();
  };

  #onListKey(event: KeyboardEvent): void {
    if (event.defaultPrevented) return;
    const walked = this.#list.walk(event);
    const id = walked ? undefined : this.keymap.inList(event);
    if (!walked && id === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    if (id !== undefined) void this.perform(id);
  }

  /** Runs a command like its key or button, on the chosen snippets or the active one. */
  async do(id: CommandId): Promise<void> {
    await commandOf(id).run(this);
  }

  perform(id: CommandId): Promise<void> {
    return this.inTurn(() => this.do(id));
  }

  chooseAtHand(): void {
    this.#list.chooseAtHand();
  }

  focusFind(): void {
    this.renderRoot.querySelector<HTMLElement>('.lip input')?.focus();
  }

  turnDensity(): void {
    this.model.isDense = !this.model.isDense;
    this.toggleAttribute('dense', this.model.isDense);
    this.requestUpdate();
  }

  leave(): void {
    if (this.model.chosen.length > 0) this.model.chooseOnly([]);
    else lastPlace()?.element.focus();
  }

  // --- Drag and drop, and the clipboard -----------------------------------------------------------------------------------

  /** With focus in the list, clipboard events mean slips, although browsers report the page's selection. */
  readonly #onClipboard = (event: ClipboardEvent): void => {
    if (this.#model === undefined || !this.#list.isFocused) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    if (event.type === 'copy') void this.attempt(() => this.actions.copy());
    else this.#gather(event.clipboardData);
  };

  #gather(transfer: DataTransfer | null): void {
    if (!transfer) return;
    const carried = carriedBy(transfer);
    void this.attempt(async () => {
      if (carried.files.length > 0 && carried.markup === '') {
        for (const file of carried.files) await this.actions.import(file);
        return;
      }
      const taken = await readCarried(carried);
      const results = await this.model.drawer.keep(
        taken.map(({ content, media, secret }) => ({ content, media, origin: {}, ...(secret && { secret }) })),
      );
      for (const [index, result] of results.entries())
        this.report({ kind: 'kept', result, notes: taken[index]?.notes ?? [] });
    });
  }

  // --- Rendering ----------------------------------------------------------------------------------------------------------

  protected override updated(): void {
    this.#list.measure();
    const chosen = this.#model?.chosen ?? [];
    if (chosen.join() === this.#chosen.join()) return;
    this.#chosen = chosen;
    this.#tellPage('drawer-selectionchange', chosen);
  }

  protected override render(): TemplateResult {
    const { words } = this;
    const { direction, language } = words.catalogue;
    return html`<div class="drawer" part="drawer" dir=${direction} lang=${language}>
      ${this.#model ? this.#toolbar.renderHead() : nothing}
      ${this.#sheet ? this.#renderSheet(this.#sheet) : this.#model ? this.#renderTray() : nothing}
      ${this.#model ? this.#toolbar.renderActions(this.#renderStatus()) : this.#renderStatus()}
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
        ${this.#chips?.() ?? nothing}
      </div>
      ${this.#list.render()}
      ${
        model.rows === 0 && model.sequence
          ? html`<p class="empty">${words.say(model.isFinding ? 'foundNone' : 'empty')}</p>`
          : nothing
      }
    </div>`;
  }

  /** Adds or removes a filter by kind or source. */
  async filter(term: string): Promise<void> {
    await this.model.filter(term);
    this.#list.show(0);
    this.#sayFound();
  }

  #sayFound(): void {
    const { rows } = this.model;
    this.say(rows === 0 ? this.words.say('foundNone') : this.words.say('found', { count: rows }));
  }

  #find(query: string): void {
    void this.attempt(async () => {
      await this.model.find(query);
      this.#list.show(0);
      if (this.model.isFinding) this.#sayFound();
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

  #renderStatus(): TemplateResult {
    return html`<p class="status" part="status" role="status" aria-live="polite" aria-label=${this.words.say('status')}>${this.#said}</p>`;
  }

  /** Listeners of the list of slips. */
  readonly listEvents = {
    key: (event: KeyboardEvent): void => this.#onListKey(event),
    drop: (transfer: DataTransfer | null): void => this.#gather(transfer),
    moved: (ids: readonly string[], position: number): void =>
      void this.attempt(() => this.actions.moveTo(ids, position)),
    pasted: (): void => void this.attempt(() => this.actions.paste()),
    menu: (place: MenuPlace): void => void this.attempt(() => this.#toolbar.openMenu('snippets', place)),
  };
}
