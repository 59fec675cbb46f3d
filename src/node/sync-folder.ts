import { mkdirSync, watch } from 'node:fs';
import { type FileHandle, mkdir, open, readdir, readFile, rm } from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import {
  type CarriedFrame,
  type CarriedLog,
  type Carrier,
  type Compartment,
  deviceName,
  type FrameMark,
} from '../remote/index.ts';
import { codeOf, exists, writeNewFile, writeProblem } from './files.ts';
import { replaceFile } from './replace-file.ts';

/** The file of a folder that says how it is sealed; what is sealed under its key is in a folder of its own. */
const lockFile = 'drawer-sync.json';
const logEnding = '.log';

/** A folder that several devices see: a share, a stick, or one that a program carries from device to device. */
export class FolderCarrier implements Carrier {
  readonly name: string;

  private constructor(path: string) {
    this.name = path;
  }

  /** Opens a folder, which is made if it is not there. @throws DrawerError `write-failed` */
  static async open(folder: string): Promise<FolderCarrier> {
    const carrier = new FolderCarrier(resolve(folder));
    await carrier.guarded(() => makeFolder(carrier.name));
    return carrier;
  }

  async guarded<T>(work: () => Promise<T>): Promise<T> {
    try {
      return await work();
    } catch (error) {
      const isRefused = typeof error === 'object' && error !== null && 'syscall' in error;
      throw isRefused ? writeProblem(error, this.name) : error;
    }
  }

  findLock(): Promise<string | undefined> {
    return existing(readFile(join(this.name, lockFile), 'utf8'));
  }

  async putLock(lock: string, before: string | undefined): Promise<void> {
    const path = join(this.name, lockFile);
    if (before === undefined) return writeOnce(path, Buffer.from(lock));
    if ((await this.findLock()) === before) await replaceFile(path, Buffer.from(lock), Buffer.from(before));
  }

  compartment(key: string): Compartment {
    return new FolderCompartment(join(this.name, key));
  }

  async removeCompartment(key: string): Promise<void> {
    await rm(join(this.name, key), { recursive: true, force: true });
  }

  watch(key: string, changed: () => void): () => void {
    const compartment = join(this.name, key);
    mkdirSync(compartment, { recursive: true, mode: 0o700 });
    const watchers = [this.name, compartment].map((path) => watch(path, changed));
    for (const watcher of watchers) watcher.on('error', () => {}); // some shares tell of no changes
    return () => {
      for (const watcher of watchers) watcher.close();
    };
  }

  async close(): Promise<void> {}
}

const makeFolder = (path: string): Promise<unknown> => mkdir(path, { recursive: true, mode: 0o700 });

/** A folder with a file for the log of each device, and one for each blob. */
class FolderCompartment implements Compartment {
  readonly #path: string;

  constructor(path: string) {
    this.#path = path;
  }

  async devices(): Promise<readonly string[]> {
    const logs = ((await existing(readdir(this.#path))) ?? []).filter((name) => name.endsWith(logEnding));
    return logs
      .map((name) => name.slice(0, -logEnding.length))
      .filter((name) => deviceName.test(name))
      .sort();
  }

  log(device: string): CarriedLog {
    return new FolderLog(join(this.#path, `${device}${logEnding}`));
  }

  findBlob(name: string): Promise<Uint8Array | undefined> {
    return existing(readFile(this.#blobPath(name)));
  }

  hasBlob(name: string): Promise<boolean> {
    return exists(this.#blobPath(name));
  }

  async putBlob(name: string, bytes: Uint8Array): Promise<void> {
    const path = this.#blobPath(name);
    await makeFolder(dirname(path));
    await writeOnce(path, bytes);
  }

  async removeBlob(name: string): Promise<void> {
    await rm(this.#blobPath(name), { force: true });
  }

  #blobPath(name: string): string {
    return join(this.#path, 'blobs', name);
  }
}

/** What is read; `undefined` if there is no such file. */
async function existing<T>(reading: Promise<T>): Promise<T | undefined> {
  return reading.catch((error: unknown) => {
    if (codeOf(error) === 'ENOENT') return undefined;
    throw error;
  });
}

/** Writes a new file, unless another device has written it meanwhile. */
async function writeOnce(path: string, bytes: Uint8Array): Promise<void> {
  await writeNewFile(path, bytes, 0o600).catch(async (error: unknown) => {
    if (!(await exists(path))) throw error;
  });
}

const lengthBytes = 4;
/** More than any frame of ours; a length beyond it is damage. */
const mostBytes = 2 ** 30;

/** A file of frames: each its length in four bytes (big-endian), and its bytes. */
class FolderLog implements CarriedLog {
  readonly name: string;

  constructor(path: string) {
    this.name = path;
  }

  async *read(from: number): AsyncGenerator<CarriedFrame> {
    const file = await existing(open(this.name, 'r'));
    if (!file) return;
    try {
      for (let at = from; ; ) {
        const bytes = await frameAt(file, at);
        if (!bytes) return;
        at += lengthBytes + bytes.length;
        yield { bytes, end: at };
      }
    } finally {
      await file.close();
    }
  }

  async has({ begin, length }: FrameMark, end: number): Promise<boolean> {
    const file = await existing(open(this.name, 'r'));
    if (!file) return false;
    try {
      const mark = Buffer.from(begin, 'base64');
      const there = await bytesAt(file, end - length, mark.length);
      return mark.equals(there) && (await file.stat()).size >= end;
    } finally {
      await file.close();
    }
  }

  async append(frame: Uint8Array, _: FrameMark, at: number): Promise<number> {
    const length = Buffer.alloc(lengthBytes);
    length.writeUInt32BE(frame.length);
    if (at === 0) await makeFolder(dirname(this.name));
    const file = await open(this.name, at === 0 ? 'w' : 'r+', 0o600);
    try {
      await file.truncate(at);
      await file.write(Buffer.concat([length, frame]), 0, undefined, at);
      await file.sync();
    } finally {
      await file.close();
    }
    return at + lengthBytes + frame.length;
  }

  async remove(): Promise<void> {
    await rm(this.name, { force: true });
  }
}

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
