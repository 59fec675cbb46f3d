import { type Content, DrawerError, type PasteStyle } from '../../content/index.ts';
import type { DrawerChange, Listed, Mark, Snippet } from '../../drawer/index.ts';
import type { PhraseName } from '../../messages/index.ts';
import { type PanelHost, pastedInWords, problemInWords, Refusal, subjectOf } from './host.ts';
import { AskSheet } from './sheets/forms.ts';

/** So many snippets are read at once. */
const few = 100;

const idsOf = (listed: readonly Listed[]): string[] => listed.map(({ summary }) => summary.id);

/** What commands do at once, each with what is said when it is done. */
export class Actions {
  readonly #host: PanelHost;

  constructor(host: PanelHost) {
    this.#host = host;
  }

  /** Pastes the chosen slips in the order chosen, or the one at hand. */
  async paste(): Promise<void> {
    await this.pasteIds(idsOf(await subjectOf(this.#host)));
    this.#host.model.chooseOnly([]);
  }

  /** Shows how that will look, in each style, before it lands. */
  async pasteAs(): Promise<void> {
    const { PasteAsSheet } = await import('./sheets/paste-as.ts');
    await this.#host.words.load();
    await PasteAsSheet.open(this.#host, this);
  }

  async pasteAll(): Promise<void> {
    await this.pasteIds(idsOf(await this.#host.model.drawer.select(['all'])));
  }

  async pasteIds(ids: readonly string[], style?: PasteStyle): Promise<void> {
    const { model, words } = this.#host;
    if (ids.length === 0) throw new Refusal('problem.needOne');
    const snippets = await this.whole(ids);
    const content = await this.asOne(snippets);
    const place = await this.#host.land(content, await model.mediaOf(content), style);
    const spent = await this.#spend(snippets);
    this.#host.say([pastedInWords(words, snippets.length, place), ...spent].join('. '));
  }

  /** Snippets with what they hold; the reading of many is shown, and can be stopped. @throws DrawerError `refused` */
  async whole(ids: readonly string[]): Promise<readonly Snippet[]> {
    if (ids.length <= few) return this.#host.model.whole(ids);
    const { readMany } = await import('./sheets/progress.ts');
    return readMany(this.#host, ids);
  }

  /** The snippets as one, as pasting puts them together. */
  async asOne(snippets: readonly Snippet[]): Promise<Content> {
    const [only] = snippets;
    if (snippets.length === 1 && only) return only.content;
    const { compose } = await import('../../compose/index.ts');
    return compose(snippets, { language: this.#host.language }).content;
  }

  async #spend(snippets: readonly Snippet[]): Promise<readonly string[]> {
    const once = snippets.filter(({ secret }) => secret === 'once').map(({ id }) => id);
    const count = once.length === 0 ? 0 : await this.#host.model.drawer.spend(once);
    return count > 0 ? [this.#host.words.say('spent', { count })] : [];
  }

  /** Pastes what comes next in the sequence, and moves it on. */
  async pasteNext(): Promise<void> {
    const { model, words } = this.#host;
    const { next, position } = await model.drawer.sequence();
    if (!next) return this.#host.say(words.say('nextNone'));
    const snippet = await model.drawer.get(next.id);
    const place = await this.#host.land(snippet.content, await model.mediaOf(snippet.content));
    await model.drawer.moveSequence(position + 1);
    const spent = await this.#spend([snippet]);
    this.#host.say([pastedInWords(words, 1, place), ...spent, await this.#whatIsNext()].join('. '));
  }

  async chooseAll(): Promise<void> {
    const { model, words } = this.#host;
    await model.chooseAll();
    this.#host.say(words.say('chosen', { count: model.chosen.length }));
  }

  chooseNone(): void {
    const { model, words } = this.#host;
    model.chooseOnly([]);
    this.#host.say(words.say('chosen', { count: 0 }));
  }

  async step(by: 1 | -1 | 'start'): Promise<void> {
    const { drawer } = this.#host.model;
    const { position, count } = await drawer.sequence();
    await drawer.moveSequence(by === 'start' ? 1 : Math.max(1, Math.min(count + 1, position + by)));
    this.#host.say(await this.#whatIsNext());
  }

  async #whatIsNext(): Promise<string> {
    const { words, model } = this.#host;
    const { next, position, left } = await model.drawer.sequence();
    if (!next) return words.say('nextNone');
    return `${words.say('nowNext', { position, preview: next.label ?? next.facts.preview.slice(0, 60) })} (${words.say('left', { count: left })})`;
  }

  async copy(): Promise<void> {
    const { model, words } = this.#host;
    const snippets = await this.whole(idsOf(await subjectOf(this.#host)));
    const content = await this.asOne(snippets);
    await this.#host.copyHandler(
      content,
      await model.mediaOf(content),
      snippets.some(({ secret }) => secret !== undefined),
    );
    this.#host.say(words.say('copied', { count: snippets.length }));
  }

  async remove(): Promise<void> {
    await this.#removeAfterAsking(idsOf(await subjectOf(this.#host)));
  }

  async clear(): Promise<void> {
    const all = await this.#host.model.drawer.select(['all']);
    if (all.length > 0) await this.#removeAfterAsking(idsOf(all));
    else this.#host.say(this.#host.words.say('empty'));
  }

  /** What was built up of several goes only when somebody says so. */
  async #removeAfterAsking(ids: readonly string[], builtUp = false): Promise<void> {
    const { model, words } = this.#host;
    try {
      const { removed, held, erased } = await model.drawer.remove(ids, { builtUp });
      model.chooseOnly([]);
      const brings = removed > erased ? [words.say('undoBrings')] : [];
      const deleted = words.say('deleted', { count: removed });
      this.#host.say([deleted, ...words.leaving({ held, erased }), ...brings].join('. '));
      this.#host.open(undefined);
    } catch (error) {
      if (builtUp || !DrawerError.is(error) || error.code !== 'consent') throw error;
      this.#host.open(
        new AskSheet(this.#host, await problemInWords(words, error), words.say('do.delete'), () =>
          this.#removeAfterAsking(ids, true),
        ),
      );
    }
  }

  async undo(): Promise<void> {
    this.#sayTurned(await this.#host.model.drawer.undo(), 'undone', 'undoNone');
  }

  async redo(): Promise<void> {
    this.#sayTurned(await this.#host.model.drawer.redo(), 'redone', 'redoNone');
  }

  #sayTurned(turned: DrawerChange | undefined, done: PhraseName, nothing: PhraseName): void {
    const { words } = this.#host;
    if (!turned) return this.#host.say(words.say(nothing));
    const { action, gone = [] } = turned;
    const said = words.say(done, { action: words.action(action.name) });
    this.#host.say(gone.length > 0 ? `${said}. ${words.say('undoGone', { count: gone.length })}` : said);
  }

  async mark(mark: Mark, phrase: PhraseName): Promise<void> {
    const ids = idsOf(await subjectOf(this.#host));
    await this.#host.model.drawer.mark(ids, mark);
    this.#host.say(this.#host.words.say(phrase, { count: ids.length }));
  }

  /** Holds slips, or releases them where all are held. */
  async hold(): Promise<void> {
    const slips = await subjectOf(this.#host);
    const isHeld = slips.every(({ summary }) => summary.held);
    await this.mark({ held: !isHeld }, isHeld ? 'releasedNow' : 'heldNow');
  }

  /** Makes slips secret, or opens them where all are. */
  async hide(): Promise<void> {
    const slips = await subjectOf(this.#host);
    const isSecret = slips.every(({ summary }) => summary.secret);
    await this.mark({ secret: !isSecret }, isSecret ? 'openedNow' : 'hiddenNow');
  }

  /** Moves slips one place up or down, to the top or to the end. */
  async move(where: 'up' | 'down' | 'top' | 'end'): Promise<void> {
    const slips = await subjectOf(this.#host);
    const { count } = this.#host.model;
    const positions = slips.map(({ position }) => position);
    const [first, last] = [Math.min(...positions), Math.max(...positions)];
    const target = { up: first - 1, down: last + 2, top: 1, end: count + 1 }[where];
    const isThere = {
      up: first === 1,
      top: first === 1 && last === slips.length,
      down: last === count,
      end: last === count && first === count - slips.length + 1,
    }[where];
    if (isThere) return this.#host.say(this.#host.words.say('movedNot'));
    await this.moveTo(idsOf([...slips].sort((one, other) => one.position - other.position)), target);
  }

  /** Moves slips in front of the one at a position, from 1. */
  async moveTo(ids: readonly string[], position: number): Promise<void> {
    const { model, words } = this.#host;
    await model.drawer.move(ids, position);
    await model.refresh();
    const [first] = ids;
    const now = first === undefined ? position : await model.drawer.positionOf(first);
    if (!model.isFinding) model.activate(now - 1);
    this.#host.say(words.say('moved', { count: ids.length, position: now }));
  }

  async pause(isPaused: boolean): Promise<void> {
    const { drawer } = this.#host.model;
    if (isPaused) await drawer.changeSettings({ paused: 'told' });
    else await drawer.forgetSettings(['paused']);
    this.#host.say(this.#host.words.say(isPaused ? 'paused' : 'resumed'));
  }

  /** Snippets as a file of our own form, secret ones left out. */
  async export(): Promise<void> {
    const { model } = this.#host;
    const { exportListed } = await import('./export-file.ts');
    await exportListed(
      this.#host,
      model.chosen.length > 0 ? await subjectOf(this.#host) : await model.drawer.select(['all']),
    );
  }

  /** Keeps what a file holds: snippets of a drawer by themselves, anything else as one. */
  async import(file: File): Promise<void> {
    const { model, words } = this.#host;
    const { gatherFile } = await import('../gather-file.ts');
    const results = await model.drawer.keep(await gatherFile(file));
    const count = results.filter(({ kind }) => kind === 'kept' || kind === 'moved').length;
    this.#host.say(words.say('imported', { count, file: file.name }));
  }
}
