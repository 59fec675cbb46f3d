import { DrawerError, locate } from '../../content/index.ts';
import type { KeepResult, Removed } from '../../drawer/index.ts';
import type { Excerpt } from '../../formats/index.ts';
import {
  type CutFile,
  checkWritable,
  cutFromFile,
  isDrawerAt,
  removeFromDrawerFile,
  whileClaimed,
} from '../../node/index.ts';
import type { Place } from '../../places/index.ts';
import type { Context } from '../context.ts';
import { filesNamed, type GatherOptions, gather, readOptions, report, withProgress } from '../gather.ts';
import { remarkNotes } from '../notes.ts';
import { making, withDrawer } from '../with-drawer.ts';

/**
 * `drawer cut PLACE…`: keeps the places and takes them out of their files. The snippets are safe in the drawer, with the way
 * back, before any file is touched; when a file cannot be written, all is as before.
 */
export async function cut(words: readonly string[], options: GatherOptions, context: Context): Promise<void> {
  await whileClaimed(filesNamed(words), () => cutClaimed(words, options, context));
}

async function cutClaimed(words: readonly string[], options: GatherOptions, context: Context): Promise<void> {
  if (words.some((word) => word === '-' || word.startsWith('%2D#')))
    throw new DrawerError('usage/command-cut-from-input');
  const { places, gathered, taken } = await gather(words, options, context);
  const drawers = new Map<string, readonly Excerpt[]>();
  const files = new Map<string, CutFile>();
  for (const [file, cut] of byFile(places, taken)) {
    if (await isDrawerAt(file)) {
      await checkWritable(file).catch((error: unknown) => {
        throw locate(error, file);
      });
      drawers.set(file, cut.taken);
    } else {
      const cutting = (): Promise<CutFile> => cutFromFile(file, cut.fragments, readOptions(options));
      files.set(file, await withProgress(context.words.tell('cutting', { file }), context, cutting));
    }
  }
  const removed = new Map<string, Awaited<ReturnType<typeof removeFromDrawerFile>>>();
  const results = await withDrawer(
    context,
    async (drawer) => {
      const before = drawers.size > 0 ? (await drawer.lastAction())?.number : undefined;
      const kept = await drawer.cut(gathered, [...files.values()]);
      if (kept.every(({ kind }) => kind === 'blank')) return kept;
      for (const [file, snippets] of drawers) removed.set(file, await removeFromDrawerFile(file, snippets, context));
      const elsewhere = [...removed.values()].flatMap(({ done }) => done ?? []);
      if (elsewhere.length === 0) return kept;
      // Where all of it was here already, the last action is another one.
      if ((await drawer.lastAction())?.number !== before) await drawer.tie(elsewhere);
      else
        await drawer.writeFiles({
          name: { kind: 'cut', params: { count: kept.length } },
          files: [],
          changes: elsewhere,
        });
      return kept;
    },
    making,
  );
  await report(
    results,
    taken.flatMap(({ notes }) => notes),
    options,
    context,
  );
  if (options.quiet || options.json) return;
  for (const line of inWords(results, [...files.keys()], removed, context.words)) context.print(line);
  await remarkNotes(
    [...files.values()].flatMap(({ notes }) => notes),
    'noted',
    context,
  );
}

/** What is cut of each file, and what was taken of it. */
function byFile(
  places: readonly Place[],
  taken: readonly Excerpt[],
): Map<string, { readonly fragments: Place['fragment'][]; readonly taken: Excerpt[] }> {
  const files = new Map<string, { fragments: Place['fragment'][]; taken: Excerpt[] }>();
  for (const [at, { file, fragment }] of places.entries()) {
    const cut = files.get(file) ?? { fragments: [], taken: [] };
    cut.fragments.push(fragment);
    cut.taken.push(taken[at] as Excerpt);
    files.set(file, cut);
  }
  return files;
}

function* inWords(
  results: readonly KeepResult[],
  files: readonly string[],
  removed: ReadonlyMap<string, Pick<Removed, 'removed' | 'held' | 'erased'>>,
  words: Context['words'],
): Generator<string> {
  if (results.every(({ kind }) => kind === 'blank')) return yield words.tell('cutNothing');
  if (files.length > 0) yield words.tell('cutFrom', { files: files.join(', ') });
  for (const [file, { removed: gone, held, erased }] of removed) {
    if (gone > erased) yield words.tell('cutFrom', { files: file });
    if (erased > 0) yield words.tell('cutSecret', { count: erased, file });
    if (held > 0) yield words.tell('cutHeld', { count: held, file });
  }
}
