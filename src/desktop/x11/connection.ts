import { setTimeout as pass } from 'node:timers/promises';
import {
  createClient,
  type Event,
  type Extension,
  eventMask,
  type Property,
  type ResourceExtension,
  type XClient,
} from 'x11';
import { DrawerError } from '../../content/index.ts';

/** How much of a property is read or written at once, in bytes: the package packs a request's length in 16 bits. */
export const pieceSize = 128 * 1024;
/** How long a desktop may take to give a window the keyboard, in milliseconds. */
const focusComesWithin = 3_000;
/** Any type, of a property that is read (X11 protocol, GetProperty). */
const anyType = 0;

/** A connection to an X server, with answers as promises (X Window System Protocol, version 11). */
export class Connection {
  readonly #client: XClient;
  readonly root: number;
  readonly #atoms = new Map<string, Promise<number>>();
  readonly #names = new Map<number, Promise<string>>();
  readonly #heard = new Set<(event: Event) => void>();
  /** Comes when the server is gone, or the connection is closed. */
  readonly ended: Promise<void>;
  #resources: Promise<ResourceExtension> | undefined;

  private constructor(client: XClient, root: number) {
    this.#client = client;
    // The package has one table of atoms for all servers; each server has numbers of its own.
    client.atoms = { ...client.atoms };
    this.root = root;
    client.on('event', (event) => {
      for (const hear of [...this.#heard]) hear(event);
    });
    this.ended = new Promise((end) => client.on('end', end));
    // A window that is gone when it is answered is none of our faults.
    client.on('error', () => {});
  }

  /** @throws DrawerError `storage` where there is no such server, or it lets nobody in */
  static async open(display: string): Promise<Connection> {
    return new Promise((opened, failed) => {
      const fail = (cause: unknown): void =>
        failed(new DrawerError('storage/clipboard-not-reached', { system: 'X11', display }, { cause }));
      const client = createClient({ display }, (error, found) => {
        const root = found?.screen[0]?.root;
        if (error || root === undefined || !found) fail(error);
        else opened(new Connection(found.client, root));
      });
      client.on('error', fail);
    });
  }

  /** The number that the server has for a name. */
  atom(name: string): Promise<number> {
    const known = this.#atoms.get(name) ?? this.#answer<number>((done) => this.#client.InternAtom(false, name, done));
    this.#atoms.set(name, known);
    return known;
  }

  nameOf(atom: number): Promise<string> {
    const known = this.#names.get(atom) ?? this.#answer<string>((done) => this.#client.GetAtomName(atom, done));
    this.#names.set(atom, known);
    return known;
  }

  #answer<T>(ask: (done: (error: unknown, answer: T) => void) => void): Promise<T> {
    return new Promise((answered, failed) => ask((error, answer) => (error ? failed(error) : answered(answer))));
  }

  /** Hears what the server tells, until it is told to stop. */
  hear(listener: (event: Event) => void): () => void {
    this.#heard.add(listener);
    return () => this.#heard.delete(listener);
  }

  /** A window that is not seen, whose properties are heard of. */
  window(): number {
    const id = this.#client.AllocID();
    this.#client.CreateWindow(id, this.root, 0, 0, 2, 2, 0, 0, 0, 0, {
      backgroundPixel: 0,
      eventMask: eventMask.PropertyChange,
    });
    return id;
  }

  /** Shows a window of ours, which the keyboard goes to where the desktop lets it; `false` where it does not. */
  async takeFocus(window: number): Promise<boolean> {
    const focused = new Promise<true>((told) => {
      const stop = this.hear((event) => {
        if (event.name !== 'FocusIn' || event.wid !== window) return;
        stop();
        told(true);
      });
    });
    this.#client.ChangeWindowAttributes(window, { eventMask: eventMask.PropertyChange | eventMask.FocusChange });
    this.#client.MapWindow(window);
    this.#client.ClearArea(window, 0, 0, 0, 0, 0); // a compositor shows what is painted
    return Promise.race([focused, pass(focusComesWithin, false)]);
  }

  destroy(window: number): void {
    this.#client.DestroyWindow(window);
  }

  /** Hears of the properties of another program's window. */
  hearProperties(window: number): void {
    this.#client.ChangeWindowAttributes(window, { eventMask: eventMask.PropertyChange });
  }

  /** A property, which is deleted by that. */
  takeProperty(window: number, property: number): Promise<Pick<Property, 'type' | 'data'>> {
    return this.#read(1, window, property);
  }

  /** A property by its name, which stays; empty where there is none, or no such window. */
  async property(window: number, name: string): Promise<Uint8Array> {
    const property = await this.atom(name);
    return (await this.#read(0, window, property).catch(() => undefined))?.data ?? new Uint8Array();
  }

  async #read(deletes: 0 | 1, window: number, property: number): Promise<Pick<Property, 'type' | 'data'>> {
    const parts: Uint8Array[] = [];
    for (let read = 0; ; ) {
      const part = await this.#answer<Property>((done) =>
        this.#client.GetProperty(deletes, window, property, anyType, read / 4, pieceSize / 4, done),
      );
      parts.push(part.data);
      read += part.data.length;
      if (part.bytesAfter === 0) return { type: part.type, data: Buffer.concat(parts) };
    }
  }

  /** Sets a property of as many bytes as one piece has, at most. `format` is the bits of each number in it. */
  setProperty(window: number, property: number, type: number, format: 8 | 32, data: Uint8Array): void {
    this.#client.ChangeProperty(0, window, property, type, format, Buffer.from(data));
  }

  owner(selection: number): Promise<number> {
    return this.#answer((done) => this.#client.GetSelectionOwner(selection, done));
  }

  own(window: number, selection: number, time: number): void {
    this.#client.SetSelectionOwner(window, selection, time);
  }

  convert(window: number, selection: number, target: number, property: number, time: number): void {
    this.#client.ConvertSelection(window, selection, target, property, time);
  }

  send(window: number, event: Omit<Event, 'seq' | 'type'>): void {
    this.#client.SendEvent(window, 0, 0, { ...event, seq: 0 });
  }

  fixes(): Promise<Extension> {
    return this.#answer((done) => this.#client.require('fixes', done));
  }

  /** The number of the process that a window belongs to; `undefined` where the server does not know (X-Resource 1.2). */
  async processOf(window: number): Promise<number | undefined> {
    try {
      this.#resources ??= this.#answer<ResourceExtension>((done) => this.#client.require('res', done));
      const resources = await this.#resources;
      const asked = [{ client: window, mask: resources.ClientIdMask.LocalClientPID }];
      const [found] = await this.#answer<readonly { readonly value: readonly number[] }[]>((done) =>
        resources.QueryClientIds(asked, done),
      );
      return found?.value[0];
    } catch {
      return undefined; // it has gone meanwhile, or the server has no such extension
    }
  }

  /** What time it is for the server, which a window of ours is told (ICCCM, section 2.1). */
  async time(window: number): Promise<number> {
    const property = await this.atom('DRAWER_TIME');
    return new Promise((told) => {
      const stop = this.hear((event) => {
        if (event.name !== 'PropertyNotify' || event.wid !== window || event.atom !== property) return;
        stop();
        told(event.time);
      });
      // Nothing, put behind what there is.
      this.#client.ChangeProperty(2, window, property, property, 8, Buffer.alloc(0));
    });
  }

  /** Waits until the server has done all that was asked. */
  async settle(): Promise<void> {
    await this.#answer((done) => this.#client.GetInputFocus(done));
  }

  close(): void {
    this.#client.terminate();
  }
}
