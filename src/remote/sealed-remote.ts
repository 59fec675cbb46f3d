import { utf8ToBytes } from '@noble/hashes/utils.js';
import * as v from 'valibot';
import { DrawerError, parseWith } from '../content/index.ts';
import { checkPassphrase, type Encryption, hashOf } from '../drawer/index.ts';
import { type CarriedLog, type Carrier, type Compartment, deviceName, type FrameMark, markOf } from './carrier.ts';

/** How a platform seals and packs what is carried. */
export interface SealingTools {
  /** Makes a lock for a passphrase, as JSON. */
  newLock(passphrase: string): Promise<string>;
  /**
   * @param lock - as JSON
   * @throws DrawerError `locked/passphrase-wrong`; any error for what is no lock
   */
  openLock(lock: string, passphrase: string): Promise<{ readonly salt: string; readonly sealing: Encryption }>;
  /** DEFLATE (RFC 1951), without a header. */
  deflate(bytes: Uint8Array): Promise<Uint8Array>;
  /** @throws if it is more than `most` bytes, or not deflated */
  inflate(bytes: Uint8Array, most: number): Promise<Uint8Array>;
}

/** Where a log was read or written up to. */
export interface LogPosition {
  /** The end of the last frame, as its carrier counts. */
  readonly end: number;
  /** The number of frames up to there. */
  readonly frames: number;
  /** The last frame. */
  readonly last: FrameMark;
}

export const positionSchema: v.GenericSchema<unknown, LogPosition> = v.strictObject({
  end: v.number(),
  frames: v.number(),
  last: v.strictObject({ begin: v.string(), length: v.number() }),
});

export const logStart: LogPosition = { end: 0, frames: 0, last: { begin: '', length: 0 } };

/** What a device tells the others at once, and where that ends in its log. */
export interface Frame {
  /** How people call the device. */
  readonly name: string;
  readonly records: readonly unknown[];
  /** In the first one of a log: when that was begun, in milliseconds since 1970. */
  readonly begun?: number;
  /**
   * Logs that need not be there any more, by their devices' names, and how many frames of each were read: what they have told,
   * and was not deleted since, is in other logs, or in this one before this frame.
   */
  readonly replaced?: Readonly<Record<string, number>>;
  /** How people call devices that have written such logs. */
  readonly names?: Readonly<Record<string, string>>;
  readonly end: LogPosition;
}

/** `earlier`: the ids of the keys before this one. */
const lockSchema = v.strictObject({
  format: v.literal(1),
  lock: v.string(),
  earlier: v.optional(v.array(v.string()), []),
});
type LockText = v.InferOutput<typeof lockSchema>;
const count = v.pipe(v.number(), v.integer(), v.minValue(0));
const device = v.pipe(v.string(), v.regex(deviceName));
const name = v.pipe(v.string(), v.maxLength(100));
const contentSchema = v.strictObject({
  name,
  records: v.array(v.unknown()),
  begun: v.exactOptional(count),
  replaced: v.exactOptional(v.record(device, count)),
  names: v.exactOptional(v.record(device, name)),
});

/** More than any frame of ours, unpacked. */
const mostBytes = 2 ** 30;

/**
 * A passphrase, or a function that asks for it.
 * `isNew`: nothing was put there yet, so that one is chosen; `name`: what people know the folder or server by
 */
export type SyncPassphrase = string | ((asked: { readonly isNew: boolean; readonly name: string }) => Promise<string>);

/** What the parts of a `SyncRemote` are. */
interface Opened {
  readonly carrier: Carrier;
  /** The text of the lock. */
  readonly text: string;
  readonly id: string;
  readonly earlier: readonly string[];
  readonly sealing: Encryption;
  readonly compartment: Compartment;
  readonly tools: SealingTools;
}

/** Logs and blobs of several devices, sealed under one key (AES-256-GCM), whatever carries them. */
export class SyncRemote {
  /** Different for every key. */
  readonly id: string;
  /** The ids of the keys before this one. */
  readonly earlier: readonly string[];
  readonly carrier: Carrier;
  readonly #text: string;
  readonly #sealing: Encryption;
  readonly #compartment: Compartment;
  readonly #tools: SealingTools;

  private constructor({ carrier, text, id, earlier, sealing, compartment, tools }: Opened) {
    this.carrier = carrier;
    this.id = id;
    this.earlier = earlier;
    this.#text = text;
    this.#sealing = sealing;
    this.#compartment = compartment;
    this.#tools = tools;
  }

