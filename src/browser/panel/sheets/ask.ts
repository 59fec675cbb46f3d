import { html, type TemplateResult } from 'lit';
import type { PanelHost, Sheet } from '../host.ts';

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
