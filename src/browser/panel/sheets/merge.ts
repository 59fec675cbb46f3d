import { html, type TemplateResult } from 'lit';
import {
  type Attribution,
  attributions,
  type Composed,
  type ComposeJoin,
  type ComposeOptions,
  type ComposeOrder,
  compose,
  composeJoins,
  composeOrders,
  type Tidying,
  type TotalKind,
  tidyings,
  totalKinds,
} from '../../../compose/index.ts';
import { describe, type PasteStyle, pasteStyles, restyle } from '../../../content/index.ts';
import { loadDateFinder, type Snippet } from '../../../drawer/index.ts';
import type { SheetPhraseName } from '../../../messages/index.ts';
import { showContent } from '../../show/nodes.ts';
import { type PanelHost, pastedInWords, problemInWords, type Sheet } from '../host.ts';
import { choiceField, tickField, ticksField, wordsField } from './forms.ts';

const joins = [
  'auto',
  ...composeJoins.flatMap((join) => (join === 'sentence' ? [join, 'sentence-or'] : [join])),
  'text',
];

/** Several slips put together as one, seen before it is kept or pasted. */
export class MergeSheet implements Sheet {
  readonly title: string;
  readonly #host: PanelHost;
  readonly #snippets: readonly Snippet[];
  readonly #findDate: (words: string) => string | undefined;
  #join = 'auto';
  #between = '; ';
  #order: ComposeOrder = 'given';
  #around = '';
  #sources: Attribution = 'none';
  #tidy: ReadonlySet<string> = new Set();
  #totals: ReadonlySet<string> = new Set();
  #style: PasteStyle;
  #label = '';
  #takesOut = false;
  #made: Composed | undefined;
  #problem = '';
  #paper: DocumentFragment | undefined;

  private constructor(host: PanelHost, snippets: readonly Snippet[], findDate: (words: string) => string | undefined) {
    this.#host = host;
    this.#snippets = snippets;
    this.#findDate = findDate;
    this.#style = host.model.settings?.style ?? 'local';
    this.title = host.words.say('merge.title', { count: snippets.length });
  }

  static async of(host: PanelHost, snippets: readonly Snippet[]): Promise<MergeSheet> {
    const sheet = new MergeSheet(host, snippets, await loadDateFinder(host.language));
    await sheet.#compose();
    return sheet;
  }

