import { type FileHandle, open } from 'node:fs/promises';
import { promisify } from 'node:util';
import { constants, deflateRaw, inflateRaw } from 'node:zlib';
import * as v from 'valibot';
import { DrawerError, parseWith } from '../content/index.ts';
import type { Encryption } from '../storage/sqlite/index.ts';

/** Where a log was read or written up to. */
export interface LogPosition {
  readonly bytes: number;
  /** The number of frames up to there. */
  readonly frames: number;
  /** The beginning of the last frame, which no other frame has. */
  readonly last: string;
}

export const positionSchema: v.GenericSchema<unknown, LogPosition> = v.strictObject({
  bytes: v.number(),
  frames: v.number(),
  last: v.string(),
});

export const logStart: LogPosition = { bytes: 0, frames: 0, last: '' };

/** A frame of a log, and where it ends. */
export interface Frame {
  /** How people call the device. */
  readonly name: string;
  readonly records: readonly unknown[];
  readonly end: LogPosition;
}

const contentSchema = v.strictObject({
  name: v.pipe(v.string(), v.maxLength(100)),
  records: v.array(v.unknown()),
});

const lengthBytes = 4;
/** The nonce and tag at the beginning of what is sealed. */
const markBytes = 28;
/** More than any frame of ours; a length beyond it is damage. */
const mostBytes = 2 ** 30;

/**
 * A log of one device: frames, each its length in four bytes (big-endian) and, sealed, JSON that is deflated (RFC 1951). A frame is bound to
 * the device, its number and the frame before it, so that none can be moved, left out, replaced or taken back.
 */
export class SyncLog {
  readonly #path: string;
  readonly #device: string;
  readonly #sealing: Encryption;

  constructor(path: string, device: string, sealing: Encryption) {
    this.#path = path;
    this.#device = device;
    this.#sealing = sealing;
  }

  #place({ frames, last }: LogPosition): string {
    return `log\n${this.#device}\n${frames}\n${last}`;
  }

  /**
   * Reads the frames behind a position. A frame that is not there wholly ends it: it is still on its way.
   * @throws DrawerError `sync-log-changed` if what was read before is no longer there; `sync-log-unreadable`
   */
  async *read(from: LogPosition): AsyncGenerator<Frame> {
    const file = await open(this.#path, 'r').catch((error: NodeJS.ErrnoException) => {
      if (error.code === 'ENOENT') return undefined;
      throw error;
    });
    if (!file) {
      if (from.frames > 0) throw this.#changed();
      return;
    }
    try {
      await this.#checkLast(file, from);
      for (let at = from; ; ) {
        const sealed = await frameAt(file, at.bytes);
        if (!sealed) return;
        const frame = await this.#opened(sealed, at);
        at = frame.end;
        yield frame;
      }
    } finally {
      await file.close();
    }
  }

  /** Whether the frame that was read last is still there. */
  async #checkLast(file: FileHandle, { bytes, frames, last }: LogPosition): Promise<void> {
    if (frames === 0) return;
    const [mark = '', length = '0'] = last.split(' ');
    const start = bytes - Number(length);
    const there = await bytesAt(file, start, markBytes);
    if ((await file.stat()).size < bytes || there.toString('base64') !== mark) throw this.#changed();
  }

  async #opened(sealed: Buffer, at: LogPosition): Promise<Frame> {
    try {
      const bytes = this.#sealing.open(sealed, this.#place(at));
      const json = await promisify(inflateRaw)(bytes, { maxOutputLength: mostBytes });
      return { ...parseWith(contentSchema, JSON.parse(json.toString()), 'log'), end: after(at, sealed) };
    } catch (cause) {
      throw new DrawerError('damaged/sync-log-unreadable', {}, { where: this.#path, cause });
    }
  }

  #changed(): DrawerError {
    return new DrawerError('damaged/sync-log-changed', {}, { where: this.#path });
  }

  /** Writes a frame behind a position, where nothing may be but a frame that was left half written. It is on disk afterwards. */
  async append(content: Omit<Frame, 'end'>, at: LogPosition): Promise<LogPosition> {
    const bytes = await promisify(deflateRaw)(JSON.stringify(content), { level: constants.Z_BEST_SPEED });
    const sealed = Buffer.from(this.#sealing.seal(bytes, this.#place(at)));
    const length = Buffer.alloc(lengthBytes);
    length.writeUInt32BE(sealed.length);
    const file = await open(this.#path, at.frames === 0 ? 'w' : 'r+', 0o600);
    try {
      await file.truncate(at.bytes);
      await file.write(Buffer.concat([length, sealed]), 0, undefined, at.bytes);
      await file.sync();
    } finally {
      await file.close();
    }
    return after(at, sealed);
  }
}

const after = ({ bytes, frames }: LogPosition, sealed: Buffer): LogPosition => ({
  bytes: bytes + lengthBytes + sealed.length,
  frames: frames + 1,
  last: `${sealed.subarray(0, markBytes).toString('base64')} ${sealed.length}`,
});

async function frameAt(file: FileHandle, position: number): Promise<Buffer | undefined> {
  const head = await bytesAt(file, position, lengthBytes);
  if (head.length < lengthBytes) return undefined;
  const length = head.readUInt32BE();
  // Some programs make room for a file before its bytes come.
  if (length === 0 || length > mostBytes) return undefined;
  const { size } = await file.stat();
  if (position + lengthBytes + length > size) return undefined;
  return bytesAt(file, position + lengthBytes, length);
}

async function bytesAt(file: FileHandle, position: number, length: number): Promise<Buffer> {
  const buffer = Buffer.alloc(length);
  const { bytesRead } = await file.read(buffer, 0, length, position);
  return buffer.subarray(0, bytesRead);
}
