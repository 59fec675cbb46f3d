import type { DrawerError } from '../../content/index.ts';
import type { Drawer, Listed } from '../../drawer/index.ts';
import { type PanelHost, Refusal, type Sheet, subjectOf } from './host.ts';
import { AskSheet } from './sheets/forms.ts';

/** The sheets of few fields, loaded when one is needed. */
const small = (): Promise<typeof import('./sheets/small.ts')> => import('./sheets/small.ts');

/** What commands ask for in a sheet before they do it. */
export class Dialogs {
  readonly #host: PanelHost;

  constructor(host: PanelHost) {
    this.#host = host;
  }

  async merge(): Promise<void> {
    const { model } = this.#host;
    if (model.chosen.length < 2) throw new Refusal('problem.needTwo');
    await this.#open(async () => {
      const { MergeSheet } = await import('./sheets/merge.ts');
      return MergeSheet.of(this.#host, await model.whole(model.chosen));
    });
  }

  append(): Promise<void> {
    return this.#open(async () => new (await small()).AppendSheet(this.#host, await subjectOf(this.#host)));
  }

  split(): Promise<void> {
    return this.#open(async () => new (await small()).SplitSheet(this.#host, await this.#one()));
  }

  edit(): Promise<void> {
    return this.#open(async () => {
      const { EditSheet } = await import('./sheets/edit.ts');
      return EditSheet.of(this.#host, await this.#one());
    });
  }

  label(): Promise<void> {
    return this.#open(async () => new (await small()).LabelSheet(this.#host, await this.#one()));
  }

  rules(): Promise<void> {
    return this.#open(async () => {
      const { RulesSheet } = await import('./sheets/rules.ts');
      return new RulesSheet(this.#host, await this.#host.model.drawer.settings());
    });
  }

  keys(): Promise<void> {
    return this.#open(async () => {
      const { KeysSheet } = await import('./sheets/keys.ts');
      return new KeysSheet(this.#host);
    });
  }

  /** Opens a sheet once its words are there. */
  async #open(make: () => Promise<Sheet>): Promise<void> {
    await this.#host.words.load();
    this.#host.open(await make());
  }

  /** Asks for a passphrase and locks the drawer, or takes its lock off. */
  async lock(): Promise<void> {
    const { model, words } = this.#host;
    const { drawer } = model;
    if (await drawer.isLocked()) {
      await drawer.unlock();
      return this.#host.say(words.say('unlockedNow'));
    }
    const { LockSheet } = await small();
    const [title, yes, hint] = [words.say('lock.title'), words.say('do.lock'), words.say('lock.hint')];
    this.#host.open(
      new LockSheet(this.#host, title, yes, hint, async (passphrase) => {
        await drawer.lock(passphrase);
        this.#host.open(undefined);
        this.#host.say(words.say('lockedNow'));
      }),
    );
  }

  /** Opens the drawer of that name that is locked, once its passphrase is given. */
  locked(name: string | undefined): Promise<Drawer> {
    return this.#withPassphrase(async (passphrase) => {
      const { openDrawer } = await import('../open-drawer.ts');
      return openDrawer(name, { passphrase });
    });
  }

  /** Asks for the passphrase of a drawer elsewhere; says what was wrong with the one before. */
  passphrase(problem: DrawerError): Promise<string> {
    const asked = this.#withPassphrase(async (passphrase) => passphrase);
    if (problem.reason !== 'drawer-locked') void this.#host.attempt(() => Promise.reject(problem));
    return asked;
  }

  /** Asks for the passphrase of a locked drawer until what it is needed for succeeds. */
  async #withPassphrase<T>(work: (passphrase: string) => Promise<T>): Promise<T> {
    const { words } = this.#host;
    const { LockSheet } = await small();
    return new Promise((done) => {
      const answer = async (passphrase: string): Promise<void> => {
        done(await work(passphrase));
        this.#host.open(undefined);
      };
      this.#host.open(new LockSheet(this.#host, words.say('lock.opening'), words.say('lock.open'), '', answer));
    });
  }

  /** A drawer that lasts as long as the page, where the browser keeps nothing; that is said. */
  async unkept(): Promise<Drawer> {
    const { createDrawer } = await import('../../storage/index.ts');
    this.#host.say(this.#host.words.say('problem.private'));
    return createDrawer();
  }

  clear(action: () => Promise<void>): void {
    const { words, model } = this.#host;
    const question = `${words.say('do.clear')}: ${words.say('slipCount', { count: model.count })}`;
    this.#host.open(new AskSheet(this.#host, question, words.say('do.clear'), action));
  }

  /** Lets files be chosen that are gathered from. */
  files(take: (file: File) => Promise<void>): void {
    const field = document.createElement('input');
    field.type = 'file';
    field.multiple = true;
    field.addEventListener('change', () => {
      void this.#host.attempt(async () => {
        for (const file of field.files ?? []) await take(file);
      });
    });
    field.click();
  }

  async #one(): Promise<Listed> {
    const { model } = this.#host;
    const slip = model.chosen.length === 1 ? (await subjectOf(this.#host))[0] : model.atHand;
    if (!slip) throw new Refusal('problem.needOne');
    return slip;
  }
}
