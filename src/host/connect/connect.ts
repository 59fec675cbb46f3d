import { bytesToHex } from '@noble/hashes/utils.js';
import ReconnectingWebSocket from 'partysocket/ws';
import { DrawerError } from '../../content/index.ts';
import { type CallOptions, ChangeEvents, checkOptions, type Drawer, entriesOf } from '../../drawer/index.ts';
import { type Calls, callsOf } from './channel.ts';
import {
  type ClientFunctions,
  type CopyTold,
  type DeskClipboard,
  type DeskFiles,
  type Forwarded,
  forwarded,
  type HostFunctions,
  unknownSession,
} from './protocol.ts';

/** Returns the passphrase of a locked drawer; receives the reason why it is needed. Throws to give up. */
export type PassphraseFor = (problem: DrawerError) => Promise<string>;

/** Options of `connectDrawer` and `connect`. */
export interface ConnectOptions {
  /** Asked for the passphrase of a locked drawer until it is right. Without it a locked drawer is refused. */
  readonly passphraseFor?: PassphraseFor;
  /** Hears when the connection is lost, and when it is back. */
  readonly onConnection?: (isConnected: boolean) => void;
  /** The constructor of WebSockets, where the platform has none of its own (Node 20): that of the package `ws`, for example. */
  readonly WebSocket?: unknown;
}

/** A drawer behind a connection, and the files beside it, where its host has some. */
export interface Connected {
  readonly drawer: Drawer;
  readonly files: DeskFiles;
  readonly clipboard: ConnectedClipboard;
}

/** The clipboard of the desktop that a host runs in, where it serves that. */
export interface ConnectedClipboard extends DeskClipboard {
  /** Calls back with each event of gathering; call the result to stop listening. */
  watch(hear: (told: CopyTold) => void): () => void;
}

/**
 * Connects to a drawer that a host serves. A lost connection comes back by itself; calls made meanwhile wait for it, and each
 * is done once. A `signal` ends a call until it is sent.
 * @param url - `ws:` or `wss:`
 * @throws DrawerError `storage` where nobody answers, `locked` without the right passphrase
 */
export const connectDrawer = async (url: string | URL, options?: ConnectOptions): Promise<Drawer> =>
  (await connect(url, options)).drawer;

/** As `connectDrawer`, with the files that the host lets be read and saved. */
export async function connect(url: string | URL, options: ConnectOptions = {}): Promise<Connected> {
  const line = new Line(String(url), options);
  try {
    await line.connected;
    await line.open();
  } catch (error) {
    line.close();
    throw error;
  }
  return { drawer: remoteDrawer(line), files: remoteFiles(line), clipboard: remoteClipboard(line) };
}

/** A session with a host, over as many connections as it takes. */
class Line {
  readonly #options: ConnectOptions;
  readonly #socket: ReconnectingWebSocket;
  readonly #watching = new Set<() => void>();
  readonly copyListeners = new Set<(told: CopyTold) => void>();
  #session!: string;
  #calls!: Calls<HostFunctions, ClientFunctions>;
  #isConnected = false;
  #isClosed = false;
  /** Hears how far a check is. */
  onChecked: ((done: number, all: number) => void) | undefined;
  /** Settles with the first connection. */
  readonly connected: Promise<void>;

