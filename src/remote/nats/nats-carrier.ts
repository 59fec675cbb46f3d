import {
  JetStreamApiCodes,
  JetStreamApiError,
  type JetStreamClient,
  type JetStreamManager,
  jetstream,
  jetstreamManager,
  StorageType,
  type StoredMsg,
} from '@nats-io/jetstream';
import { type ConnectionOptions, errors, headers, type MsgHdrs, type NatsConnection } from '@nats-io/nats-core';
import { concatBytes, utf8ToBytes } from '@noble/hashes/utils.js';
import { DrawerError } from '../../content/index.ts';
import {
  type CarriedFrame,
  type CarriedLog,
  type Carrier,
  type Compartment,
  deviceName,
  type FrameMark,
  markOf,
} from '../carrier.ts';

/** Headers of the messages of a frame: its mark, which of its pieces this is, and how many there are. */
const header = { mark: 'Drawer-Frame', piece: 'Drawer-Piece', pieces: 'Drawer-Pieces' } as const;
/** How long the server may take for a request, in milliseconds: three servers need some seconds to choose another leader. */
const patience = 15_000;
/** How long an answer to what is only read is waited for before it is asked for again, in milliseconds. */
const tryFor = 5_000;
/** How long a lost connection is waited for, in milliseconds. */
const backWithin = 5_000;
/** How long the end may take, in milliseconds. */
const patientEnd = 1_000;
/** Errors of several servers that have just been started: they know too few of one another to place a stream. */
const notYetPlaced = [10_005, 10_074];
/** Bytes of a message beside a piece. */
const around = 4_096;
/** How many servers keep a copy, where there are several. */
const copies = 3;

/** How a platform connects to a server. */
export interface Connects {
  /** The protocols of addresses that it can connect to, such as `tls:`. */
  readonly protocols: readonly string[];
  connect(options: ConnectionOptions): Promise<NatsConnection>;
}

/** What an address says. */
interface Address {
  /** As it may be shown. */
  readonly shown: string;
  readonly server: string;
  readonly name: string;
  readonly user: string | undefined;
  readonly secret: string | undefined;
}

/** A drawer on a NATS server with JetStream: one stream, with a subject for the lock, and under each key's name one for the log of each device and for each blob. */
export class NatsCarrier implements Carrier {
  readonly name: string;
  readonly #link: Link;
  readonly #store: NatsStore;
  readonly #subject: string;

  private constructor(shown: string, link: Link, store: NatsStore, subject: string) {
    this.name = shown;
    this.#link = link;
    this.#store = store;
    this.#subject = subject;
  }

  /**
   * @param address - `nats:`, `tls:`, `ws:` or `wss:`
   * @param token - what lets this device in, or its user's password, if the address does not hold it
   * @throws DrawerError `usage/sync-address-invalid`; `storage/sync-server-unreachable`, `sync-server-failed`;
   * `refused/sync-server-refused`
   */
  static async open(address: string, token: string | undefined, connects: Connects): Promise<NatsCarrier> {
    const { shown, server, name, user, secret } = parseAddress(address, token, connects);
    const credentials = secret === undefined ? {} : user === undefined ? { token: secret } : { user, pass: secret };
    return guardedBy(shown, async () => {
      const connection = await connects.connect({
        servers: server,
        name: 'drawer',
        inboxPrefix: `_INBOX.${name}`,
        maxReconnectAttempts: -1,
        reconnectTimeWait: 500,
        timeout: patience,
        ...(server.startsWith('tls:') && { tls: {} }),
        ...credentials,
      });
      try {
        const link = new Link(connection);
        const subject = `drawer.${name}`;
        return new NatsCarrier(shown, link, await NatsStore.open(link, `drawer-${name}`, subject), subject);
      } catch (error) {
        await connection.close();
        throw error;
      }
    });
  }

  guarded<T>(work: () => Promise<T>): Promise<T> {
    return guardedBy(this.name, work);
  }

