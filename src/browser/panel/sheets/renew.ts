import { html, nothing, type TemplateResult } from 'lit';
import { changedLines } from '../../../content/index.ts';
import type { Renewal } from '../../../drawer/index.ts';
import type { PanelHost, Sheet } from '../host.ts';

type Changed = Renewal & { readonly kind: 'changed' };

/** What has changed in the files of snippets, and a button that takes it. */
export class RenewSheet implements Sheet {
  readonly title: string;
  readonly #host: PanelHost;
  readonly #renewals: readonly Renewal[];
  readonly #changed: readonly Changed[];
  readonly #done: () => void;

  /** @param done - called once they are renewed */
  constructor(host: PanelHost, renewals: readonly Renewal[], done: () => void) {
    this.#host = host;
    this.#renewals = renewals;
    this.#changed = renewals.filter((each): each is Changed => each.kind === 'changed');
    this.#done = done;
    this.title = host.words.say('renew.title');
  }

  async #renew(): Promise<void> {
    const { model, words } = this.#host;
    await model.drawer.renew(
      this.#changed.map(({ summary: { id }, content, media, was }) => ({ id, content, media, was })),
    );
    this.#done();
    this.#host.open(undefined);
    this.#host.say(words.say('did.renewed', { count: this.#changed.length }));
  }

  render(): TemplateResult {
    const { words } = this.#host;
    const count = this.#changed.length;
    return html`<form
      @submit=${(event: Event) => {
        event.preventDefault();
        void this.#host.attempt(() => this.#renew());
      }}
    >
      <ul class="renewals">
        ${this.#renewals.map((each) => this.#renderOne(each))}
      </ul>
      <div class="row">
        ${
          count === 0
            ? nothing
            : html`<button type="submit" class="main">${words.say('renew.take', { count })}</button>`
        }
        <button type="button" @click=${() => this.#host.open(undefined)}>${words.say('cancel')}</button>
      </div>
    </form>`;
  }

  #renderOne({ position, summary, ...found }: Renewal): TemplateResult {
    const { words } = this.#host;
    if (found.kind === 'same') return html`<li>${words.say('renew.same', { position })}</li>`;
    if (found.kind === 'unknown') {
      const problem = words.error(found.problem);
      return html`<li>${words.say('renew.not', { position, problem })}</li>`;
    }
    const what = `${words.size(summary.facts)}, ${words.origin(summary)}`;
    return html`<li>
      ${words.say('renew.changed', { position, what })}
      ${changedLines(found.was, found.content).map((line) =>
        line.startsWith('−') ? html`<del dir="auto">${line}</del>` : html`<ins dir="auto">${line}</ins>`,
      )}
    </li>`;
  }
}