  constructor(url: string, options: ConnectOptions) {
    this.#options = options;
    this.#begin();
    this.#socket = new ReconnectingWebSocket(() => this.#address(url), [], {
      minReconnectionDelay: 250,
      maxReconnectionDelay: 5_000,
      connectionTimeout: 20_000,
      maxEnqueuedMessages: 0, // the channel keeps what waits
      ...(options.WebSocket !== undefined && { WebSocket: options.WebSocket }),
    });
    this.#socket.binaryType = 'arraybuffer';
    this.#socket.addEventListener('message', ({ data }) =>
      this.#calls.channel.receive(new Uint8Array(data as ArrayBuffer)),
    );
    this.#socket.addEventListener('open', () => this.#found());
    this.#socket.addEventListener('close', ({ code }) => this.#lost(code));
    this.connected = new Promise((connected, failed) => {
      this.#socket.addEventListener('open', () => connected(), { once: true });
      const refused = (): void => failed(new DrawerError('storage/connection-refused', {}, { where: url }));
      this.#socket.addEventListener('error', refused, { once: true });
    });
  }

  /** What the other end does. @throws DrawerError `storage` when the line is closed */
  get host(): Calls<HostFunctions, ClientFunctions>['remote'] {
    if (this.#isClosed) throw new DrawerError('storage/drawer-closed');
    return this.#calls.remote;
  }

  /** A new session, in which nothing has been said yet. */
  #begin(): void {
    this.#session = bytesToHex(crypto.getRandomValues(new Uint8Array(16)));
    this.#calls = callsOf<HostFunctions, ClientFunctions>({
      changed: () => this.#tellChanged(),
      checked: (done, all) => this.onChecked?.(done, all),
      copied: (told) => {
        for (const hear of this.copyListeners) hear(told);
      },
    });
  }

  #address(url: string): string {
    const address = new URL(url);
    address.searchParams.set('session', this.#session);
    if (this.#calls.channel.hasReceived) address.searchParams.set('resumed', 'yes');
    return address.href;
  }

  #found(): void {
    this.#calls.channel.connect({ send: (frame) => void this.#socket.send(frame as Uint8Array<ArrayBuffer>) });
    this.#turn(true);
  }

  #lost(code: number): void {
    this.#calls.channel.connect(undefined);
    this.#turn(false);
    if (code !== unknownSession) return;
    this.#calls.remote.$close(new DrawerError('storage/connection-lost'));
    this.#begin();
    void this.open()
      .catch(() => {}) // the next call is told
      .then(() => this.#tellChanged());
  }

  #turn(isConnected: boolean): void {
    if (isConnected === this.#isConnected || this.#isClosed) return; // a wanted end is no loss
    this.#isConnected = isConnected;
    this.#options.onConnection?.(isConnected);
  }

  #tellChanged(): void {
    for (const changed of this.#watching) changed();
  }

  /** Has the host open its drawer. @throws DrawerError `locked` */
  async open(): Promise<void> {
    for (let passphrase: string | undefined; ; )
      try {
        return await this.#calls.remote.open(passphrase);
      } catch (error) {
        const { passphraseFor } = this.#options;
        if (!passphraseFor || !DrawerError.is(error) || error.code !== 'locked') throw error;
        passphrase = await passphraseFor(error);
      }
  }

  /** Calls back at every change; the result ends that. */
  watch(changed: () => void): () => void {
    this.#watching.add(changed);
    return () => void this.#watching.delete(changed);
  }

  /** Ends the session. */
  close(): void {
    this.#isClosed = true;
    this.#watching.clear();
    this.#calls.remote.$close(new DrawerError('storage/drawer-closed'));
    this.#socket.close();
  }
}

/** A signal counts until a call is sent; it and who hears of progress stay here. */
function withoutSignal(value: unknown): unknown {
  if (typeof value !== 'object' || value === null || !('signal' in value || 'onProgress' in value)) return value;
  const { signal: _, onProgress: __, ...rest } = checkOptions(value as CallOptions);
  return rest;
}

/** A drawer whose calls are done by the host of a line. */
function remoteDrawer(line: Line): Drawer {
  const calls = Object.fromEntries(
    forwarded.map((name) => [name, async (...values: unknown[]) => line.host.call(name, values.map(withoutSignal))]),
  ) as unknown as Pick<Drawer, Forwarded>;
  const watch = (changed: () => void): (() => void) => line.watch(changed);
  const events = new ChangeEvents({ watch, lastAction: calls.lastAction });
  const close = async (): Promise<void> => line.close();
  const noFiles = async (): Promise<never> => {
    throw new DrawerError('unsupported/files-not-here');
  };
  return {
    ...calls,
    cut: noFiles,
    writeFiles: noFiles,
    tie: noFiles,
    entries: (options = {}) => entriesOf(calls, options),
    check: async (options = {}) => {
      line.onChecked = checkOptions(options).onProgress;
      return line.host.check();
    },
    undo: async (options = {}) => {
      const { onlyFiles = false, onSkipped } = checkOptions(options);
      const { change, skipped } = await line.host.undo({ onlyFiles, skips: onSkipped !== undefined });
      for (const action of skipped) onSkipped?.(action);
      return change;
    },
    watch,
    addEventListener: (_, listener, options) => events.add(listener, options),
    removeEventListener: (_, listener) => events.remove(listener),
    close,
    [Symbol.asyncDispose]: close,
  };
}

const remoteFiles = (line: Line): DeskFiles => {
  const call = async (name: keyof DeskFiles, ...values: unknown[]) => line.host.files(name, values);
  return {
    facts: () => call('facts') as ReturnType<DeskFiles['facts']>,
    list: (path) => call('list', path) as ReturnType<DeskFiles['list']>,
    read: (path) => call('read', path) as ReturnType<DeskFiles['read']>,
    checkWritable: (path) => call('checkWritable', path) as Promise<void>,
    save: (path, after, before) => call('save', path, after, before) as Promise<void>,
    savedSince: (ids) => call('savedSince', ids) as ReturnType<DeskFiles['savedSince']>,
    renewals: (ids) => call('renewals', ids) as ReturnType<DeskFiles['renewals']>,
  };
};

const remoteClipboard = (line: Line): ConnectedClipboard => ({
  gathers: async () => (await line.host.clipboard('gathers', [])) as boolean,
  gather: async (isOn) => void (await line.host.clipboard('gather', [isOn])),
  offer: async (...given) => (await line.host.clipboard('offer', given)) as boolean,
  watch: (hear) => {
    line.copyListeners.add(hear);
    return () => void line.copyListeners.delete(hear);
  },
});
