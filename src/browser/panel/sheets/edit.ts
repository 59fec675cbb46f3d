import { html, type TemplateResult } from 'lit';
import { type Content, keepUnshown } from '../../../content/index.ts';
import type { Listed } from '../../../drawer/index.ts';
import { type EditForm, editForm } from '../../../formats/index.ts';
import { type PanelHost, Refusal, type Sheet } from '../host.ts';

/** A slip's words as Markdown; what Markdown does not show stays as it was. */
export class EditSheet implements Sheet {
  readonly title: string;
  readonly #host: PanelHost;
  readonly #slip: Listed;
  readonly #content: Content;
  readonly #form: EditForm;
  #text: string;

  private constructor(host: PanelHost, slip: Listed, content: Content, form: EditForm) {
    this.#host = host;
    this.#slip = slip;
    this.#content = content;
    this.#form = form;
    this.#text = form.text;
    this.title = host.words.say('edit.title', { position: slip.position });
  }

  static async of(host: PanelHost, slip: Listed): Promise<EditSheet> {
    if (slip.summary.secret) throw new Refusal('problem.hidden');
    const { content } = await host.model.drawer.get(slip.summary.id);
    return new EditSheet(host, slip, content, await editForm(content, await host.model.mediaOf(content)));
  }

  async #save(): Promise<void> {
    const { words, model } = this.#host;
    if (this.#text === this.#form.text) {
      this.#host.open(undefined);
      return this.#host.say(words.say('notEdited'));
    }
    const [shown, edited] = [await this.#form.read(this.#form.text), await this.#form.read(this.#text)];
    await model.drawer.edit(this.#slip.summary.id, keepUnshown(this.#content, shown.content, edited.content), {
      media: edited.media,
      was: this.#content,
    });
    this.#host.open(undefined);
    this.#host.say(words.say('edited', { position: this.#slip.position }));
  }

  render(): TemplateResult {
    const { words } = this.#host;
    return html`
      <textarea
        aria-label=${words.say('edit.text')}
        .value=${this.#text}
        @input=${(event: Event) => {
          this.#text = (event.target as HTMLTextAreaElement).value;
        }}
      ></textarea>
      <div class="row">
        <button type="button" class="main" @click=${() => this.#host.attempt(() => this.#save())}>${words.say('edit.save')}</button>
        <button type="button" @click=${() => this.#host.open(undefined)}>${words.say('cancel')}</button>
      </div>
    `;
  }
}
