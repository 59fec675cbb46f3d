import { createHmac, randomBytes } from 'node:crypto';
import { mkdir, readFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { DrawerError } from '../content/index.ts';
import { drawerFolder } from './default-path.ts';
import { codeOf, exists, writeNewFile } from './files.ts';

/** Where the secret is by which a person's own marks are known again; made when it is needed first, readable by its owner only. */
const secretFile = (): string => join(drawerFolder(), 'own-marks.key');
const length = 32;

/**
 * What only this person on this computer makes of words (HMAC with SHA-256, RFC 2104), in hexadecimal.
 * @throws DrawerError `write-failed` where the secret can be neither read nor made
 */
export async function sign(words: string): Promise<string> {
  return createHmac('sha256', await secret(secretFile()))
    .update(words)
    .digest('hex');
}

async function secret(path: string): Promise<Uint8Array> {
  try {
    const there = await readIfThere(path);
    if (there?.length === length) return there;
    if (there) throw new Error(`${there.length} bytes`);
    await mkdir(dirname(path), { recursive: true, mode: 0o700 });
    await writeNewFile(path, randomBytes(length), 0o600).catch(async (error: unknown) => {
      if (!(await exists(path))) throw error;
    });
    return await readFile(path); // another program may have been first
  } catch (cause) {
    throw new DrawerError('write-failed/own-mark-unusable', {}, { where: path, cause });
  }
}

const readIfThere = (path: string): Promise<Uint8Array | undefined> =>
  readFile(path).catch((error: unknown) => (codeOf(error) === 'ENOENT' ? undefined : Promise.reject(error)));
