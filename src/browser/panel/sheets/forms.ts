import { html, type TemplateResult } from 'lit';
import type { PanelHost, Sheet } from '../host.ts';

/** A choice of one, by name; its words come from `tell`. */
export const choiceField = (
  label: string,
  value: string,
  choices: readonly string[],
  tell: (choice: string) => string,
  chosen: (choice: string) => void,
): TemplateResult =>
  html`<label
    >${label}<select
      .value=${value}
      @change=${(event: Event) => chosen((event.target as HTMLSelectElement).value)}
    >
      ${choices.map((choice) => html`<option value=${choice} ?selected=${choice === value}>${tell(choice)}</option>`)}
    </select></label
  >`;

/** Words to type. */
export const wordsField = (
  label: string,
  value: string,
  typed: (words: string) => void,
  { placeholder = '', type = 'text' }: { readonly placeholder?: string; readonly type?: 'text' | 'password' } = {},
): TemplateResult =>
  html`<label
    >${label}<input
      type=${type}
      autocomplete="off"
      placeholder=${placeholder}
      .value=${value}
      @input=${(event: Event) => typed((event.target as HTMLInputElement).value)}
  /></label>`;

/** A box to tick. */
export const tickField = (label: string, isTicked: boolean, ticked: (isTicked: boolean) => void): TemplateResult =>
  html`<label class="tick"
    ><input
      type="checkbox"
      .checked=${isTicked}
      @change=${(event: Event) => ticked((event.target as HTMLInputElement).checked)}
    />${label}</label
  >`;

/** Several boxes under one name. */
export const ticksField = (
  legend: string,
  choices: readonly string[],
  tell: (choice: string) => string,
  chosen: ReadonlySet<string>,
  changed: (chosen: ReadonlySet<string>) => void,
): TemplateResult =>
  html`<fieldset>
    <legend>${legend}</legend>
    <div class="ticks">
      ${choices.map((choice) =>
        tickField(tell(choice), chosen.has(choice), (isTicked) =>
          changed(new Set(isTicked ? [...chosen, choice] : [...chosen].filter((each) => each !== choice))),
        ),
      )}
    </div>
  </fieldset>`;

/** Something that is only done when it is said for certain. */
export class AskSheet implements Sheet {
  readonly title: string;
  readonly #host: PanelHost;
  readonly #yes: string;
  readonly #deed: () => Promise<unknown>;

  constructor(host: PanelHost, question: string, yes: string, deed: () => Promise<unknown>) {
    this.#host = host;
    this.title = yes;
    this.#yes = yes;
    this.#deed = deed;
    this.question = question;
  }

  readonly question: string;

  render(): TemplateResult {
    return html`<p>${this.question}</p>
      <div class="row">
        <button type="button" class="main" @click=${() => this.#host.attempt(this.#deed)}>${this.#yes}</button>
        <button type="button" @click=${() => this.#host.open(undefined)}>${this.#host.words.say('cancel')}</button>
      </div>`;
  }
}
