import { DrawerError } from '../content/index.ts';
import type { Action, Drawer } from '../drawer/index.ts';
import { type Calls, callsOf } from './connect/channel.ts';
import {
  type ClientFunctions,
  type CopyTold,
  type DeskClipboard,
  type DeskFiles,
  type Forwarded,
  forwarded,
  type HostFunctions,
  unknownSession,
} from './connect/protocol.ts';
import type { HostClipboard } from './desk-clipboard.ts';

/** A WebSocket as the package `ws` gives it to a server. */
export interface ServerSocket {
  send(frame: Uint8Array): void;
  close(code?: number): void;
  on(event: 'message', listener: (data: Uint8Array) => void): unknown;
  on(event: 'close', listener: () => void): unknown;
}

/** What a host serves. */
export interface HostOptions {
  /** Opens the drawer; called until it succeeds. @throws DrawerError `locked` where it needs a passphrase, or another one */
  open(passphrase: string | undefined): Promise<Drawer>;
  /** The files beside the drawer, saved as actions of it. Without them clients have none. */
  files?(drawer: Drawer): DeskFiles;
  /** The clipboard of the desktop; `tell` is for all clients. Without it they have none. */
  clipboard?(drawer: Drawer, tell: (told: CopyTold) => void): HostClipboard;
  /** For how long a session outlasts its connection, in milliseconds. */
  readonly patience?: number;
  /** Hears how many sessions are connected, each time that changes. */
  onConnected?(count: number): void;
}

/** Serves one drawer to any number of clients that `connectDrawer` makes. It checks nobody's identity: accept only who may. */
export class DrawerHost {
  readonly #options: HostOptions;
  readonly #sessions = new Map<string, Session>();
  #drawer: Promise<Drawer> | undefined;
  #clipboard: HostClipboard | undefined;

  constructor(options: HostOptions) {
    this.#options = options;
  }

  /** Accepts a client. `address` is the path of its request with the query. */
  accept(socket: ServerSocket, address: string): void {
    const asked = new URL(address, 'ws://host').searchParams;
    const id = asked.get('session');
    const known = id === null ? undefined : this.#sessions.get(id);
    if (id === null || (!known && asked.has('resumed'))) return socket.close(unknownSession);
    const session =
      known ??
      new Session((passphrase) => this.#open(passphrase), {
        files: this.#options.files,
        clipboard: (drawer) => this.#clipboardOf(drawer),
      });
    this.#sessions.set(id, session);
    session.attach(socket);
    socket.on('close', () => {
      if (!session.detach(socket)) return;
      session.expireIn(this.#options.patience ?? 60_000, () => this.#sessions.delete(id));
      this.#options.onConnected?.(this.#connected);
    });
    this.#options.onConnected?.(this.#connected);
  }

  get #connected(): number {
    return [...this.#sessions.values()].filter(({ isConnected }) => isConnected).length;
  }

  #clipboardOf(drawer: Drawer): HostClipboard | undefined {
    this.#clipboard ??= this.#options.clipboard?.(drawer, (told) => {
      for (const session of this.#sessions.values()) session.tell(told);
    });
    return this.#clipboard;
  }

  /** Opens the drawer now. @throws DrawerError as `open` does */
  async open(): Promise<void> {
    await this.#open(undefined);
  }

  #open(passphrase: string | undefined): Promise<Drawer> {
    this.#drawer ??= this.#options.open(passphrase).catch((error: unknown) => {
      this.#drawer = undefined;
      throw error;
    });
    return this.#drawer;
  }

  /** Lets every client go and closes the drawer, when what was asked of it is done. */
  async close(): Promise<void> {
    for (const session of this.#sessions.values()) session.end();
    this.#sessions.clear();
    await this.#clipboard?.close();
    const drawer = await this.#drawer?.catch(() => undefined);
    await drawer?.close();
  }
}

/** What of a clipboard is served. */
const deskCalls: readonly string[] = ['gathers', 'gather', 'offer'] satisfies readonly (keyof DeskClipboard)[];

