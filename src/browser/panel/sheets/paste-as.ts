import { html, type TemplateResult } from 'lit';
import { type Content, describe, type Media, type PasteStyle, pasteStyles, restyle } from '../../../content/index.ts';
import { showContent } from '../../show/nodes.ts';
import type { Actions } from '../actions.ts';
import { type PanelHost, type Sheet, subjectOf } from '../host.ts';

/** How something will look, seen before it lands: where it will land, as far as the page shows that, and in the sheet else. */
export class PasteAsSheet implements Sheet {
  readonly title: string;
  readonly #host: PanelHost;
  readonly #content: Content;
  readonly #media: Media;
  readonly #paste: (style: PasteStyle) => Promise<void>;
  #style: PasteStyle;
  #isShownThere = false;

  private constructor(host: PanelHost, content: Content, media: Media, paste: (style: PasteStyle) => Promise<void>) {
    this.#host = host;
    this.#content = content;
    this.#media = media;
    this.#paste = paste;
    this.#style = host.model.settings?.style ?? 'local';
    this.title = host.words.say('do.pasteAs');
  }

  /** Shows how the snippets chosen will look, or the one at hand. */
  static async open(host: PanelHost, actions: Actions): Promise<void> {
    const { model } = host;
    const ids = (await subjectOf(host)).map(({ summary }) => summary.id);
    const content = await actions.asOne(await actions.whole(ids));
    const sheet = new PasteAsSheet(host, content, await model.mediaOf(content), async (style) => {
      await actions.pasteIds(ids, style);
      model.chooseOnly([]);
    });
    host.open(sheet);
    sheet.show();
  }

  /** Shows the style that is chosen. */
  show(style: PasteStyle = this.#style): void {
    this.#style = style;
    this.#isShownThere = this.#host.preview(this.#content, this.#media, style);
    this.#host.redraw();
  }

  async #land(): Promise<void> {
    await this.#paste(this.#style);
    this.#host.open(undefined);
  }

  render(): TemplateResult {
    const { words } = this.#host;
    const styled = restyle(this.#content, this.#style);
    return html`
      <fieldset>
        <legend>${words.say('merge.style')}</legend>
        ${pasteStyles.map(
          (style) =>
            html`<label class="tick"
              ><input
                type="radio"
                name="style"
                .checked=${style === this.#style}
                @change=${() => this.show(style)}
              />${words.say(`style.${style}`)}</label
            >`,
        )}
      </fieldset>
      <p role="status">
        ${words.what(describe(styled))}${this.#isShownThere ? `. ${words.say('pasteAs.there')}` : ''}
      </p>
      ${
        this.#isShownThere
          ? ''
          : html`<div class="paper" dir="auto" tabindex="0" role="group" aria-label=${words.say('merge.preview')}>
              ${showContent(styled, this.#media)}
            </div>`
      }
      <div class="row">
        <button type="button" class="main" @click=${() => this.#host.attempt(() => this.#land())}>
          ${words.say('do.paste')}
        </button>
        <button type="button" @click=${() => this.#host.open(undefined)}>${words.say('cancel')}</button>
      </div>
    `;
  }
}
