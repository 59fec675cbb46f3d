import { DrawerError } from '../../content/index.ts';
import { type Copied, type DesktopClipboard, mostBytes, type Offer, type Offering } from '../clipboard.ts';
import { Connection } from './connection.ts';
import { newValue, WindowEvents } from './events.ts';
import { Offered } from './offered.ts';
import { numbersIn } from './owned-selection.ts';
import { programOwning } from './programs.ts';

/** What a program says of its copy rather than with it (ICCCM, section 2.6.2). */
const aboutIt = new Set(['TARGETS', 'TIMESTAMP', 'MULTIPLE', 'SAVE_TARGETS', 'DELETE', 'INSERT_SELECTION']);
/** By then a compositor has heard who owns the clipboard, in milliseconds. */
const heardWithin = 400;
/** The XFIXES extension tells of all three ways in which a selection changes hands. */
const everyChange = 7;

/** The clipboard of an X server: the selection CLIPBOARD (Inter-Client Communication Conventions Manual 2.0, section 2). */
export class X11Clipboard implements DesktopClipboard {
  readonly system = 'X11';
  readonly hearsPastes = true;
  readonly ended: Promise<void>;
  readonly #server: Connection;
  readonly #clipboard: number;
  readonly #offers = new Set<Offered>();
  /** Windows that own it for us, or are about to. */
  readonly #ours = new Set<number>();

  readonly #needsFocus: boolean;

  private constructor(server: Connection, clipboard: number, needsFocus: boolean) {
    this.#needsFocus = needsFocus;
    this.#server = server;
    this.ended = server.ended;
    this.#clipboard = clipboard;
  }

  /**
   * @param needsFocus - whether the desktop listens only to programs that have the keyboard: those of Wayland
   * @throws DrawerError `storage` where there is no such server
   */
  static async open(display: string, { needsFocus = false } = {}): Promise<X11Clipboard> {
    const server = await Connection.open(display);
    return new X11Clipboard(server, await server.atom('CLIPBOARD'), needsFocus);
  }

  async copied(): Promise<Copied | undefined> {
    const answer = await this.#ask('TARGETS');
    if (!answer) return undefined;
    const names = await Promise.all([...numbersIn(answer)].map((atom) => this.#server.nameOf(atom)));
    const program = await programOwning(this.#server, await this.#server.owner(this.#clipboard));
    return {
      forms: names.filter((name) => !aboutIt.has(name)),
      read: (form) => this.#ask(form),
      ...(program && { program }),
    };
  }

  async watch(onCopy: () => void): Promise<() => void> {
    const window = this.#server.window();
    const stop = this.#server.hear((event) => {
      const isTold = event.name === 'SelectionNotify' && event.subtype !== undefined;
      if (!isTold || event.selection !== this.#clipboard || event.owner === 0) return;
      // What we offer ourselves is no copy.
      if (!this.#ours.has(event.owner)) onCopy();
    });
    const fixes = await this.#server.fixes();
    fixes.SelectSelectionInput(window, this.#clipboard, everyChange);
    await this.#server.settle();
    return () => {
      stop();
      this.#server.destroy(window);
    };
  }

  async offer(offering: Offering, onPasted?: () => void): Promise<Offer> {
    const shown = this.#needsFocus ? await this.#takeFocus() : undefined;
    const offered = await Offered.start(this.#server, this.#clipboard, this.#ours, offering, onPasted);
    this.#offers.add(offered);
    if (shown !== undefined) setTimeout(() => this.#server.destroy(shown), heardWithin);
    void offered.gone.then(() => this.#offers.delete(offered));
    return offered;
  }

  /** @throws DrawerError `storage` where the desktop does not give the keyboard */
  async #takeFocus(): Promise<number> {
    const window = this.#server.window();
    if (await this.#server.takeFocus(window)) return window;
    this.#server.destroy(window);
    throw new DrawerError('storage/clipboard-not-given', { system: 'X11' });
  }

  async close(): Promise<void> {
    for (const offer of this.#offers) await offer.handOver();
    this.#server.close();
  }

  /** What the program gives that copied last; each question has a window of its own, so that late answers reach no other. */
  async #ask(form: string): Promise<Buffer | undefined> {
    const server = this.#server;
    const target = await server.atom(form);
    const property = await server.atom('DRAWER_ANSWER');
    const piecewise = await server.atom('INCR');
    const window = server.window();
    const events = new WindowEvents(server, window);
    try {
      server.convert(window, this.#clipboard, target, property, await server.time(window));
      const answered = await events.next((event) => event.name === 'SelectionNotify' && event.requestor === window);
      if (answered.property === 0) return undefined;
      const first = await server.takeProperty(window, property);
      if (first.type !== piecewise) return limited(first.data);
      const pieces: Uint8Array[] = [];
      for (let size = 0; ; ) {
        await events.next(
          (event) => event.name === 'PropertyNotify' && event.atom === property && event.state === newValue,
        );
        const { data } = await server.takeProperty(window, property);
        if (data.length === 0) return Buffer.concat(pieces);
        pieces.push(data);
        size += data.length;
        if (size > mostBytes) limited({ length: size });
      }
    } finally {
      events.stop();
      server.destroy(window);
    }
  }
}

/** @throws DrawerError `too-large` */
function limited<T extends { readonly length: number }>(data: T): T {
  if (data.length <= mostBytes) return data;
  throw new DrawerError('too-large/clipboard-large', { most: mostBytes / 2 ** 20 });
}