/** What a session has beside the drawer. */
interface Beside {
  readonly files: HostOptions['files'];
  clipboard(drawer: Drawer): HostClipboard | undefined;
}

/** A client's session, over as many connections as it takes. */
class Session {
  readonly #open: (passphrase: string | undefined) => Promise<Drawer>;
  readonly #beside: Beside;
  readonly #calls: Calls<ClientFunctions, HostFunctions>;
  #socket: ServerSocket | undefined;
  #unwatch: (() => void) | undefined;
  #expiry: NodeJS.Timeout | undefined;

  constructor(open: (passphrase: string | undefined) => Promise<Drawer>, beside: Beside) {
    this.#open = open;
    this.#beside = beside;
    this.#calls = callsOf<ClientFunctions, HostFunctions>(this.#functions());
  }

  get isConnected(): boolean {
    return this.#socket !== undefined;
  }

  attach(socket: ServerSocket): void {
    clearTimeout(this.#expiry);
    this.#socket?.close();
    this.#socket = socket;
    this.#calls.channel.connect(socket);
    socket.on('message', (data) => {
      try {
        this.#calls.channel.receive(new Uint8Array(data.buffer, data.byteOffset, data.byteLength));
      } catch {
        socket.close(1007); // no message of ours
      }
    });
  }

  /** Forgets a connection; tells whether it was the one in use. */
  detach(socket: ServerSocket): boolean {
    if (socket !== this.#socket) return false;
    this.#socket = undefined;
    this.#calls.channel.connect(undefined);
    return true;
  }

  expireIn(milliseconds: number, expired: () => void): void {
    this.#expiry = setTimeout(() => {
      this.end();
      expired();
    }, milliseconds);
    this.#expiry.unref();
  }

  tell(told: CopyTold): void {
    void this.#calls.remote.copied.asEvent(told);
  }

  end(): void {
    clearTimeout(this.#expiry);
    this.#unwatch?.();
    this.#calls.remote.$close();
    this.#socket?.close();
  }

  async #drawer(passphrase?: string): Promise<Drawer> {
    const drawer = await this.#open(passphrase);
    this.#unwatch ??= drawer.watch(() => void this.#calls.remote.changed.asEvent());
    return drawer;
  }

  #functions(): HostFunctions {
    return {
      open: async (passphrase) => void (await this.#drawer(passphrase)),
      call: async (name, values) => {
        if (!forwarded.includes(name)) throw new DrawerError('unsupported/call-unknown', { name: String(name) });
        return callOf(await this.#drawer(), name)(...values);
      },
      check: async () =>
        (await this.#drawer()).check({ onProgress: (done, all) => void this.#calls.remote.checked.asEvent(done, all) }),
      undo: async ({ onlyFiles, skips }) => {
        const skipped: Action[] = [];
        const drawer = await this.#drawer();
        const change = await drawer.undo({
          ...(onlyFiles && { onlyFiles }),
          ...(skips && { onSkipped: (action: Action) => skipped.push(action) }),
        });
        return { change, skipped };
      },
      files: async (name, values) => {
        const files = this.#beside.files?.(await this.#drawer());
        if (!files || !Object.hasOwn(files, name)) throw new DrawerError('unsupported/files-not-here');
        return (files[name] as (...values: readonly unknown[]) => Promise<unknown>)(...values);
      },
      clipboard: async (name, values) => {
        const clipboard = this.#beside.clipboard(await this.#drawer());
        if (!clipboard) throw new DrawerError('storage/clipboard-none');
        if (!deskCalls.includes(name)) throw new DrawerError('unsupported/call-unknown', { name: String(name) });
        return (clipboard[name] as (...values: readonly unknown[]) => Promise<unknown>)(...values);
      },
    };
  }
}

/** A call of a drawer by its name; the drawer itself checks what it is handed. */
const callOf = (drawer: Drawer, name: Forwarded) =>
  (drawer[name] as (...values: readonly unknown[]) => Promise<unknown>).bind(drawer);
