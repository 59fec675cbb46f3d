import { html, type TemplateResult } from 'lit';
import type { PhraseName, SheetPhraseName } from '../../../messages/index.ts';
import { captureKeys } from '../../capture/capture.ts';
import { commandIds, commandOf } from '../commands.ts';
import type { PanelHost, Sheet } from '../host.ts';
import type { Keymap } from '../keys.ts';

type Line = readonly [phrase: PhraseName | SheetPhraseName, key: string];

/** Every key and what it does. */
export class KeysSheet implements Sheet {
  readonly title: string;
  readonly #host: PanelHost;
  readonly #keymap: Keymap;

  constructor(host: PanelHost, keymap: Keymap) {
    this.#host = host;
    this.#keymap = keymap;
    this.title = host.words.say('keys.title');
  }

  render(): TemplateResult {
    const { words } = this.#host;
    const inList = commandIds.map((id): Line => [commandOf(id).phrase, this.#keymap.words(id)]);
    return html`${this.#list([['keys.walk', '↑ ↓ Home End'], ...inList])}
      <p>${words.say('keys.hint')}</p>
      ${this.#list([
        ['keys.page.copy', 'Control+C'],
        ['keys.page.append', captureKeys.append],
        ['keys.page.send', captureKeys.send],
        ['keys.page.panel', this.#keymap.words('panel')],
        ['do.pasteNext', this.#keymap.words('next')],
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
