import { readdir, realpath, stat } from 'node:fs/promises';
import { basename, isAbsolute, join, relative, resolve, sep } from 'node:path';
import { DrawerError } from '../content/index.ts';
import { checkList, type Drawer, type Listed } from '../drawer/index.ts';
import { findFormatByName, readAll } from '../formats/index.ts';
import { checkWritable, findRenewals, openFile, savedSince } from '../node/index.ts';
import type { DeskFile, DeskFiles } from './connect/protocol.ts';

/** Which files a desk may open. */
export interface DeskReach {
  /** The folder it was started in, absolute: files in it and below may be opened. */
  readonly folder: string;
  /** Files that were named, absolute, wherever they are. */
  readonly named: readonly string[];
  /** Whose name tracked insertions carry. */
  readonly author?: string | undefined;
}

/** Folders that hold no files of a person's. */
const isHidden = (name: string): boolean => name.startsWith('.') || name === 'node_modules';

/** Finds files that a desk may open, and no others, wherever a path or a link leads. @throws DrawerError `refused` */
function pathsWithin({ folder, named }: DeskReach) {
  const pathOf = async (path: string): Promise<string> => {
    const absolute = resolve(folder, path);
    if (named.includes(absolute)) return absolute;
    const outside = new DrawerError('refused/file-outside', { folder }, { where: path });
    // A link may lead out of the folder, and a new file is where its folder is.
    const real = (await realpath(absolute).catch(() => undefined)) ?? (await realOfNew(absolute));
    const inside = relative(await realpath(folder), real);
    if (isAbsolute(inside) || inside.split(sep).some((name) => name === '..' || isHidden(name))) throw outside;
    return absolute;
  };
  const described = async (absolute: string): Promise<DeskFile> => {
    const { size, mtimeMs } = await stat(absolute);
    const inside = relative(folder, absolute);
    const isInside = !isAbsolute(inside) && !inside.startsWith('..');
    return { path: isInside ? inside.replaceAll(sep, '/') : absolute, size, changed: Math.round(mtimeMs) };
  };
  const fileAt = async (path: string): Promise<string> => {
    const absolute = await pathOf(path);
    if (findFormatByName(basename(absolute)) || named.includes(absolute)) return absolute;
    throw new DrawerError('refused/file-not-desk', {}, { where: path });
  };
  return { pathOf, described, fileAt };
}

/** The files that a desk may open and save. */
export function deskFiles(reach: DeskReach, drawer: Drawer): DeskFiles {
  const { folder, named, author } = reach;
  const { pathOf, described, fileAt } = pathsWithin(reach);
  // Snippets know their files by name.
  const locate = (file: string): Promise<string> => fileAt(named.find((each) => basename(each) === file) ?? file);
  const listed = async (ids: readonly string[]): Promise<readonly Listed[]> => {
    checkList(ids, 'ids');
    return ids.length === 0 ? [] : drawer.select(ids.map((id) => `id:${id}`));
  };
  return {
    facts: async () => ({
      folder: basename(folder),
      named: (await Promise.allSettled(named.map(described))).flatMap(
        (
          found, // one may be gone since
        ) => (found.status === 'fulfilled' ? [found.value] : []),
      ),
      ...(author !== undefined && { author }),
    }),
    list: async (path) => {
      const absolute = await pathOf(path);
      const entries = await readdir(absolute, { withFileTypes: true });
      const shown = entries.filter(({ name }) => !isHidden(name)).sort((one, other) => compare(one.name, other.name));
      const inside = (name: string): string => (path === '' ? name : `${path}/${name}`);
      const files = shown.filter((entry) => entry.isFile() && findFormatByName(entry.name));
      return {
        folders: shown.filter((entry) => entry.isDirectory()).map(({ name }) => inside(name)),
        files: await Promise.all(files.map(({ name }) => described(join(absolute, name)))),
      };
    },
    read: async (path) => {
      const source = await openFile(await fileAt(path));
      try {
        return await readAll(source);
      } finally {
        await source.close();
      }
    },
    checkWritable: async (path) => checkWritable(await fileAt(path)),
    save: async (path, after, before) => {
      const absolute = await fileAt(path);
      await drawer.writeFiles({
        name: { kind: 'saved', params: { file: basename(absolute) } },
        files: [{ path: absolute, after, ...(before && { before }) }],
      });
    },
    savedSince: async (ids) => [...(await savedSince(await listed(ids), locate))],
    renewals: async (ids) => findRenewals(drawer, await listed(ids), { locate }),
  };
}

/** Where a file will be that is not there yet. */
const realOfNew = async (absolute: string): Promise<string> =>
  join(await realpath(resolve(absolute, '..')).catch(() => resolve(absolute, '..')), basename(absolute));

const compare = new Intl.Collator(undefined, { numeric: true }).compare;
