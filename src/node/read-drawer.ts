import { access, chmod, constants, copyFile, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, dirname, join, resolve } from 'node:path';
import { DrawerError } from '../content/index.ts';
import { type Action, type Drawer, type Elsewhere, marked } from '../drawer/index.ts';
import { type OpenOptions, openDrawer, type PassphraseOf } from './open-drawer.ts';

/** How a drawer is opened that is a place among others. */
export type OtherDrawerOptions = Pick<OpenOptions, 'passphraseOf' | 'isCopy'>;

/** Opens another drawer, works on it, and closes it whatever happens. */
export async function withOtherDrawer<T>(
  file: string,
  options: OtherDrawerOptions,
  work: (drawer: Drawer) => Promise<T>,
): Promise<T> {
  const drawer = await openDrawer(file, options);
  try {
    return await work(drawer);
  } finally {
    await drawer.close();
  }
}

/** What was done in a drawer since its last action was `before`; `undefined` where nothing was. */
export async function doneSince(
  before: Action | undefined,
  drawer: Drawer,
  file: string,
): Promise<Elsewhere | undefined> {
  const [from, to] = [(before?.number ?? 0) + 1, (await drawer.lastAction())?.number ?? 0];
  if (to < from) return undefined;
  const { sign } = await import('./own-mark.ts');
  return marked({ type: 'elsewhere', drawer: resolve(file), from, to }, { sign });
}

/** The same only to read it: one that may not be written, as on a shared disk, is read from a copy that goes afterwards. */
export async function readingOtherDrawer<T>(
  file: string,
  { passphraseOf }: OtherDrawerOptions,
  work: (drawer: Drawer) => Promise<T>,
): Promise<T> {
  if ((await mayBeWritten(file)) && (await mayBeWritten(dirname(file))))
    return withOtherDrawer(file, { passphraseOf }, work);
  const folder = await mkdtemp(join(tmpdir(), 'drawer-'));
  const copy = join(folder, basename(file));
  try {
    await copyOwned(file, copy);
    await copyOwned(`${file}-wal`, `${copy}-wal`).catch(() => undefined); // mostly there is none
    const asking: PassphraseOf | undefined =
      passphraseOf && ((_, problem, tried) => passphraseOf(file, problem, tried));
    return await withOtherDrawer(copy, { passphraseOf: asking, isCopy: true }, work);
  } catch (error) {
    if (!DrawerError.is(error) || error.where !== copy) throw error;
    throw error.at(file);
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
