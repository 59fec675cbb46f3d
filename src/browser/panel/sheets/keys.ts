import { html, type TemplateResult } from 'lit';
import type { PhraseName } from '../../words/index.ts';
import type { PanelHost, Sheet } from '../host.ts';

/** Every key and what it does. */
export class KeysSheet implements Sheet {
  readonly title: string;
  readonly #host: PanelHost;
  readonly #inList: readonly (readonly [phrase: PhraseName, key: string])[];
  readonly #onPage: readonly (readonly [phrase: PhraseName, key: string])[];

  constructor(
    host: PanelHost,
    inList: readonly (readonly [PhraseName, string])[],
    onPage: readonly (readonly [PhraseName, string])[],
  ) {
    this.#host = host;
    this.#inList = inList;
    this.#onPage = onPage;
    this.title = host.words.say('keys.title');
  }

  render(): TemplateResult {
    const { words } = this.#host;
    const line = ([phrase, key]: readonly [PhraseName, string]): TemplateResult =>
      html`<dt><kbd dir="ltr">${key}</kbd></dt>
        <dd>${words.say(phrase, { count: 1 })}</dd>`;
    return html`<dl>${this.#inList.map(line)}</dl>
      <p>${words.say('keys.hint')}</p>
      <dl>${this.#onPage.map(line)}</dl>`;
  }
}