  async findLock(): Promise<string | undefined> {
    return (await this.#store.last(this.#lockSubject))?.string();
  }

  async putLock(lock: string, before: string | undefined): Promise<void> {
    const subject = this.#lockSubject;
    const last = await this.#store.last(subject);
    if (last?.string() !== before) return;
    try {
      await this.#store.publish(subject, utf8ToBytes(lock), undefined, last?.seq ?? 0);
    } catch (error) {
      if (isOutOfOrder(error)) return; // another device has put one there
      throw error;
    }
    if (last) await this.#store.eraseMessage(last.seq);
  }

  compartment(key: string): Compartment {
    return new NatsCompartment(this.#store, `${this.#subject}.${key}`, this.name);
  }

  async removeCompartment(key: string): Promise<void> {
    for (const subject of await this.#store.subjects(`${this.#subject}.${key}.>`)) await this.#store.erase(subject);
  }

  watch(key: string, changed: () => void): () => void {
    const subjects = [`${this.#subject}.${key}.log.*`, this.#lockSubject];
    const heard = subjects.map((subject) => this.#link.connection.subscribe(subject, { callback: () => changed() }));
    // What was written while the server was away has not been told of.
    const unlisten = this.#link.onBack(changed);
    return () => {
      for (const each of heard) each.unsubscribe();
      unlisten();
    };
  }

  get #lockSubject(): string {
    return `${this.#subject}.lock`;
  }

  close(): Promise<void> {
    return this.#link.close();
  }
}

/** The logs and blobs of a stream that are sealed under one key. */
class NatsCompartment implements Compartment {
  readonly #store: NatsStore;
  readonly #subject: string;
  readonly #name: string;

  constructor(store: NatsStore, subject: string, name: string) {
    this.#store = store;
    this.#subject = subject;
    this.#name = name;
  }

  async devices(): Promise<readonly string[]> {
    const before = `${this.#subject}.log.`;
    const names = (await this.#store.subjects(`${before}*`)).map((subject) => subject.slice(before.length));
    return names.filter((name) => deviceName.test(name)).sort();
  }

  log(device: string): CarriedLog {
    return new NatsLog(this.#store, `${this.#subject}.log.${device}`, `${this.#name}/${device}`);
  }

  async findBlob(name: string): Promise<Uint8Array | undefined> {
    for await (const { bytes } of this.#store.frames(this.#blobSubject(name), 0)) return bytes;
    return undefined;
  }

  async hasBlob(name: string): Promise<boolean> {
    const last = await this.#store.last(this.#blobSubject(name));
    return last !== undefined && isLastPiece(last.header);
  }

  async putBlob(name: string, bytes: Uint8Array): Promise<void> {
    await this.#store.putFrame(this.#blobSubject(name), bytes, markOf(bytes).begin);
  }

  removeBlob(name: string): Promise<void> {
    return this.#store.erase(this.#blobSubject(name));
  }

  #blobSubject(name: string): string {
    return `${this.#subject}.blob.${name}`;
  }
}

/** @throws DrawerError `usage/sync-address-invalid` */
function parseAddress(address: string, token: string | undefined, { protocols }: Connects): Address {
  const url = URL.canParse(address) ? new URL(address) : undefined;
  const [, name = ''] = /^\/([a-z\d][a-z\d_-]{0,63})$/i.exec(url?.pathname ?? '') ?? [];
  if (!url?.hostname || name === '' || !protocols.includes(url.protocol))
    throw new DrawerError('usage/sync-address-invalid', {}, { where: address.replace(/\/\/[^/]*@/, '//') });
  const server = `${url.protocol}//${url.host}`;
  const [first, second] = [url.username, url.password].map((part) => (part === '' ? undefined : decoded(part)));
  // A single word before the server is a token; where another is at hand, it is the user that this is of.
  const secret = second ?? token ?? first;
  const user = second === undefined && token === undefined ? undefined : first;
  return { shown: `${server}/${name}`, server, name, user, secret };
}

/** Text with its percent signs decoded; as it is if they are not to be (RFC 3986, section 2.1). */
function decoded(part: string): string {
  try {
    return decodeURIComponent(part);
  } catch {
    return part;
  }
}

async function guardedBy<T>(where: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (cause) {
    throw problemOf(cause, where);
  }
}

/** What a failure of the server is called; other errors stay as they are. */
function problemOf(cause: unknown, where: string): unknown {
  if (typeof cause !== 'object' || cause === null || DrawerError.is(cause)) return cause;
  const { name, message, cause: under } = cause as Partial<Error>;
  const all = [cause, under];
  const isOneOf = (...kinds: readonly (new (...args: never[]) => Error)[]): boolean =>
    all.some((error) => kinds.some((kind) => error instanceof kind));
  const { AuthorizationError, PermissionViolationError, UserAuthenticationExpiredError } = errors;
  if (isOneOf(AuthorizationError, PermissionViolationError, UserAuthenticationExpiredError))
    return new DrawerError('refused/sync-server-refused', {}, { where, cause });
  const { ClosedConnectionError, ConnectionError, NoRespondersError, TimeoutError } = errors;
  // Over a WebSocket only words tell of a certificate.
  const isTls = ('code' in cause && /CERT|TLS|SSL/.test(String(cause.code))) || /certificate/i.test(message ?? '');
  if (isTls) return new DrawerError('storage/sync-server-failed', { detail: message ?? '' }, { where, cause });
  if (isOneOf(ClosedConnectionError, ConnectionError, TimeoutError) || 'syscall' in cause)
    return new DrawerError('storage/sync-server-unreachable', {}, { where, cause });
  if (isOneOf(NoRespondersError, JetStreamApiError) || /^JetStream/.test(name ?? ''))
    return new DrawerError('storage/sync-server-failed', { detail: message ?? '' }, { where, cause });
  return cause;
}

const isApiError = (error: unknown, code: JetStreamApiCodes): boolean =>
  error instanceof JetStreamApiError && error.code === code;

const isOutOfOrder = (error: unknown): boolean => isApiError(error, JetStreamApiCodes.StreamWrongLastSequence);

const isLastPiece = (of: MsgHdrs): boolean => of.get(header.piece) === of.get(header.pieces);

const pause = (milliseconds: number): Promise<void> => new Promise((done) => setTimeout(done, milliseconds));

/** A connection. What is asked waits until it is there, and fails at once when it is lost. */
class Link {
  readonly connection: NatsConnection;
  readonly #events = new EventTarget();
  #isLost = false;

  constructor(connection: NatsConnection) {
    this.connection = connection;
    void this.#listen();
  }

  async #listen(): Promise<void> {
    for await (const { type } of this.connection.status()) {
      if (type !== 'disconnect' && type !== 'reconnect') continue;
      this.#isLost = type === 'disconnect';
      this.#events.dispatchEvent(new Event(this.#isLost ? 'lost' : 'back'));
    }
  }

  /** Closes it, once all is written: closed while it writes to a server that is just going away, the client throws. */
  async close(): Promise<void> {
    const isWritten = this.#isLost ? undefined : this.asked(() => this.connection.flush());
    await Promise.race([isWritten?.catch(() => {}), pause(patientEnd)]);
    await this.connection.close();
  }

  /** Calls `back` whenever the connection is there again; returns a function that stops it. */
  onBack(back: () => void): () => void {
    this.#events.addEventListener('back', back);
    return () => this.#events.removeEventListener('back', back);
  }

  /** @throws TimeoutError; ConnectionError if the connection is lost, before the answer comes or for long */
  async asked<T>(request: () => Promise<T>): Promise<T> {
    if (this.#isLost) await this.#back();
    const isOver = new AbortController();
    const { signal } = isOver;
    const lost = new Promise<never>((_, fail) => {
      const end = (): void => fail(new errors.ConnectionError('lost'));
      this.#events.addEventListener('lost', end, { signal });
    });
    try {
      return await Promise.race([request(), lost]);
    } finally {
      isOver.abort();
    }
  }

  /** Waits until the connection is there again. @throws ConnectionError */
  #back(): Promise<void> {
    return new Promise((done, fail) => {
      const unlisten = this.onBack(() => {
        clearTimeout(late);
        unlisten();
        done();
      });
      const late = setTimeout(() => {
        unlisten();
        fail(new errors.ConnectionError('lost'));
      }, backWithin);
    });
  }
}

/** Asks again for what is only read: several servers that have no leader, for a while, answer nothing. */
async function read<T>(link: Link, request: () => Promise<T>): Promise<T> {
  for (const until = Date.now() + patience; ; )
    try {
      return await link.asked(request);
    } catch (error) {
      if (!(error instanceof errors.TimeoutError) || Date.now() > until) throw error;
    }
}

async function hasStream(link: Link, stream: string): Promise<boolean> {
  const manager = await jetstreamManager(link.connection, { timeout: 1_000, checkAPI: false });
  try {
    await read(link, () => manager.streams.info(stream));
    return true;
  } catch (error) {
    if (isApiError(error, JetStreamApiCodes.StreamNotFound)) return false;
    throw error;
  }
}

/** What is asked for of a stream: a message, the next one of a subject from there on, or its last one. */
type Query = { readonly seq: number; readonly next_by_subj?: string } | { readonly last_by_subj: string };

/** The messages of a stream, by subject. A frame that is larger than a message may be is several of them. */
class NatsStore {
  readonly #link: Link;
  readonly #client: JetStreamClient;
  readonly #manager: JetStreamManager;
  readonly #reader: JetStreamManager;
  readonly #stream: string;
  /** The most bytes of a piece. */
  readonly #most: number;

  private constructor(link: Link, manager: JetStreamManager, reader: JetStreamManager, stream: string) {
    const { connection } = link;
    this.#link = link;
    this.#client = jetstream(connection, { timeout: patience });
    this.#manager = manager;
    this.#reader = reader;
    this.#stream = stream;
    this.#most = (connection.info?.max_payload ?? 2 ** 20) - around;
  }

  /** Opens a stream, or makes it. */
  static async open(link: Link, stream: string, subject: string): Promise<NatsStore> {
    const { connection } = link;
    const manager = await jetstreamManager(connection, { timeout: patience, checkAPI: false });
    const wanted = {
      name: stream,
      subjects: [`${subject}.>`],
      storage: StorageType.File,
      num_replicas: connection.info?.cluster ? copies : 1,
    };
    for (const until = Date.now() + patience; !(await hasStream(link, stream)); await pause(500))
      await link
        .asked(() => manager.streams.add(wanted))
        .catch((error: unknown) => {
          const isEarly = notYetPlaced.some((code) => error instanceof JetStreamApiError && error.code === code);
          if (!isEarly || Date.now() > until) throw error;
        });
    const reader = await jetstreamManager(connection, { timeout: tryFor, checkAPI: false });
    return new NatsStore(link, manager, reader, stream);
  }

  /** The last message of a subject. */
  last(subject: string): Promise<StoredMsg | undefined> {
    return this.#found({ last_by_subj: subject });
  }

  at(sequence: number): Promise<StoredMsg | undefined> {
    return this.#found({ seq: sequence });
  }

  async #found(query: Query): Promise<StoredMsg | undefined> {
    return (await read(this.#link, () => this.#reader.streams.getMessage(this.#stream, query))) ?? undefined;
  }

  async subjects(filter: string): Promise<readonly string[]> {
    const asked = () => this.#reader.streams.info(this.#stream, { subjects_filter: filter });
    const { state } = await read(this.#link, asked);
    return Object.keys(state.subjects ?? {});
  }

  /** @param after - the last message of the subject has to be this one; otherwise nothing is kept. @returns its number */
  async publish(subject: string, bytes: Uint8Array, of: MsgHdrs | undefined, after?: number): Promise<number> {
    const options = {
      ...(of && { headers: of }),
      ...(after !== undefined && { expect: { lastSubjectSequence: after } }),
    };
    const { seq } = await this.#link.asked(() => this.#client.publish(subject, bytes, options));
    return seq;
  }

  /** Keeps a frame, in pieces if it is large. @returns the number of its last message */
  async putFrame(subject: string, frame: Uint8Array, mark: string, after?: number): Promise<number> {
    const pieces = Math.ceil(frame.length / this.#most);
    let last = 0;
    for (let piece = 0; piece < pieces; piece++) {
      const of = headers();
      of.set(header.mark, mark);
      of.set(header.piece, String(piece + 1));
      of.set(header.pieces, String(pieces));
      const bytes = frame.subarray(piece * this.#most, (piece + 1) * this.#most);
      last = await this.publish(subject, bytes, of, piece === 0 || after === undefined ? after : last);
    }
    return last;
  }

  /** The whole frames of a subject behind a message. */
  async *frames(subject: string, after: number): AsyncGenerator<CarriedFrame> {
    const open = new Map<string, Uint8Array[]>();
    for await (const { data, seq, header: of } of this.#messages(subject, after)) {
      const mark = of.get(header.mark);
      const pieces = [...(open.get(mark) ?? []), data];
      open.set(mark, pieces);
      if (!isLastPiece(of)) continue;
      open.delete(mark);
      if (pieces.length === Number(of.get(header.pieces))) yield { bytes: concatBytes(...pieces), end: seq };
    }
  }

  async *#messages(subject: string, after: number): AsyncGenerator<StoredMsg> {
    for (let at = after + 1; ; ) {
      const message = await this.#found({ seq: at, next_by_subj: subject });
      if (!message) return;
      yield message;
      at = message.seq + 1;
    }
  }

  /** Removes the messages of a subject; their bytes are overwritten. */
  async erase(subject: string): Promise<void> {
    for await (const { seq } of this.#messages(subject, 0)) await this.eraseMessage(seq);
  }

  async eraseMessage(sequence: number): Promise<void> {
    await this.#link.asked(() => this.#manager.streams.deleteMessage(this.#stream, sequence, true));
  }

  /** The last message of a subject behind another where there is no whole frame; `undefined` if there is one. */
  async lastOfHalf(subject: string, after: number): Promise<number | undefined> {
    for await (const _ of this.frames(subject, after)) return undefined;
    return (await this.last(subject))?.seq;
  }
}

class NatsLog implements CarriedLog {
  readonly name: string;
  readonly #store: NatsStore;
  readonly #subject: string;

  constructor(store: NatsStore, subject: string, name: string) {
    this.#store = store;
    this.#subject = subject;
    this.name = name;
  }

  read(from: number): AsyncIterable<CarriedFrame> {
    return this.#store.frames(this.#subject, from);
  }

  async has({ begin }: FrameMark, end: number): Promise<boolean> {
    const message = await this.#store.at(end);
    return message?.subject === this.#subject && message.header.get(header.mark) === begin;
  }

  async append(frame: Uint8Array, { begin }: FrameMark, at: number): Promise<number> {
    try {
      return await this.#store.putFrame(this.#subject, frame, begin, at);
    } catch (error) {
      const last = isOutOfOrder(error) ? await this.#store.lastOfHalf(this.#subject, at) : undefined;
      if (last === undefined) throw error;
      return this.#store.putFrame(this.#subject, frame, begin, last);
    }
  }

  remove(): Promise<void> {
    return this.#store.erase(this.#subject);
  }
}
