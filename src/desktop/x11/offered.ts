import { DrawerError } from '../../content/index.ts';
import type { Forms, Offer, Offering } from '../clipboard.ts';
import { formsFor } from '../offering.ts';
import type { Connection } from './connection.ts';
import { OwnedSelection } from './owned-selection.ts';
import { inFrontProperty, programInFront } from './programs.ts';

/** A program asks for several forms one after another; when it has asked for none for so long, it has pasted (milliseconds). */
const pasteTakes = 300;

/** Something offered, for as long as no other program copies: in the forms that suit whichever program is in front. */
export class Offered implements Offer {
  readonly gone: Promise<void>;
  readonly #server: Connection;
  readonly #selection: number;
  readonly #offering: Offering;
  readonly #onPasted: (() => void) | undefined;
  readonly #ours: Set<number>;
  #owned: OwnedSelection | undefined;
  #forms: Forms | undefined;
  #inFront: number | undefined;
  #hasEnded = false;
  #stop: () => void = () => {};
  #end: () => void = () => {};
  #timer: ReturnType<typeof setTimeout> | undefined;

  /** @param ours - the windows that own something for us, or are about to */
  private constructor(
    server: Connection,
    selection: number,
    ours: Set<number>,
    offering: Offering,
    onPasted: (() => void) | undefined,
  ) {
    this.#server = server;
    this.#selection = selection;
    this.#ours = ours;
    this.#offering = offering;
    this.#onPasted = onPasted;
    this.gone = new Promise((end) => {
      this.#end = end;
    });
  }

  /** @throws DrawerError `storage` where the server gives it to nobody now */
  static async start(
    server: Connection,
    selection: number,
    ours: Set<number>,
    offering: Offering,
    onPasted?: () => void,
  ): Promise<Offered> {
    const offered = new Offered(server, selection, ours, offering, onPasted);
    await offered.#own();
    if (!offered.#owned) throw new DrawerError('storage/clipboard-not-given', { system: 'X11' });
    await offered.#followFront();
    return offered;
  }

  /** Each ownership has forms of its own, since programs remember those of one. */
  async #followFront(): Promise<void> {
    const property = await this.#server.atom(inFrontProperty);
    let turn = Promise.resolve();
    this.#stop = this.#server.hear((event) => {
      if (event.name !== 'PropertyNotify' || event.wid !== this.#server.root || event.atom !== property) return;
      turn = turn.then(() => this.#own(event.time)).catch(() => this.end());
    });
    this.#server.hearProperties(this.#server.root);
  }

  /**
   * Owns it in the forms for the program in front.
   * @param time - server time of the focus change; the server refuses ownership if another program has copied since then
   */
  async #own(time?: number): Promise<void> {
    const server = this.#server;
    const front = await programInFront(server);
    this.#inFront = front?.process;
    const forms = formsFor(this.#offering, front?.program);
    if (forms === this.#forms || this.#hasEnded) return;
    const window = server.window();
    this.#ours.add(window);
    const before = this.#owned;
    this.#owned = undefined; // it gives way to ourselves: no end
    const owned = await OwnedSelection.take(server, this.#selection, window, forms, {
      time: time ?? (await server.time(window)),
      onGiven: (requestor) => void this.#noteGiven(requestor),
    });
    before?.end();
    if (!owned || this.#hasEnded) {
      owned?.end();
      this.#ours.delete(window);
      return this.end();
    }
    [this.#owned, this.#forms] = [owned, forms];
    void owned.gone.then(() => {
      this.#ours.delete(window);
      if (this.#owned === owned) this.end();
    });
  }

  /** A keeper of clipboards reads everything at once; that is no paste. */
  async #noteGiven(requestor: number): Promise<void> {
    if (!this.#onPasted) return;
    const asking = await this.#server.processOf(requestor);
    if (this.#inFront !== undefined && asking !== this.#inFront) return;
    clearTimeout(this.#timer);
    this.#timer = setTimeout(this.#onPasted, pasteTakes);
  }

  end(): void {
    this.#hasEnded = true;
    const owned = this.#owned;
    this.#owned = undefined;
    clearTimeout(this.#timer);
    this.#stop();
    owned?.end();
    this.#end();
  }

  /** Leaves it to the desktop's keeper of clipboards, where there is one. */
  async handOver(): Promise<void> {
    await this.#owned?.handOver();
    this.end();
  }
}
