import type { Event } from 'x11';
import type { Forms } from '../clipboard.ts';
import { type Connection, pieceSize } from './connection.ts';
import { deleted, WindowEvents } from './events.ts';

/** How long a keeper of clipboards may take, in milliseconds. */
const keeperPatience = 3_000;

/** The names that the protocol itself has for what is asked. */
const names = ['TARGETS', 'TIMESTAMP', 'MULTIPLE', 'INCR', 'ATOM', 'ATOM_PAIR', 'INTEGER'] as const;
type Atoms = Readonly<Record<(typeof names)[number], number>>;

interface Owning {
  /** Since when, as the server counts. */
  readonly time: number;
  /** Hears whose window was given one of the forms. */
  readonly onGiven: (requestor: number) => void;
}

/** A selection while it is ours: answers whoever asks, until another program copies something (ICCCM, section 2.2). */
export class OwnedSelection {
  readonly window: number;
  readonly gone: Promise<void>;
  readonly #server: Connection;
  readonly #selection: number;
  readonly #forms: ReadonlyMap<number, Uint8Array>;
  readonly #atoms: Atoms;
  readonly #owning: Owning;
  readonly #stop: () => void;
  #end: () => void = () => {};

  private constructor(
    server: Connection,
    selection: number,
    window: number,
    forms: ReadonlyMap<number, Uint8Array>,
    atoms: Atoms,
    owning: Owning,
  ) {
    this.#server = server;
    this.#selection = selection;
    this.window = window;
    this.#forms = forms;
    this.#atoms = atoms;
    this.#owning = owning;
    this.gone = new Promise((end) => {
      this.#end = end;
    });
    this.#stop = server.hear((event) => {
      if (event.owner !== window || event.selection !== selection) return;
      if (event.name === 'SelectionRequest') void this.#answer(event);
      if (event.name === 'SelectionClear') this.end();
    });
  }

  /** `undefined` where the server does not give it: another program has copied something since. */
  static async take(
    server: Connection,
    selection: number,
    window: number,
    forms: Forms,
    owning: Owning,
  ): Promise<OwnedSelection | undefined> {
    const numbers = await Promise.all(names.map((name) => server.atom(name)));
    const atoms = Object.fromEntries(names.map((name, at) => [name, numbers[at]])) as Atoms;
    const byAtom = new Map<number, Uint8Array>();
    for (const [name, bytes] of forms) byAtom.set(await server.atom(name), bytes);
    const owned = new OwnedSelection(server, selection, window, byAtom, atoms, owning);
    server.own(window, selection, owning.time);
    if ((await server.owner(selection)) === window) return owned;
    owned.end();
    return undefined;
  }

  async #answer(event: Event): Promise<void> {
    const { requestor, target, time } = event;
    // Programs of before 1994 name no property (ICCCM, section 2.2).
    const property = event.property === 0 ? target : event.property;
    const isGiven =
      target === this.#atoms.MULTIPLE
        ? await this.#giveSeveral(requestor, property)
        : this.#give(requestor, target, property);
    this.#server.send(requestor, {
      name: 'SelectionNotify',
      requestor,
      selection: this.#selection,
      target,
      property: isGiven ? property : 0,
      time,
    } as Event);
  }

  /** Puts one form into a property of whoever asked; `false` where there is none. */
  #give(requestor: number, target: number, property: number): boolean {
    const { TARGETS, TIMESTAMP, MULTIPLE, ATOM, INTEGER, INCR } = this.#atoms;
    const server = this.#server;
    if (target === TARGETS) {
      server.setProperty(requestor, property, ATOM, 32, words([TARGETS, TIMESTAMP, MULTIPLE, ...this.#forms.keys()]));
      return true;
    }
    if (target === TIMESTAMP) {
      server.setProperty(requestor, property, INTEGER, 32, words([this.#owning.time]));
      return true;
    }
    const bytes = this.#forms.get(target);
    if (!bytes) return false;
    if (bytes.length <= pieceSize) {
      server.setProperty(requestor, property, target, 8, bytes);
      this.#owning.onGiven(requestor);
    } else {
      server.hearProperties(requestor);
      const events = new WindowEvents(server, requestor);
      server.setProperty(requestor, property, INCR, 32, words([bytes.length]));
      void this.#giveInPieces({ requestor, property, target }, bytes, events);
    }
    return true;
  }

  /** Each piece when the one before it has been taken, and an empty one at the end (ICCCM, section 2.7.2). */
  async #giveInPieces(
    { requestor, property, target }: Pick<Event, 'requestor' | 'property' | 'target'>,
    bytes: Uint8Array,
    events: WindowEvents,
  ): Promise<void> {
    try {
      for (let from = 0; from < bytes.length + pieceSize; from += pieceSize) {
        await events.next(
          (event) => event.name === 'PropertyNotify' && event.atom === property && event.state === deleted,
        );
        this.#server.setProperty(requestor, property, target, 8, bytes.subarray(from, from + pieceSize));
        if (from >= bytes.length) return this.#owning.onGiven(requestor);
      }
    } catch {
      // Whoever asked has given up: it is told that there is no more.
      this.#server.setProperty(requestor, property, target, 8, new Uint8Array());
    } finally {
      events.stop();
    }
  }

  /** Pairs of a form and a property; what cannot be given is crossed out (ICCCM, section 2.6.2). */
  async #giveSeveral(requestor: number, property: number): Promise<boolean> {
    const { data } = await this.#server.takeProperty(requestor, property);
    const pairs = [...numbersIn(data)];
    for (let at = 0; at + 1 < pairs.length; at += 2)
      if (!this.#give(requestor, pairs[at] ?? 0, pairs[at + 1] ?? 0)) pairs[at + 1] = 0;
    this.#server.setProperty(requestor, property, this.#atoms.ATOM_PAIR, 32, words(pairs));
    return true;
  }

  /** Leaves it to the desktop's keeper of clipboards, where there is one (Clipboard Manager Specification 0.1). */
  async handOver(): Promise<void> {
    const server = this.#server;
    const keeper = await server.atom('CLIPBOARD_MANAGER');
    if ((await server.owner(keeper)) !== 0) {
      const [target, property] = [await server.atom('SAVE_TARGETS'), await server.atom('DRAWER_HANDED_OVER')];
      server.setProperty(this.window, property, this.#atoms.ATOM, 32, words([...this.#forms.keys()]));
      const events = new WindowEvents(server, this.window);
      const isTaken = events.next((event) => event.name === 'SelectionNotify' && event.selection === keeper);
      server.convert(this.window, keeper, target, property, await server.time(this.window));
      let timer: ReturnType<typeof setTimeout> | undefined;
      const late = new Promise((end) => {
        timer = setTimeout(end, keeperPatience);
      });
      await Promise.race([isTaken.catch(() => {}), late]);
      clearTimeout(timer);
      events.stop();
    }
    this.end();
  }

  /** Lets it go: the server takes the selection from a window that is no more. */
  end(): void {
    this.#stop();
    this.#server.destroy(this.window);
    this.#end();
  }
}

const words = (numbers: readonly number[]): Uint8Array => new Uint8Array(Uint32Array.from(numbers).buffer);

/** Numbers of 32 bits, as the server gives them to this machine. */
export const numbersIn = (data: Uint8Array): Uint32Array =>
  new Uint32Array(Uint8Array.from(data.subarray(0, data.length - (data.length % 4))).buffer);
