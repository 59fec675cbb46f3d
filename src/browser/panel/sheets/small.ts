import { html, type TemplateResult } from 'lit';
import { splitContent } from '../../../content/index.ts';
import type { Listed } from '../../../drawer/index.ts';
import type { SheetPhraseName } from '../../../messages/index.ts';
import type { PanelHost, Sheet } from '../host.ts';
import { choiceField, wordsField } from './forms.ts';

const buttons = (host: PanelHost, yes: string): TemplateResult =>
  html`<div class="row">
    <button type="submit" class="main">${yes}</button>
    <button type="button" @click=${() => host.open(undefined)}>${host.words.say('cancel')}</button>
  </div>`;

/** A form that Enter sends off. */
const form = (host: PanelHost, fields: unknown, yes: string, action: () => Promise<unknown>): TemplateResult =>
  html`<form
    @submit=${(event: Event) => {
      event.preventDefault();
      void host.attempt(action);
    }}
  >
    ${fields} ${buttons(host, yes)}
  </form>`;

export class LabelSheet implements Sheet {
  readonly title: string;
  readonly #host: PanelHost;
  readonly #slip: Listed;
  #label: string;

  constructor(host: PanelHost, slip: Listed) {
    this.#host = host;
    this.#slip = slip;
    this.#label = slip.summary.label ?? '';
    this.title = host.words.say('label.title', { position: slip.position });
  }

  async #save(): Promise<void> {
    const { words, model } = this.#host;
    const [label, position] = [this.#label.trim(), this.#slip.position];
    await model.drawer.mark([this.#slip.summary.id], { label });
    this.#host.open(undefined);
    this.#host.say(label === '' ? words.say('unlabelled', { position }) : words.say('labelled', { position, label }));
  }

  render(): TemplateResult {
    const { words } = this.#host;
    const field = wordsField(words.say('label.text'), this.#label, (label) => {
      this.#label = label;
    });
    return form(this.#host, field, words.say('do.label'), () => this.#save());
  }
}

const ways = ['auto', 'paragraph', 'item', 'row', 'cell', 'text'] as const;

/** Several slips in the place of one. */
export class SplitSheet implements Sheet {
  readonly title: string;
  readonly #host: PanelHost;
  readonly #slip: Listed;
  #by: string = 'auto';
  #text = ';';

  constructor(host: PanelHost, slip: Listed) {
    this.#host = host;
    this.#slip = slip;
    this.title = host.words.say('split.title', { position: slip.position });
  }

  async #split(): Promise<void> {
    const { words, model } = this.#host;
    const { position, summary } = this.#slip;
    const { content } = await model.drawer.get(summary.id);
    const parts = splitContent(content, this.#by === 'auto' ? undefined : this.#by === 'text' ? this.#text : this.#by);
    if (parts.length < 2) return this.#host.say(words.say('splitNot', { position }));
    const { from, to } = await model.drawer.split(summary.id, parts, { was: content });
    model.chooseOnly([]);
    this.#host.open(undefined);
    this.#host.say(words.say('splitInto', { position: from, count: parts.length, last: to }));
  }

  render(): TemplateResult {
    const { words } = this.#host;
    const fields = html`${choiceField(
      words.say('split.by'),
      this.#by,
      ways,
      (way) => words.say(`split.${way}` as SheetPhraseName),
      (way) => {
        this.#by = way;
        this.#host.redraw();
      },
    )}
    ${
      this.#by === 'text'
        ? wordsField(words.say('split.text'), this.#text, (text) => {
            this.#text = text;
          })
        : ''
    }`;
    return form(this.#host, fields, words.say('do.split'), () => this.#split());
  }
}

/** Slips put behind another, as one with it. */
export class AppendSheet implements Sheet {
  readonly title: string;
  readonly #host: PanelHost;
  readonly #slips: readonly Listed[];
  #onto: string;

  constructor(host: PanelHost, slips: readonly Listed[]) {
    this.#host = host;
    this.#slips = slips;
    this.title = host.words.say('append.title');
    this.#onto = String(Math.max(1, (slips[0]?.position ?? 2) - 1));
  }

  async #append(): Promise<void> {
    const { words, model } = this.#host;
    const [onto] = await model.drawer.select([this.#onto]);
    if (!onto) return;
    const snippets = await model.whole(
      this.#slips.map(({ summary }) => summary.id).filter((id) => id !== onto.summary.id),
    );
    const gathered = await Promise.all(
      snippets.map(async ({ content, origin, takenAt, parts, secret }) => ({
        content,
        origin,
        takenAt,
        ...(parts && { parts }),
        ...(secret && { secret }),
        media: await model.mediaOf(content),
      })),
    );
    await model.drawer.append(gathered, { onto: onto.summary.id, takeOut: snippets.map(({ id }) => id) });
    model.chooseOnly([]);
    this.#host.open(undefined);
    const { facts } = await model.drawer.get(onto.summary.id);
    this.#host.say(
      words.say('appended', { position: await model.drawer.positionOf(onto.summary.id), what: words.size(facts) }),
    );
  }

  render(): TemplateResult {
    const { words } = this.#host;
    const field = wordsField(words.say('append.onto', { count: this.#slips.length }), this.#onto, (onto) => {
      this.#onto = onto.trim();
    });
    return form(this.#host, field, words.say('do.append'), () => this.#append());
  }
}

/** A passphrase to lock the drawer with, or to open it. */
export class LockSheet implements Sheet {
  readonly title: string;
  readonly #host: PanelHost;
  readonly #action: (passphrase: string) => Promise<unknown>;
  readonly #yes: string;
  readonly #hint: string;
  #passphrase = '';

  constructor(
    host: PanelHost,
    title: string,
    yes: string,
    hint: string,
    action: (passphrase: string) => Promise<unknown>,
  ) {
    this.#host = host;
    this.title = title;
    this.#yes = yes;
    this.#hint = hint;
    this.#action = action;
  }

  render(): TemplateResult {
    const { words } = this.#host;
    const field = html`<p>${this.#hint}</p>
      ${wordsField(
        words.say('lock.passphrase'),
        this.#passphrase,
        (passphrase) => {
          this.#passphrase = passphrase;
        },
        { type: 'password' },
      )}`;
    return form(this.#host, field, this.#yes, () => this.#action(this.#passphrase));
  }
}
