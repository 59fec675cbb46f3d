import { html, type TemplateResult } from 'lit';
import type { PhraseName, SheetPhraseName } from '../../../messages/index.ts';
import { captureKeys } from '../../capture/capture.ts';
import { commandIds, commandOf } from '../commands.ts';
import type { PanelHost, Sheet } from '../host.ts';

type Line = readonly [phrase: PhraseName | SheetPhraseName, key: string];

/** Every key and what it does. */
export class KeysSheet implements Sheet {
  readonly title: string;
  readonly #host: PanelHost;

  constructor(host: PanelHost) {
    this.#host = host;
    this.title = host.words.say('keys.title');
  }

  render(): TemplateResult {
    const { words, keymap } = this.#host;
    const inList = commandIds.map((id): Line => [commandOf(id).phrase, keymap.words(id)]);
    return html`${this.#list([['keys.walk', '↑ ↓ Home End'], ...inList])}
      <p>${words.say('keys.hint')}</p>
      ${this.#list([
        ['keys.page.copy', 'Control+C'],
        ['keys.page.append', captureKeys.append],
        ['keys.page.send', captureKeys.send],
        ['keys.page.panel', keymap.words('panel')],
        ['do.pasteNext', keymap.words('next')],
      ])}`;
  }

  #list(lines: readonly Line[]): TemplateResult {
    const { words } = this.#host;
    return html`<dl>
      ${lines
        .filter(([, key]) => key !== '')
        .map(
          ([phrase, key]) =>
            html`<dt><kbd dir="ltr">${key}</kbd></dt>
              <dd>${words.say(phrase, { count: 1 })}</dd>`,
        )}
    </dl>`;
  }
}