  /**
   * Opens what a carrier has, or begins it.
   * @throws DrawerError `locked/passphrase-wrong`, `sync-passphrase-changed`; `usage/passphrase-short`; `damaged/sync-lock-unreadable`; those of the carrier
   */
  static open(carrier: Carrier, passphrase: SyncPassphrase, tools: SealingTools): Promise<SyncRemote> {
    return carrier.guarded(async () => {
      const isNew = (await carrier.findLock()) === undefined;
      const words = typeof passphrase === 'string' ? passphrase : await passphrase({ isNew, name: carrier.name });
      if (isNew) await carrier.putLock(await newLockText(words, [], tools), undefined);
      return SyncRemote.#opened(carrier, words, tools);
    });
  }

  static async #opened(carrier: Carrier, passphrase: string, tools: SealingTools): Promise<SyncRemote> {
    const text = (await carrier.findLock()) ?? '';
    const { id, sealing, earlier } = await openedLock(text, passphrase, carrier.name, tools);
    const compartment = carrier.compartment(compartmentOf(id));
    return new SyncRemote({ carrier, text, id, earlier, sealing, compartment, tools });
  }

  /** @throws DrawerError `locked/sync-passphrase-changed` if another device has put a new key in the place of this one */
  async checkIsCurrent(): Promise<void> {
    const text = await this.carrier.findLock();
    if (text === undefined || text === this.#text) return;
    throw new DrawerError('locked/sync-passphrase-changed', {}, { where: this.carrier.name });
  }

  /**
   * Puts a new key in the place of this one. Nothing is sealed under it yet, and what is sealed under this one stays.
   * @throws DrawerError `usage/passphrase-short`; `locked/sync-passphrase-changed` if another device did so first
   */
  async withPassphrase(passphrase: string): Promise<SyncRemote> {
    const text = await newLockText(passphrase, [...this.earlier, this.id], this.#tools);
    await this.carrier.putLock(text, this.#text);
    if ((await this.carrier.findLock()) !== text)
      throw new DrawerError('locked/sync-passphrase-changed', {}, { where: this.carrier.name });
    return SyncRemote.#opened(this.carrier, passphrase, this.#tools);
  }

  /** Removes all that is sealed under an earlier key. @param id - of that key */
  removeEarlier(id: string): Promise<void> {
    return this.carrier.removeCompartment(compartmentOf(id));
  }

  /** Calls `changed` when a device has written something; returns a function that stops it. */
  watch(changed: () => void): () => void {
    return this.carrier.watch(compartmentOf(this.id), changed);
  }

  /** The devices that have a log. */
  devices(): Promise<readonly string[]> {
    return this.#compartment.devices();
  }

  log(device: string): RemoteLog {
    return new RemoteLog(this.#compartment.log(device), device, this.#sealing, this.#tools);
  }

  /** The bytes of a picture. @throws DrawerError `sync-blob-missing`; `picture-bytes-wrong` */
  async readPicture(hash: string): Promise<Uint8Array> {
    const bytes = await this.#readBlob('picture', hash);
    if (hashOf(bytes) !== hash)
      throw new DrawerError('invalid/picture-bytes-wrong', { hash }, { where: this.carrier.name });
    return bytes;
  }

  /** Keeps a picture, unless it is there. @param bytes - asked for where it is not */
  writePicture(hash: string, bytes: () => Promise<Uint8Array | undefined>): Promise<void> {
    return this.#writeBlob('picture', hash, bytes);
  }

  /** A value that is too large for a log. @throws DrawerError `sync-blob-missing`; `damaged/sync-log-unreadable` */
  async readValue(hash: string): Promise<unknown> {
    const blob = await this.#readBlob('value', hash);
    try {
      return JSON.parse(new TextDecoder().decode(await this.#tools.inflate(blob, mostBytes)));
    } catch (cause) {
      throw new DrawerError('damaged/sync-log-unreadable', {}, { where: this.carrier.name, cause });
    }
  }

  /** Keeps a value that is too large for a log, unless it is there. @param json - the value as JSON, of which `hash` is the hash */
  writeValue(hash: string, json: string): Promise<void> {
    return this.#writeBlob('value', hash, () => this.#tools.deflate(utf8ToBytes(json)));
  }

  removeBlob(hash: string): Promise<void> {
    return this.#compartment.removeBlob(this.#blobName(hash));
  }

  async #readBlob(kind: string, hash: string): Promise<Uint8Array> {
    const sealed = await this.#compartment.findBlob(this.#blobName(hash));
    if (!sealed) throw new DrawerError('storage/sync-blob-missing', {}, { where: this.carrier.name });
    return this.#sealing.open(sealed, `${kind}\n${hash}`);
  }

  async #writeBlob(kind: string, hash: string, bytes: () => Promise<Uint8Array | undefined>): Promise<void> {
    const name = this.#blobName(hash);
    const blob = (await this.#compartment.hasBlob(name)) ? undefined : await bytes();
    if (blob) await this.#compartment.putBlob(name, this.#sealing.seal(blob, `${kind}\n${hash}`));
  }

  /** A keyed hash, which says nothing of what is in it. */
  #blobName(hash: string): string {
    return this.#sealing.digest(hash).replaceAll('+', '-').replaceAll('/', '_').replaceAll('=', '');
  }
}

/** @throws DrawerError `locked/passphrase-wrong`, `sync-passphrase-changed`; `damaged/sync-lock-unreadable` */
async function openedLock(
  text: string,
  passphrase: string,
  where: string,
  tools: SealingTools,
): Promise<Pick<Opened, 'id' | 'sealing' | 'earlier'>> {
  let earlier: readonly string[] = [];
  try {
    const parsed = parseWith(lockSchema, JSON.parse(text), 'lock');
    earlier = parsed.earlier;
    const { salt: id, sealing } = await tools.openLock(parsed.lock, passphrase);
    return { id, sealing, earlier };
  } catch (cause) {
    const isWrong = DrawerError.is(cause) && cause.code === 'locked';
    if (isWrong && earlier.length === 0) throw cause;
    const reason = isWrong ? 'locked/sync-passphrase-changed' : 'damaged/sync-lock-unreadable';
    throw new DrawerError(reason, {}, { where, cause });
  }
}

async function newLockText(passphrase: string, earlier: readonly string[], tools: SealingTools): Promise<string> {
  checkPassphrase(passphrase);
  const text: LockText = { format: 1, lock: await tools.newLock(passphrase), earlier: [...earlier] };
  return JSON.stringify(text);
}

/** The name of what is sealed under a key. @param id - of the key */
const compartmentOf = (id: string): string => hashOf(utf8ToBytes(id)).slice(0, 16);

/**
 * The log of one device. Each frame is JSON, deflated (RFC 1951) and sealed, and bound to the device, its number and the frame before
 * it, so that none can be moved, left out, replaced or taken back.
 */
export class RemoteLog {
  readonly #log: CarriedLog;
  readonly #device: string;
  readonly #sealing: Encryption;
  readonly #tools: SealingTools;

  constructor(log: CarriedLog, device: string, sealing: Encryption, tools: SealingTools) {
    this.#log = log;
    this.#device = device;
    this.#sealing = sealing;
    this.#tools = tools;
  }

  /**
   * Reads the frames behind a position.
   * @throws DrawerError `sync-log-changed` if what was read before is no longer there; `sync-log-unreadable`
   */
  async *read(from: LogPosition): AsyncGenerator<Frame> {
    if (from.frames > 0 && !(await this.#log.has(from.last, from.end)))
      throw new DrawerError('damaged/sync-log-changed', {}, { where: this.#log.name });
    let at = from;
    for await (const { bytes, end } of this.#log.read(from.end)) {
      const content = await this.#opened(bytes, at);
      at = { end, frames: at.frames + 1, last: markOf(bytes) };
      yield { ...content, end: at };
    }
  }

  async #opened(sealed: Uint8Array, at: LogPosition): Promise<Omit<Frame, 'end'>> {
    try {
      const json = await this.#tools.inflate(this.#sealing.open(sealed, this.#place(at)), mostBytes);
      return parseWith(contentSchema, JSON.parse(new TextDecoder().decode(json)), 'log');
    } catch (cause) {
      throw new DrawerError('damaged/sync-log-unreadable', {}, { where: this.#log.name, cause });
    }
  }

  /** Writes a frame behind the last one; it is durable afterwards. @returns where it ends */
  async append(content: Omit<Frame, 'end'>, at: LogPosition): Promise<LogPosition> {
    const bytes = await this.#tools.deflate(utf8ToBytes(JSON.stringify(content)));
    const sealed = this.#sealing.seal(bytes, this.#place(at));
    const last = markOf(sealed);
    return { end: await this.#log.append(sealed, last, at.end), frames: at.frames + 1, last };
  }

  remove(): Promise<void> {
    return this.#log.remove();
  }

  #place({ frames, last: { begin, length } }: LogPosition): string {
    return `log\n${this.#device}\n${frames}\n${frames === 0 ? '' : `${begin} ${length}`}`;
  }
}
