import { html, nothing, type TemplateResult } from 'lit';
import { type CommandId, commandIds, commandOf } from './commands.ts';
import type { PanelHost } from './host.ts';
import { icons } from './icons.ts';
import type { Menu, MenuPlace } from './menu.ts';

/** What the toolbar needs of its panel besides. */
export interface ToolbarHost extends PanelHost {
  readonly updateComplete: Promise<unknown>;
  readonly renderRoot: ParentNode;
  /** Runs a command after the ones before it have ended, and reports errors. */
  perform(id: CommandId): Promise<void>;
  /** Brings the keyboard to the list of slips. */
  focus(): void;
}

/** How a button looks. */
interface Look {
  readonly main?: boolean;
  readonly key?: string;
  readonly face?: TemplateResult | string;
}

/** The head of the drawer, its line of primary actions, and its two menus: of the whole drawer, and of snippets. */
export class Toolbar {
  readonly #host: ToolbarHost;
  #menu: Menu | undefined;

  constructor(host: ToolbarHost) {
    this.#host = host;
  }

  /** Opens the menu of the whole drawer, or of the chosen snippets or the one at hand. The first opening loads it. */
  async openMenu(group: 'snippets' | 'drawer', place: MenuPlace): Promise<void> {
    const { Menu } = await import('./menu.ts');
    this.#menu ??= new Menu(this.#host, () => this.#fullness());
    const ids = commandIds.filter((id) => {
      const command = commandOf(id);
      return command.group === group && (command.isOffered?.(this.#host) ?? true);
    });
    await this.#menu.open(group === 'drawer' ? 'withDrawer' : 'withSlips', ids, place);
  }

  renderHead(): TemplateResult {
    const { words, model } = this.#host;
    const isOpen = this.#menu?.isOpen === true;
    return html`<header class="head" part="head">
      <h2>${words.say('drawer')}</h2>
      <span class="count" title=${this.#fullness()}>${words.say('slipCount', { count: model.count })}</span>
      ${this.#button('undo', { face: icons.undo })}
      <button
        type="button"
        class="quiet"
        aria-haspopup="menu"
        aria-expanded=${isOpen}
        aria-label=${words.say('menu')}
        title=${words.say('withDrawer')}
        @click=${(event: Event) => void this.#host.attempt(() => this.openMenu('drawer', event.currentTarget as Element))}
      >
        ${icons.menu}
      </button>
      ${this.#menu?.render() ?? nothing}
    </header>`;
  }

  /** What was said last stands below it. */
  renderActions(status: TemplateResult): TemplateResult {
    const { keymap, words } = this.#host;
    return html`<div class="toolbar" part="toolbar">
      <div class="row">
        ${this.#button('paste', { main: true })} ${this.#button('merge')}
        ${this.#button('pasteNext', { key: keymap.words('next'), face: words.say('nextShort') })}
      </div>
      <p class="next">${this.#next()}</p>
      ${status}
    </div>`;
  }

  /** How full the drawer is, as far as that is known yet. */
  #fullness(): string {
    const { words, model } = this.#host;
    const { count, settings } = model;
    if (!settings) return '';
    const { capacity, size } = settings;
    return words.say('fullness', { count, capacity, bytes: words.bytes(model.bytes), size: words.bytes(size) });
  }

  #next(): string {
    const { words, model } = this.#host;
    const { next, position } = model.sequence ?? {};
    if (!next) return words.say('nextNone');
    return words.say('next', { position: String(position), preview: next.label ?? next.facts.preview });
  }

  /** A command's button; with a face, its phrase is its name for those who do not see it. */
  #button(id: CommandId, { main = false, key = '', face }: Look = {}): TemplateResult {
    const { words, model } = this.#host;
    const { phrase, phraseNow, can } = commandOf(id);
    const isOff = can !== undefined && !can(model);
    const chosen = model.chosen.length;
    return html`<button
      type="button"
      class=${main ? 'main' : id === 'undo' ? 'quiet' : ''}
      aria-label=${face === undefined ? nothing : words.say(phrase)}
      title=${face === undefined ? nothing : words.say(phrase)}
      aria-disabled=${isOff ? 'true' : nothing}
      aria-keyshortcuts=${key || nothing}
      @click=${() => {
        if (!isOff) void this.#host.perform(id);
      }}
    >
      ${face ?? (id === 'paste' && chosen > 0 ? words.say('do.pasteChosen', { count: chosen }) : words.say(phraseNow?.(model) ?? phrase))}
    </button>`;
  }
}
