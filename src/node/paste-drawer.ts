import { resolve } from 'node:path';
import { DrawerError, type Media, parseWith } from '../content/index.ts';
import {
  type Elsewhere,
  exportedSchema,
  exportSnippets,
  type FileWrite,
  type Snippet,
  type SnippetInput,
} from '../drawer/index.ts';
import type { Place } from '../places/index.ts';
import { isDrawerAt } from './drawer-file.ts';
import { exists } from './files.ts';
import { doneSince, type OtherDrawerOptions, withOtherDrawer } from './read-drawer.ts';
import { fileSystem } from './replace-file.ts';

/** The result of pasting snippets into another drawer. */
export interface Arrived {
  /** Their positions there. */
  readonly from: number;
  readonly to: number;
  /** The ids, in their own drawer, of those that arrived. */
  readonly ids: readonly string[];
  /** The actions in the other drawer; absent if nothing new arrived. */
  readonly done?: Elsewhere;
}

/** Snippets to transfer, with the bytes of their pictures. */
export interface Transfer {
  readonly snippets: readonly Snippet[];
  readonly media: Media;
}

/** Options for pasting snippets into another drawer or snippet file. */
export interface PasteSnippetsOptions extends OtherDrawerOptions {
  /** `before` or `after` the named snippet, `start` or `end`; default: after it, or at the end. */
  readonly side?: string | undefined;
}

/** Whether a place is another drawer or a snippet file; `undefined` for any other. */
export async function takesSnippets({ file }: Place): Promise<'drawer' | 'file' | undefined> {
  if (/\.json$/i.test(file)) return 'file';
  const isDrawer = (await exists(file)) ? await isDrawerAt(file) : /\.drawer$/i.test(file);
  return isDrawer ? 'drawer' : undefined;
}

/**
 * Pastes snippets into another drawer, at its end or beside one of its snippets, with labels, origins, times, marks and pictures.
 * Snippets that the other drawer's rules exclude are left out.
 */
export const pasteIntoDrawer = (
  place: Place,
  { snippets, media }: Transfer,
  { side, ...options }: PasteSnippetsOptions = {},
): Promise<Arrived> =>
  withOtherDrawer(place.file, options, async (drawer) => {
    const count = await drawer.count();
    const position = positionOf(place, side, count);
    const gathered = snippets.map(({ facts: _, order: __, id: ___, ...rest }): SnippetInput => ({ ...rest, media }));
    const before = await drawer.lastAction();
    const results = await drawer.keep(gathered);
    const ids = results.flatMap((result) => (result.kind === 'kept' ? [result.summary.id] : []));
    if (position <= count) await drawer.move(ids, position);
    const done = await doneSince(before, drawer, place.file);
    const from = ids[0] === undefined ? position : await drawer.positionOf(ids[0]);
    const arrived = snippets.filter((_, at) => results[at] && 'summary' in results[at]);
    return {
      from,
      to: from + ids.length - 1,
      ids: arrived.map(({ id }) => id),
      ...(done && { done }),
    };
  });

/** A planned write of a snippet file. */
export interface PlannedSnippets extends Arrived {
  /** The file as given. */
  readonly file: string;
  readonly write: FileWrite;
}

/**
 * Plans adding snippets to snippet files, at the end or beside one. Writes nothing. Secrets are left out, because they would be
 * readable there.
 */
export async function planSnippets(
  places: readonly Place[],
  { snippets, media }: Transfer,
  { side }: Pick<PasteSnippetsOptions, 'side'> = {},
): Promise<readonly PlannedSnippets[]> {
  const open = snippets.filter(({ secret }) => !secret);
  const added = exportSnippets(open, media);
  const planned = new Map<string, PlannedSnippets>();
  for (const place of places) {
    const path = resolve(place.file);
    const before = planned.get(path)?.write.before ?? ((await exists(path)) ? await fileSystem.read(path) : undefined);
    const now = planned.get(path)?.write.after ?? before;
    const there = now
      ? parseWith(exportedSchema, parsed(now, place.file), 'file of snippets')
      : exportSnippets([], new Map());
    const from = positionOf(place, side, there.snippets.length);
    const whole = {
      ...there,
      snippets: there.snippets.toSpliced(from - 1, 0, ...added.snippets),
      media: { ...there.media, ...added.media },
    };
    const after = new TextEncoder().encode(`${JSON.stringify(whole, null, 2)}\n`);
    const to = from + open.length - 1;
    planned.set(path, {
      file: place.file,
      from,
      to,
      ids: open.map(({ id }) => id),
      write: { path, ...(before && { before }), after },
    });
  }
  return [...planned.values()];
}

function parsed(bytes: Uint8Array, file: string): unknown {
  try {
    return JSON.parse(new TextDecoder().decode(bytes));
  } catch (cause) {
    throw new DrawerError('unreadable/json-broken', {}, { where: file, cause });
  }
}

/** A position from 1; one past the last is the end. */
function positionOf({ file, fragment }: Place, side: string | undefined, count: number): number {
  if (fragment.kind === 'whole') return side === 'start' || side === 'before' ? 1 : count + 1;
  const range = fragment.kind === 'snippets' ? fragment.ranges[0] : undefined;
  if (range && range.to <= count && side !== 'replace') return side === 'before' ? range.from : range.to + 1;
  throw new DrawerError(
    side === 'replace' ? 'not-found/snippets-not-replaced' : 'not-found/snippet-not-there',
    { count },
    { where: file },
  );
}
