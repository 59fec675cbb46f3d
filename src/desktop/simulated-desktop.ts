import type { Copied, DesktopClipboard, Forms, Offer, Offering, Program } from './clipboard.ts';
import { formsFor } from './offering.ts';

interface Held {
  readonly forms: () => Forms;
  readonly program?: Program;
  readonly offer?: SimulatedOffer;
}

/** A clipboard for tests and demonstrations, with programs that copy and paste as they are told. */
export class SimulatedDesktop implements DesktopClipboard {
  readonly system = 'Simulated';
  readonly hearsPastes = true;
  readonly ended: Promise<void>;
  readonly #listeners = new Set<() => void>();
  #held: Held | undefined;
  #inFront: Program | undefined;
  #end: () => void = () => {};

  constructor() {
    this.ended = new Promise((end) => {
      this.#end = end;
    });
  }

  /** A program comes to the front; `undefined` for none. */
  bringToFront(program: Program | undefined): void {
    this.#inFront = program;
  }

  /** The program in front copies something. */
  copy(forms: Forms): void {
    this.#hold({ forms: () => forms, ...(this.#inFront && { program: this.#inFront }) });
    for (const hear of [...this.#listeners]) hear();
  }

  /** The program in front pastes the first of these forms that there is; `undefined` where there is none. */
  paste(...wanted: readonly string[]): Uint8Array | undefined {
    const forms = this.#held?.forms();
    const found = wanted.find((form) => forms?.has(form));
    if (found === undefined) return undefined;
    this.#held?.offer?.onPasted?.();
    return forms?.get(found);
  }

  async copied(): Promise<Copied | undefined> {
    const held = this.#held;
    if (!held) return undefined;
    const { program } = held;
    const forms = held.forms();
    return {
      forms: [...forms.keys()],
      ...(program && { program }),
      // A program that has copied something since gives nothing of before.
      read: async (form) => (this.#held === held ? forms.get(form) : undefined),
    };
  }

  async watch(onCopy: () => void): Promise<() => void> {
    this.#listeners.add(onCopy);
    return () => void this.#listeners.delete(onCopy);
  }

  async offer(offering: Offering, onPasted?: () => void): Promise<Offer> {
    const offer = new SimulatedOffer(onPasted, () => {
      if (this.#held?.offer === offer) this.#hold(undefined);
    });
    this.#hold({ forms: () => formsFor(offering, this.#inFront), offer });
    return offer;
  }

  #hold(held: Held | undefined): void {
    const before = this.#held?.offer;
    this.#held = held;
    before?.lose();
  }

  async close(): Promise<void> {
    this.#end();
  }
}

class SimulatedOffer implements Offer {
  readonly gone: Promise<void>;
  readonly onPasted: (() => void) | undefined;
  readonly end: () => void;
  lose: () => void = () => {};

  constructor(onPasted: (() => void) | undefined, end: () => void) {
    this.onPasted = onPasted;
    this.end = end;
    this.gone = new Promise((lost) => {
      this.lose = lost;
    });
  }
}
