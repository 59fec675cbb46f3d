import { html, type TemplateResult } from 'lit';
import { DrawerError } from '../../../content/index.ts';
import type { Snippet } from '../../../drawer/index.ts';
import type { PanelHost, Sheet } from '../host.ts';

/** How many snippets are read at once. */
const portion = 100;
/** How long work goes on before it is shown, in milliseconds. */
const showsAfter = 400;

/** How far work has come, and a way to stop it: also by putting the sheet away. */
class ProgressSheet implements Sheet {
  readonly title: string;
  readonly #host: PanelHost;
  readonly #count: number;
  done = 0;
  isStopped = false;

  constructor(host: PanelHost, count: number) {
    this.#host = host;
    this.#count = count;
    this.title = host.words.say('reading', { count });
  }

  render(): TemplateResult {
    return html`<progress max=${this.#count} .value=${this.done} aria-label=${this.title}></progress>
      <button type="button" class="main" @click=${() => this.#host.open(undefined)}>
        ${this.#host.words.say('stop')}
      </button>`;
  }

  closed(): void {
    this.isStopped = true;
  }
}

/** Reads many snippets, in their order. @throws DrawerError `refused` when it was stopped */
export async function readMany(host: PanelHost, ids: readonly string[]): Promise<readonly Snippet[]> {
  const sheet = new ProgressSheet(host, ids.length);
  const found: Snippet[] = [];
  const from = performance.now();
  let isShown = false;
  for (; found.length < ids.length && !sheet.isStopped; sheet.done = found.length) {
    found.push(...(await host.model.whole(ids.slice(found.length, found.length + portion))));
    if (!isShown && performance.now() - from > showsAfter) {
      isShown = true;
      host.open(sheet);
    } else if (isShown) host.redraw();
  }
  if (sheet.isStopped) throw new DrawerError('refused/stopped');
  if (isShown) host.open(undefined);
  return found;
}
