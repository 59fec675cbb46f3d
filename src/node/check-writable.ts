import { constants } from 'node:fs';
import { access, readdir } from 'node:fs/promises';
import { basename, dirname } from 'node:path';
import { DrawerError } from '../content/index.ts';
import { isBesidePicture } from './beside-pictures.ts';
import { exists, writeProblem } from './files.ts';

/**
 * Whether a file may be changed, or made where there is none. Office programs leave a file beside one that they have open.
 * @throws DrawerError `write-failed`
 */
export async function checkWritable(path: string): Promise<void> {
  const name = basename(path);
  const beside = await readdir(dirname(path)).catch((): string[] => []);
  const locks = [`.~lock.${name}#`, `~$${name}`, `~$${name.slice(2)}`];
  if (beside.some((each) => locks.includes(each)))
    throw new DrawerError('write-failed/file-open-elsewhere', {}, { where: path });
  if (!(await exists(path))) {
    const folder = dirname(path);
    const isMadeToo = isBesidePicture(path) && !(await exists(folder));
    await access(isMadeToo ? dirname(folder) : folder, constants.W_OK).catch((error: unknown) =>
      Promise.reject(writeProblem(error, path)),
    );
    return;
  }
  await access(path, constants.W_OK).catch((cause: unknown) => {
    throw new DrawerError('write-failed/file-read-only', {}, { where: path, cause });
  });
}
