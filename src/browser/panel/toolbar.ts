import { html, nothing, type TemplateResult } from 'lit';
import { type CommandId, commandIds, commandOf } from './commands.ts';
import type { PanelHost } from './host.ts';
import type { Keymap } from './keys.ts';

/** What the toolbar needs of its panel besides. */
export interface ToolbarHost extends PanelHost {
  readonly keymap: Keymap;
  /** Runs a command after the ones before it have ended, and reports errors. */
  perform(id: CommandId): Promise<void>;
}

/** The front of the drawer: its plate, its buttons, and behind the handle all others. */
export class Toolbar {
  readonly #host: ToolbarHost;
  #isOpen = false;

  constructor(host: ToolbarHost) {
    this.#host = host;
  }

  /** Puts what is behind the handle away. */
  shut(): void {
    this.#isOpen = false;
  }

  /** What was said last stands below it. */
  render(status: TemplateResult): TemplateResult {
    const { words, model, keymap } = this.#host;
    return html`<div class="toolbar" part="toolbar">
      <h2 class="plate" title=${this.#fullness()}>
        <span>${words.say('drawer')}</span><span>${words.say('slipCount', { count: model.count })}</span>
      </h2>
      <div class="row">
        ${this.#button('paste', { main: true })} ${this.#button('pasteAll')} ${this.#button('merge')}
        ${this.#button('undo')} ${this.#handle()}
      </div>
      <div class="row">
        <span class="said">${this.#next()}</span> ${this.#button('pasteNext', { key: keymap.words('next') })}
      </div>
      <div id="more" role="group" aria-label=${words.say('moreOf')} ?hidden=${!this.#isOpen}>
        ${this.#isOpen ? this.#more() : nothing}
      </div>
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

  #handle(): TemplateResult {
    return html`<button
      type="button"
      class="handle"
      aria-expanded=${this.#isOpen}
      aria-controls="more"
      @click=${() => {
        this.#isOpen = !this.#isOpen;
        this.#host.redraw();
      }}
    >
      ${this.#host.words.say('more')}
    </button>`;
  }

  #more(): TemplateResult {
    const { words } = this.#host;
    return html`
      <fieldset>
        <legend>${words.say('withSlips')}</legend>
        <div class="row">${this.#group('snippets')}</div>
      </fieldset>
      <fieldset>
        <legend>${words.say('withDrawer')}</legend>
        <div class="row">${this.#group('drawer')}</div>
        <p class="status">${this.#fullness()}</p>
      </fieldset>
    `;
  }

  #group(group: 'snippets' | 'drawer'): readonly TemplateResult[] {
    return commandIds.filter((id) => commandOf(id).group === group).map((id) => this.#button(id));
  }

  #button(id: CommandId, { main = false, key = '' } = {}): TemplateResult {
    const { words, model } = this.#host;
    const { phrase, phraseNow, can } = commandOf(id);
    const isOff = can !== undefined && !can(model);
    const chosen = model.chosen.length;
    return html`<button
      type="button"
      class=${main ? 'main' : ''}
      aria-disabled=${isOff ? 'true' : nothing}
      aria-keyshortcuts=${key || nothing}
      @click=${() => {
        if (!isOff) void this.#host.perform(id);
      }}
    >
      ${id === 'paste' && chosen > 0 ? words.say('do.pasteChosen', { count: chosen }) : words.say(phraseNow?.(model) ?? phrase)}
    </button>`;
  }
}
