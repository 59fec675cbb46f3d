import { basename, resolve } from 'node:path';
import { DrawerError, type Media, parseWith, plural } from '../content/index.ts';
import { type Drawer, exportedSchema, exportSnippets, type Gathered, type Snippet } from '../drawer/index.ts';
import type { Place } from '../places/index.ts';
import { isDrawerAt } from './drawer-file.ts';
import { exists } from './files.ts';
import { type OtherDrawerOptions, withOtherDrawer } from './read-drawer.ts';
import { fileTool } from './replace-file.ts';

/** What became of snippets that were pasted into another drawer. */
export interface Arrived {
  /** The numbers they have there. */
  readonly from: number;
  readonly to: number;
  /** The ids, in their own drawer, of those that are there now. */
  readonly ids: readonly string[];
}

/** Snippets on their way to another drawer, with the bytes of their pictures. */
export interface Transfer {
  readonly snippets: readonly Snippet[];
  readonly media: Media;
}

/** Where in another drawer or file of snippets they go, and how it is opened. */
export interface PasteSnippetsOptions extends OtherDrawerOptions {
  /** `before` or `after` one of its snippets, `start` or `end`; without it behind the one that is named, or at the end. */
  readonly side?: string | undefined;
}

/** Whether a place to paste into is another drawer, or a file of snippets, which take them as they are. */
export async function takesSnippets({ file }: Place): Promise<boolean> {
  if (/\.json$/i.test(file)) return true;
  if (!(await exists(file))) return /\.drawer$/i.test(file);
  return isDrawerAt(file);
}

/**
 * Puts snippets into another drawer or file of snippets, at its end or beside one of its snippets; labels, origins, times,
 * marks and pictures travel along. Secrets are left out of files, and what the other drawer's rules do not take of it.
 */
export const pasteSnippets = (
  place: Place,
  transfer: Transfer,
  own: Drawer,
  options: PasteSnippetsOptions = {},
): Promise<Arrived> =>
  /\.json$/i.test(place.file) ? intoJson(place, transfer, own, options) : intoDrawer(place, transfer, options);

const intoDrawer = (
  place: Place,
  { snippets, media }: Transfer,
  { side, ...options }: PasteSnippetsOptions,
): Promise<Arrived> =>
  withOtherDrawer(place.file, options, async (drawer) => {
    const count = await drawer.count();
    const position = positionOf(place, side, count);
    const gathered = snippets.map(({ facts: _, order: __, id: ___, ...rest }): Gathered => ({ ...rest, media }));
    const results = await drawer.keep(gathered);
    const ids = results.flatMap((result) => (result.kind === 'kept' ? [result.head.id] : []));
    if (position <= count) await drawer.move(ids, position);
    const from = ids[0] === undefined ? position : await drawer.positionOf(ids[0]);
    const arrived = snippets.filter((_, at) => results[at] && 'head' in results[at]);
    return { from, to: from + ids.length - 1, ids: arrived.map(({ id }) => id) };
  });

async function intoJson(
  place: Place,
  { snippets, media }: Transfer,
  own: Drawer,
  { side }: PasteSnippetsOptions,
): Promise<Arrived> {
  const path = resolve(place.file);
  const before = (await exists(path)) ? await fileTool.read(path) : undefined;
  const there = before
    ? parseWith(exportedSchema, parsed(before, place.file), 'file of snippets')
    : exportSnippets([], new Map());
  const position = positionOf(place, side, there.snippets.length);
  // A secret would stand in the file in the clear.
  const open = snippets.filter(({ secret }) => !secret);
  const added = exportSnippets(open, media);
  const whole = {
    ...there,
    snippets: there.snippets.toSpliced(position - 1, 0, ...added.snippets),
    media: { ...there.media, ...added.media },
  };
  const after = new TextEncoder().encode(`${JSON.stringify(whole, null, 2)}\n`);
  await own.writeFiles({
    name: `Pasted ${plural(open.length, 'snippet')} into ${basename(path)}`,
    files: [{ path, ...(before && { before }), after }],
  });
  return { from: position, to: position + open.length - 1, ids: open.map(({ id }) => id) };
}

function parsed(bytes: Uint8Array, file: string): unknown {
  try {
    return JSON.parse(new TextDecoder().decode(bytes));
  } catch (cause) {
    throw new DrawerError(
      { code: 'unreadable', what: 'The file is no JSON', where: file, next: 'Name another; nothing was written' },
      { cause },
    );
  }
}

/** From 1; one more than there are is the end. */
function positionOf({ file, fragment }: Place, side: string | undefined, count: number): number {
  if (fragment.kind === 'whole') return side === 'start' || side === 'before' ? 1 : count + 1;
  const range = fragment.kind === 'snippets' ? fragment.ranges[0] : undefined;
  if (range && range.to <= count && side !== 'replace') return side === 'before' ? range.from : range.to + 1;
  throw new DrawerError({
    code: 'not-found',
    what: side === 'replace' ? 'Snippets of another drawer are not replaced' : 'There is no such snippet there',
    where: file,
    next: `It holds ${count}: name the file alone, or one of them by its number, such as #1`,
  });
}
