import { html, nothing, type TemplateResult } from 'lit';
import type { PhraseName } from '../../messages/index.ts';
import type { Deeds } from './deeds.ts';
import type { PanelHost } from './host.ts';
import { type Keymap, type PanelKey, phraseOf } from './keys.ts';
import type { Openings } from './openings.ts';

/** What the front needs of its panel besides. */
export interface FrontHost extends PanelHost {
  readonly keymap: Keymap;
  do(deed: PanelKey): Promise<void>;
  inTurn(work: () => Promise<unknown>): Promise<void>;
  pasteNext(): Promise<void>;
}

/** The front of the drawer: its plate, its buttons, and behind the handle all others. */
export class Front {
  readonly #host: FrontHost;
  readonly #deeds: Deeds;
  readonly #openings: Openings;
  #isOpen = false;

  constructor(host: FrontHost, deeds: Deeds, openings: Openings) {
    this.#host = host;
    this.#deeds = deeds;
    this.#openings = openings;
  }

  /** Puts what is behind the handle away. */
  shut(): void {
    this.#isOpen = false;
  }

  /** What was said last stands below it. */
  render(status: TemplateResult): TemplateResult {
    const { words, model, keymap } = this.#host;
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
          () => this.#host.inTurn(() => deeds.paste()),
          { main: true, off: none },
        )}
        ${this.#button(words.say('do.pasteAll'), () => deeds.pasteAll(), { off: none })}
        ${this.#button(words.say('do.merge'), () => this.#host.do('merge'), { off: chosen < 2 })}
        ${this.#button(words.say('do.undo'), () => this.#host.inTurn(() => deeds.undo()))}
        <button
          type="button"
          class="handle"
          aria-expanded=${this.#isOpen}
          aria-controls="more"
          @click=${() => {
            this.#isOpen = !this.#isOpen;
            this.#host.redraw();
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
        ${this.#button(words.say('do.pasteNext'), () => this.#host.pasteNext(), { off: !sequence?.next, key: keymap.words('next') })}
      </div>
      <div id="more" role="group" aria-label=${words.say('moreOf')} ?hidden=${!this.#isOpen}>
        ${this.#isOpen ? this.#more(isPaused, fullness) : nothing}
      </div>
      ${status}
    </div>`;
  }

  #button(phrase: string, deed: () => unknown, { main = false, off = false, key = '' } = {}): TemplateResult {
    return html`<button
      type="button"
      class=${main ? 'main' : ''}
      aria-disabled=${off ? 'true' : nothing}
      aria-keyshortcuts=${key || nothing}
      @click=${() => {
        if (!off) void this.#host.attempt(async () => deed());
      }}
    >
      ${phrase}
    </button>`;
  }

  #more(isPaused: boolean, fullness: string): TemplateResult {
    const { words, model } = this.#host;
    const deeds = this.#deeds;
    const none = model.rows === 0;
    const slip = model.atHand;
    const does = (key: PanelKey, phrase: PhraseName = phraseOf[key], off = none): TemplateResult =>
      this.#button(words.say(phrase), () => this.#host.inTurn(() => this.#host.do(key)), { off });
    const step = (phrase: PhraseName, by: 1 | -1 | 'start'): TemplateResult =>
      this.#button(words.say(phrase), () => this.#host.inTurn(() => deeds.step(by)), { off: none });
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
          ${does('redo', 'do.redo', false)} ${this.#button(words.say('do.rules'), () => this.#openings.rules())}
          ${this.#button(words.say(isPaused ? 'do.resume' : 'do.pause'), () => deeds.pause(!isPaused))}
          ${this.#button(words.say(model.drawer.isLocked() ? 'do.unlock' : 'do.lock'), () => this.#openings.lock())}
          ${this.#button(words.say('do.import'), () => this.#openings.files((file) => deeds.import(file)))}
          ${this.#button(words.say('do.export'), () => deeds.export(), { off: none })}
          ${this.#button(words.say('do.clear'), () => this.#openings.clear(() => deeds.clear()), { off: none })}
          ${does('help', 'do.help', false)}
        </div>
        <p class="status">${fullness}</p>
      </fieldset>
    `;
  }
}
