import { DrawerError } from '../../content/index.ts';
import type { KeepResult } from '../../drawer/index.ts';
import { type CutFile, cutFromFile, isDrawerAt, removeFromDrawerFile } from '../../node/index.ts';
import type { Place } from '../../places/index.ts';
import type { Context } from '../context.ts';
import { type GatherOptions, gather, report, takeOptions, withProgress } from '../gather.ts';
import { withDrawer } from '../with-drawer.ts';

/**
 * `drawer cut PLACE…`: keeps the places and takes them out of their files. The snippets are safe in the drawer, with the way
 * back, before any file is touched; when a file cannot be written, all is as before.
 */
export async function cut(words: readonly string[], options: GatherOptions, context: Context): Promise<void> {
  if (words.some((word) => word === '-' || word.startsWith('-#')))
    throw new DrawerError({
      code: 'usage',
      what: 'Nothing can be cut out of standard input',
      next: 'Use drawer copy -',
    });
  const { places, gathered, taken } = await gather(words, options, context);
  const drawers: [string, Place['fragment'][]][] = [];
  const files: CutFile[] = [];
  for (const [file, fragments] of byFile(places)) {
    if (await isDrawerAt(file)) drawers.push([file, fragments]);
    else
      files.push(
        await withProgress(`Cutting ${file}`, context, () => cutFromFile(file, fragments, takeOptions(options))),
      );
  }
  const results = await withDrawer(context, async (drawer) => {
    const kept = await drawer.cut(gathered, files);
    if (kept.every(({ kind }) => kind === 'blank')) return kept;
    for (const [file, fragments] of drawers) await removeFromDrawerFile(file, fragments);
    return kept;
  });
  report(
    results,
    taken.flatMap(({ notes }) => notes),
    options,
    context,
  );
  if (options.quiet || options.json) return;
  context.print(inWords(results, places));
  const left = files.flatMap(({ notes }) => notes.map(({ what }) => what));
  if (left.length > 0) context.remark(`Left alone: ${[...new Set(left)].join('; ')}`);
}

function byFile(places: readonly Place[]): Map<string, Place['fragment'][]> {
  const files = new Map<string, Place['fragment'][]>();
  for (const { file, fragment } of places) files.set(file, [...(files.get(file) ?? []), fragment]);
  return files;
}

function inWords(results: readonly KeepResult[], places: readonly Place[]): string {
  if (results.every(({ kind }) => kind === 'blank')) return 'Nothing was cut.';
  const files = [...new Set(places.map(({ file }) => file))].join(', ');
  return `Taken out of ${files}. drawer undo puts it back.`;
}
