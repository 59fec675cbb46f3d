import { type Action, idOf } from './change.ts';
import { checkFunction, checkObject, checkSignal } from './schema.ts';

/** What an action, or its undo or redo, did to the snippets, by their ids. */
export interface DrawerChange {
  /** Its name, number and time, and the files that changed with it; `state` says whether it was done or undone. */
  readonly action: Omit<Action, 'changes'>;
  readonly added: readonly string[];
  readonly removed: readonly string[];
  /** Edited, labelled, held, moved and the like. */
  readonly changed: readonly string[];
  /** Of an undo or redo: snippets that it left out, since others have changed, removed or put them back. */
  readonly gone?: readonly string[];
}

/** Says that a drawer has changed, whichever program changed it. */
export interface DrawerChangeEvent extends Event {
  readonly type: 'change';
  /** The newest action; `undefined` where what changed is no action, such as a secret's end. */
  readonly change: DrawerChange | undefined;
  /** Whether that is all that has changed since the event before. */
  readonly isAll: boolean;
}

/** A listener of `change` events. */
export type ChangeListener = (event: DrawerChangeEvent) => void;

interface Listening {
  readonly once: boolean | undefined;
  /** Takes its listener off the signal. */
  forget(): void;
}

/** What tells of a drawer's changes. */
interface Watched {
  watch(watcher: () => void): () => void;
  lastAction(): Promise<Action | undefined>;
}

/** Turns what a drawer tells its watchers into events that say what changed. */
export class ChangeEvents {
  readonly #drawer: Watched;
  readonly #listeners = new Map<ChangeListener, Listening>();
  #seen: Promise<Action | undefined> | undefined;
  #unwatch: (() => void) | undefined;

  constructor(drawer: Watched) {
    this.#drawer = drawer;
  }

  /** @throws DrawerError `invalid` */
  add(listener: ChangeListener, options: Pick<AddEventListenerOptions, 'once' | 'signal'> = {}): void {
    checkFunction(listener, 'listener');
    const { once, signal } = checkObject(options, 'options');
    checkSignal(signal);
    if (signal?.aborted || this.#listeners.has(listener)) return;
    const remove = (): void => this.remove(listener);
    signal?.addEventListener('abort', remove);
    this.#listeners.set(listener, { once, forget: () => signal?.removeEventListener('abort', remove) });
    this.#unwatch ??= this.#watch();
  }

  remove(listener: ChangeListener): void {
    this.#listeners.get(listener)?.forget();
    this.#listeners.delete(listener);
    if (this.#listeners.size > 0) return;
    this.#unwatch?.();
    this.#unwatch = undefined;
  }

  #watch(): () => void {
    this.#seen = this.#drawer.lastAction();
    return this.#drawer.watch(() => {
      this.#seen = this.#tell(this.#seen);
      this.#seen.catch(() => {}); // a drawer that was closed meanwhile tells nothing any more
    });
  }

  async #tell(seen: Promise<Action | undefined> | undefined): Promise<Action | undefined> {
    const before = await seen;
    const now = await this.#drawer.lastAction();
    const [from, to] = [before?.number ?? 0, now?.number ?? 0];
    const newest = to > from ? now : to < from && before ? { ...before, state: 'undone' as const } : undefined;
    const isAll = Math.abs(to - from) <= 1;
    const facts = { change: newest && changeOf(newest), isAll };
    const event = Object.assign(new Event('change'), facts) as unknown as DrawerChangeEvent;
    for (const [listener, { once }] of [...this.#listeners]) {
      if (once) this.remove(listener);
      queueMicrotask(() => listener(event)); // what one throws is no concern of the others
    }
    return now;
  }
}

/** An action's changes take it back, the last first: what they remove was added by it. */
export function changeOf({ changes, ...action }: Action): DrawerChange {
  const types = new Map<string, string>();
  for (const change of changes.toReversed()) {
    const id = idOf(change);
    // One that leaves and comes again, as when it moves to the end, has changed.
    if (id !== undefined) types.set(id, types.has(id) ? 'update' : change.type);
  }
  const idsOf = (type: string): string[] => [...types].flatMap(([id, each]) => (each === type ? id : []));
  const [added, removed] = ['remove', 'insert'].map(idsOf) as [string[], string[]];
  const changed = [...types.keys()].filter((id) => !added.includes(id) && !removed.includes(id));
  return action.state === 'done'
    ? { action, added, removed, changed }
    : { action, added: removed, removed: added, changed };
}
