import { html, type TemplateResult } from 'lit';
import { bytesInWords, DrawerError, type Join, pasteStyles } from '../../../content/index.ts';
import { onBlank, onRepeat, printDuration, rules, type Settings, whenFull } from '../../../drawer/index.ts';
import type { SheetPhraseName } from '../../../messages/index.ts';
import { type PanelHost, problemInWords, type Sheet } from '../host.ts';
import { AskSheet, choiceField, wordsField } from './forms.ts';

const choices: { readonly [name: string]: readonly string[] } = {
  full: whenFull,
  repeats: onRepeat,
  blanks: onBlank,
  style: pasteStyles,
  join: ['nothing', 'space', 'line', 'paragraph'],
};

/** The drawer's rules, each as the words that set it. */
export class RulesSheet implements Sheet {
  readonly title: string;
  readonly #host: PanelHost;
  readonly #before: ReadonlyMap<string, string>;
  readonly #values: Map<string, string>;

  constructor(host: PanelHost, settings: Settings) {
    this.#host = host;
    this.#before = new Map(rules.map(({ name }) => [name, wordsOf(name, settings)]));
    this.#values = new Map(this.#before);
    this.title = host.words.say('rules.title');
  }

  async #save(letGo = false): Promise<void> {
    const changed = [...this.#values].filter(([name, value]) => value !== this.#before.get(name));
    const settings: Partial<Settings> = Object.assign(
      {},
      ...changed.map(([name, value]) => rules.find((rule) => rule.name === name)?.parse(value.trim() || 'nothing')),
    );
    try {
      if (changed.length > 0) await this.#host.model.drawer.changeSettings(settings, { letGo });
    } catch (error) {
      if (letGo || !DrawerError.is(error) || error.code !== 'consent') throw error;
      const { words } = this.#host;
      return this.#host.open(
        new AskSheet(this.#host, await problemInWords(words, error), words.say('rules.letGo'), () => this.#save(true)),
      );
    }
    this.#host.open(undefined);
    this.#host.say(this.#host.words.say(changed.length > 0 ? 'rulesKept' : 'notEdited'));
  }

  render(): TemplateResult {
    const { words } = this.#host;
    return html`<form
      @submit=${(event: Event) => {
        event.preventDefault();
        void this.#host.attempt(() => this.#save());
      }}
    >
      ${rules.map(({ name }) => this.#field(name))}
      <div class="row">
        <button type="submit" class="main">${words.say('rules.save')}</button>
        <button type="button" @click=${() => this.#host.open(undefined)}>${words.say('cancel')}</button>
      </div>
    </form>`;
  }

  #field(name: string): TemplateResult {
    const { words } = this.#host;
    const label = words.say(`rule.${name}` as SheetPhraseName);
    const value = this.#values.get(name) ?? '';
    const set = (words: string): void => {
      this.#values.set(name, words);
    };
    const known = choices[name];
    if (!known) return wordsField(label, value, set);
    const all = known.includes(value) ? known : [...known, value];
    return choiceField(
      label,
      value,
      all,
      (choice) => (known.includes(choice) ? words.say(`${name}.${choice}` as SheetPhraseName) : `“${choice}”`),
      set,
    );
  }
}

/** A rule's value in the words that set it. */
function wordsOf(name: string, settings: Settings): string {
  const list = (words: readonly string[]): string => words.join(', ');
  const joinName = (join: Join): string => (typeof join === 'string' ? join : join.text);
  const values: Readonly<Record<string, string>> = {
    most: String(settings.capacity),
    size: bytesInWords(settings.size),
    full: settings.full,
    repeats: settings.repeats,
    blanks: settings.blanks,
    lasts:
      Object.entries(settings.lasts)
        .map(([shape, seconds]) => `${shape}:${printDuration(seconds)}`)
        .join(',') || 'never',
    ignore: list(settings.ignored),
    secret: list(settings.secretFrom),
    join: joinName(settings.join),
    style: settings.style,
    undo: String(settings.undoDepth),
  };
  return values[name] ?? '';
}
