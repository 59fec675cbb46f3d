import { access, chmod, constants, copyFile, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, dirname, join } from 'node:path';
import type { Drawer } from '../drawer/index.ts';
import { openDrawer } from './open-drawer.ts';

/** Opens another drawer, works on it, and closes it whatever happens. */
export async function withOtherDrawer<T>(file: string, work: (drawer: Drawer) => Promise<T>): Promise<T> {
  const drawer = await openDrawer(file);
  try {
    return await work(drawer);
  } finally {
    await drawer.close();
  }
}

/** The same only to read it: one that may not be written, as on a shared disk, is read from a copy that goes afterwards. */
export async function readingOtherDrawer<T>(file: string, work: (drawer: Drawer) => Promise<T>): Promise<T> {
  if ((await mayBeWritten(file)) && (await mayBeWritten(dirname(file)))) return withOtherDrawer(file, work);
  const folder = await mkdtemp(join(tmpdir(), 'drawer-'));
  try {
    const copy = join(folder, basename(file));
    await copyOwned(file, copy);
    await copyOwned(`${file}-wal`, `${copy}-wal`).catch(() => undefined); // mostly there is none
    return await withOtherDrawer(copy, work);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

async function copyOwned(from: string, to: string): Promise<void> {
  await copyFile(from, to);
  await chmod(to, 0o600);
}

const mayBeWritten = (path: string): Promise<boolean> =>
  access(path, constants.W_OK).then(
    () => true,
    () => false,
  );