  #options(): ComposeOptions {
    const join: ComposeJoin | undefined =
      this.#join === 'auto'
        ? undefined
        : this.#join === 'text'
          ? { text: this.#between.replaceAll('\\n', '\n').replaceAll('\\t', '\t') }
          : this.#join === 'sentence-or'
            ? 'sentence'
            : (this.#join as ComposeJoin);
    const { language, words } = this.#host;
    return {
      language,
      words: words.inDocuments(),
      timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone,
      order: this.#order,
      attribution: this.#sources,
      tidy: [...this.#tidy] as Tidying[],
      ...(join && { join }),
      ...(this.#join === 'sentence-or' && { last: 'or' as const }),
      ...(this.#around !== '' && { around: this.#around }),
      ...(this.#totals.size > 0 && { totals: [...this.#totals] as TotalKind[] }),
      findDate: this.#findDate,
    };
  }

  /** What cannot be put together so is said, and what was seen last stays. */
  async #compose(): Promise<void> {
    try {
      this.#made = compose(this.#snippets, this.#options());
      await this.#host.words.load();
      this.#problem = '';
      const { content } = this.#made;
      const media = await this.#host.model.mediaOf(content);
      this.#paper = showContent(restyle(content, this.#style), media);
      this.#host.preview(content, media, this.#style);
    } catch (error) {
      this.#problem = await problemInWords(this.#host.words, error);
    }
    this.#host.redraw();
  }

  #set(change: () => void): void {
    change();
    void this.#compose();
  }

  async #keep(): Promise<void> {
    const { model, words } = this.#host;
    if (!this.#made) return;
    const result = await model.drawer.merge({
      of: this.#snippets.map(({ id }) => id),
      content: this.#made.content,
      ...(this.#label !== '' && { label: this.#label }),
      takeOut: this.#takesOut,
    });
    model.chooseOnly([]);
    this.#host.open(undefined);
    if ('summary' in result) {
      const merged = words.say('merged', { position: result.position, what: words.size(result.summary.facts) });
      const held = this.#takesOut ? this.#snippets.filter((each) => each.held).length : 0;
      this.#host.say([merged, ...words.leaving({ held, erased: 0 })].join('. '));
    }
  }

  async #paste(): Promise<void> {
    const { model, words } = this.#host;
    if (!this.#made) return;
    const { content } = this.#made;
    const place = await this.#host.land(content, await model.mediaOf(content), this.#style);
    const idsOf = (isOnce: boolean): string[] =>
      this.#snippets.filter(({ secret }) => (secret === 'once') === isOnce).map(({ id }) => id);
    const spent = await model.drawer.spend(idsOf(true));
    const { held, erased } = this.#takesOut
      ? await model.drawer.remove(idsOf(false), { builtUp: true })
      : { held: 0, erased: 0 };
    model.chooseOnly([]);
    this.#host.open(undefined);
    const pasted = pastedInWords(words, this.#snippets.length, place);
    this.#host.say([pasted, ...words.leaving({ held, erased: erased + spent })].join('. '));
  }

  render(): TemplateResult {
    const { words } = this.#host;
    const tell = (prefix: string) => (choice: string) => words.say(`${prefix}.${choice}` as SheetPhraseName);
    const notes = this.#made && words.notes(this.#made.notes, { lead: 'noted' });
    return html`
      <div class="paper" dir="auto" tabindex="0" role="group" aria-label=${words.say('merge.preview')}>${this.#paper}</div>
      <p role="status" class=${this.#problem ? 'problem' : ''}>
        ${this.#problem || (this.#made && words.what(describe(this.#made.content)))}${notes ? `. ${notes}` : ''}
      </p>
      ${choiceField(words.say('merge.join'), this.#join, joins, tell('join'), (join) => this.#set(() => (this.#join = join)))}
      ${
        this.#join === 'text'
          ? wordsField(words.say('merge.joinText'), this.#between, (text) => this.#set(() => (this.#between = text)))
          : ''
      }
      ${choiceField(words.say('merge.order'), this.#order, composeOrders, tell('order'), (order) =>
        this.#set(() => (this.#order = order as ComposeOrder)),
      )}
      ${wordsField(words.say('merge.around'), this.#around, (around) => this.#set(() => (this.#around = around)), {
        placeholder: words.say('merge.aroundHint'),
      })}
      ${choiceField(words.say('merge.sources'), this.#sources, attributions, tell('sources'), (sources) =>
        this.#set(() => (this.#sources = sources as Attribution)),
      )}
      ${choiceField(words.say('merge.style'), this.#style, pasteStyles, tell('style'), (style) =>
        this.#set(() => (this.#style = style as PasteStyle)),
      )}
      ${ticksField(words.say('merge.tidy'), tidyings, tell('tidy'), this.#tidy, (tidy) => this.#set(() => (this.#tidy = tidy)))}
      ${ticksField(words.say('merge.totals'), totalKinds, tell('total'), this.#totals, (totals) =>
        this.#set(() => (this.#totals = totals)),
      )}
      ${wordsField(words.say('merge.label'), this.#label, (label) => {
        this.#label = label;
      })}
      ${tickField(words.say('merge.takeOut'), this.#takesOut, (takesOut) => {
        this.#takesOut = takesOut;
      })}
      <div class="row">
        <button type="button" class="main" @click=${() => this.#host.attempt(() => this.#keep())}>${words.say('merge.keep')}</button>
        <button type="button" @click=${() => this.#host.attempt(() => this.#paste())}>${words.say('merge.paste')}</button>
      </div>
    `;
  }
}
