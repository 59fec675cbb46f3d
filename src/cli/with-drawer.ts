import { stat } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { countOf, DrawerError } from '../content/index.ts';
import type { Drawer } from '../drawer/index.ts';
import {
  copiesBeside,
  defaultDrawerPath,
  drawerPath,
  drawers,
  type OpenOptions,
  openDrawer,
  type Rescue,
} from '../node/index.ts';
import { snippetCount } from './command-words.ts';
import { type Context, passphraseVariable } from './context.ts';

interface Opening {
  /** Whether one that is named and not there is made. */
  readonly makes?: boolean;
  /** Whether what can be read of a damaged one is rescued. */
  readonly rescues?: boolean;
  /** Whether it may be in the clear though it was locked. */
  readonly mayBeUnlocked?: boolean;
  /** Of a locked one; then nobody is asked for another. */
  readonly passphrase?: string | undefined;
}

/** Opens the command's drawer, works on it, and closes it whatever happens. */
export async function withDrawer<T>(
  context: Context,
  work: (drawer: Drawer) => Promise<T>,
  opening: Opening = {},
): Promise<T> {
  const drawer = await openCommandDrawer(context, opening);
  try {
    return await work(drawer);
  } finally {
    await drawer.close();
  }
}

/** Opens the command's drawer, to be closed by the caller. @throws DrawerError */
export async function openCommandDrawer(context: Context, opening: Opening): Promise<Drawer> {
  const { makes = false, rescues = true, mayBeUnlocked = false } = opening;
  const { drawerPath: named } = context;
  const path = named === undefined ? undefined : drawerPath(named);
  if (path !== undefined && named !== undefined) await checkPath(path, named, makes || !context.namesDrawer);
  return openDrawer(path, { ...openingOf(context, opening), mayBeUnlocked, ...(!rescues && { onRescued: undefined }) });
}

/** How the command opens a drawer: with its passphrase, and telling what was rescued of a damaged one. */
export function openingOf({ environment, passphraseOf, remark, words }: Context, opening: Opening = {}): OpenOptions {
  return {
    passphrase: opening.passphrase ?? environment[passphraseVariable],
    ...(!('passphrase' in opening) && {
      passphraseOf: (_: string, problem: DrawerError, tried: string | undefined) => passphraseOf('', problem, tried),
    }),
    onOtherNames: (file, names) => remark(words.tell('hardLinks', { file: basename(file), count: names })),
    onRescued: (rescue) => remark(rescuedInWords(rescue, words)),
  };
}

/** For commands that gather: a drawer that is named and not there is made. */
export const making = { makes: true } as const;

/** Whether the drawer that was named can be one. @throws DrawerError `not-found` or `storage` */
async function checkPath(path: string, named: string, makes: boolean): Promise<void> {
  const there = await stat(path).catch(() => undefined);
  if (there?.isDirectory()) throw new DrawerError('storage/drawer-is-folder', {}, { where: path });
  if (there || makes) return;
  const names = await drawers();
  throw new DrawerError('not-found/drawer-unknown', {
    name: named,
    ...(names.length > 0 && { drawers: names.slice(0, 12) }),
  });
}

/** What could be saved of a damaged drawer. */
export const rescuedInWords = ({ snippets, pictures, lost, history, kept }: Rescue, words: Context['words']): string =>
  words.tell('rescued', {
    snippets: snippetCount(snippets),
    pictures: countOf('pictures', pictures),
    lost: lost === 0 ? '' : words.tell('rescuedLost', { snippets: snippetCount(lost) }),
    file: kept,
  }) + (history ? '' : words.tell('rescuedNoUndo'));

/** Where the command's drawer is. */
export const pathOf = ({ drawerPath: named }: Pick<Context, 'drawerPath'>): string =>
  named === undefined ? defaultDrawerPath() : drawerPath(named);

/** Says which copies beside the drawer still hold what was locked or erased in it. */
export async function remarkCopies(context: Context): Promise<void> {
  const path = pathOf(context);
  const copies = await copiesBeside(path);
  if (copies.length > 0)
    context.remark(
      context.words.tell('olderCopies', { files: copies.map((name) => join(dirname(path), name)).join(', ') }),
    );
}
