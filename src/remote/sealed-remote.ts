import { utf8ToBytes } from '@noble/hashes/utils.js';
import * as v from 'valibot';
import { DrawerError, parseWith } from '../content/index.ts';
import { checkPassphrase, hashOf } from '../drawer/index.ts';
import { type CarriedLog, type Carrier, type FrameMark, markOf } from './carrier.ts';

/** Seals values under a key. Each is bound to its place, so that none can be moved to another. */
export interface Sealing {
  seal(bytes: Uint8Array, place: string): Uint8Array;
  /** @throws DrawerError `damaged` if it was changed or moved from another place */
  open(sealed: Uint8Array, place: string): Uint8Array;
  /** A keyed hash of words, in Base64. */
  digest(words: string): string;
}

/** How a platform seals and packs what is carried. */
export interface SealingTools {
  /** Makes a lock for a passphrase, as JSON. */
  newLock(passphrase: string): Promise<string>;
  /**
   * @param lock - as JSON
   * @throws DrawerError `locked/passphrase-wrong`; any error for what is no lock
   */
  openLock(lock: string, passphrase: string): Promise<{ readonly salt: string; readonly sealing: Sealing }>;
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
  readonly end: LogPosition;
}

const lockSchema = v.strictObject({ format: v.literal(1), lock: v.string() });
const contentSchema = v.strictObject({
  name: v.pipe(v.string(), v.maxLength(100)),
  records: v.array(v.unknown()),
});

/** More than any frame of ours, unpacked. */
const mostBytes = 2 ** 30;

/**
 * A passphrase, or a function that asks for it.
 * `isNew`: nothing was put there yet, so that one is chosen; `name`: what people know the folder or server by
 */
export type SyncPassphrase = string | ((asked: { readonly isNew: boolean; readonly name: string }) => Promise<string>);

/** Logs and pictures of several devices, sealed under one key (AES-256-GCM), whatever carries them. */
export class SyncRemote {
  /** Different for every one. */
  readonly id: string;
  readonly carrier: Carrier;
  readonly #sealing: Sealing;
  readonly #tools: SealingTools;

  private constructor(carrier: Carrier, id: string, sealing: Sealing, tools: SealingTools) {
    this.carrier = carrier;
    this.id = id;
    this.#sealing = sealing;
    this.#tools = tools;
  }

  /**
   * Opens what a carrier has, or begins it.
   * @throws DrawerError `locked/passphrase-wrong`; `usage/passphrase-short`; `damaged/sync-lock-unreadable`; those of the carrier
   */
  static open(carrier: Carrier, passphrase: SyncPassphrase, tools: SealingTools): Promise<SyncRemote> {
    return carrier.guarded(async () => {
      const isNew = (await carrier.findLock()) === undefined;
      const words = typeof passphrase === 'string' ? passphrase : await passphrase({ isNew, name: carrier.name });
      if (isNew) {
        checkPassphrase(words);
        await carrier.begin(JSON.stringify({ format: 1, lock: await tools.newLock(words) }));
      }
      const { salt, sealing } = await openLockOf(carrier, words, tools);
      return new SyncRemote(carrier, salt, sealing, tools);
    });
  }

  log(device: string): RemoteLog {
    return new RemoteLog(this.carrier.log(device), device, this.#sealing, this.#tools);
  }

  /** The bytes of a picture. @throws DrawerError `sync-picture-missing`; `picture-bytes-wrong` */
  async readPicture(hash: string): Promise<Uint8Array> {
    const where = this.carrier.name;
    const sealed = await this.carrier.findPicture(this.#pictureName(hash));
    if (!sealed) throw new DrawerError('storage/sync-picture-missing', {}, { where });
    const bytes = this.#sealing.open(sealed, `picture\n${hash}`);
    if (hashOf(bytes) !== hash) throw new DrawerError('invalid/picture-bytes-wrong', { hash }, { where });
    return bytes;
  }

  /** Keeps a picture, unless it is there. @param bytes - asked for where it is not */
  async writePicture(hash: string, bytes: () => Promise<Uint8Array | undefined>): Promise<void> {
    const name = this.#pictureName(hash);
    const picture = (await this.carrier.hasPicture(name)) ? undefined : await bytes();
    if (picture) await this.carrier.putPicture(name, this.#sealing.seal(picture, `picture\n${hash}`));
  }

  removePicture(hash: string): Promise<void> {
    return this.carrier.removePicture(this.#pictureName(hash));
  }

  /** A keyed hash, which says nothing of the picture. */
  #pictureName(hash: string): string {
    return this.#sealing.digest(hash).replaceAll('+', '-').replaceAll('/', '_').replaceAll('=', '');
  }
}

async function openLockOf(
  carrier: Carrier,
  passphrase: string,
  tools: SealingTools,
): ReturnType<SealingTools['openLock']> {
  const text = await carrier.findLock();
  try {
    return await tools.openLock(parseWith(lockSchema, JSON.parse(text ?? ''), 'lock').lock, passphrase);
  } catch (cause) {
    if (DrawerError.is(cause) && cause.code === 'locked') throw cause;
    throw new DrawerError('damaged/sync-lock-unreadable', {}, { where: carrier.name, cause });
  }
}

/**
 * The log of one device. Each frame is JSON, deflated (RFC 1951) and sealed, and bound to the device, its number and the frame before
 * it, so that none can be moved, left out, replaced or taken back.
 */
export class RemoteLog {
  readonly #log: CarriedLog;
  readonly #device: string;
  readonly #sealing: Sealing;
  readonly #tools: SealingTools;

  constructor(log: CarriedLog, device: string, sealing: Sealing, tools: SealingTools) {
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
