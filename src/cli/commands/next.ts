import { clipped, DrawerError } from '../../content/index.ts';
import type { Drawer, SequencePoint, Snippet } from '../../drawer/index.ts';
import { type PasteResult, planPaste, whileClaimed } from '../../node/index.ts';
import { columnLetters, type NumberedFragment, parsePlace, printFragment } from '../../places/index.ts';
import type { Context } from '../context.ts';
import { clipboardPlace, filesNamed } from '../gather.ts';
import { checkInsertOptions, type InsertOptions, insertRequests, reportInserted } from '../insert-options.ts';
import { usualLanguage } from '../language.ts';
import { removalSummary } from '../removal-summary.ts';
import { pathOf, withDrawer } from '../with-drawer.ts';
import { inFormat, printed, spendSecrets } from './paste.ts';

export interface NextOptions extends InsertOptions {
  readonly as: string;
  readonly language?: string;
  readonly skip?: boolean;
  readonly back?: boolean;
  readonly restart?: boolean;
  readonly peek?: boolean;
  readonly takeOut?: boolean;
  /** Beside the last cell instead of under it. */
  readonly across?: boolean;
  /** Of the clipboard: goes on when each was pasted. */
  readonly follow?: boolean;
}

/** Prints instead of pasting where a place is remembered. */
const toPrint = '-';

/** `drawer next`: pastes the snippet that comes next, and remembers how far that is. */
export async function next(given: NextOptions, context: Context): Promise<void> {
  let options = given;
  checkInsertOptions(options);
  const moves = [options.skip, options.back, options.restart, options.peek].filter(Boolean).length;
  if (moves > 1)
    throw new DrawerError('usage/command-options-clash', { options: ['--skip', '--back', '--restart', '--peek'] });
  await withDrawer(context, async (drawer) => {
    const point = await drawer.sequence();
    const into = options.into?.at(-1) ?? point.into;
    // Remembered with the place, until another is named.
    if (options.into === undefined && point.across) options = { ...options, across: true };
    if (options.restart) return moved(drawer, 1, into, options, context);
    if (options.back) return moved(drawer, Math.max(1, point.position - 1), into, options, context);
    if (options.skip) return moved(drawer, Math.min(point.count + 1, point.position + 1), into, options, context);
    if (options.peek) return tell(await drawer.sequence(), options, context);
    if (options.follow) {
      if (into !== clipboardPlace || options.preview) throw new DrawerError('usage/command-follow-next');
      const { followNext } = await import('../follow-next.ts');
      return followNext(drawer, options, context);
    }
    const place = into === toPrint ? undefined : into;
    // The drawer too: others that ask at the same moment get the next one.
    const claimed = options.preview ? [] : [pathOf(context), ...(place === undefined ? [] : filesNamed([place]))];
    await whileClaimed(claimed, async () => pasteNext(drawer, await drawer.sequence(), place, options, context));
  });
}

async function moved(
  drawer: Drawer,
  position: number,
  into: string | undefined,
  options: NextOptions,
  context: Context,
): Promise<void> {
  await drawer.moveSequence(position, into, options.across);
  tell(await drawer.sequence(), options, context);
}

async function pasteNext(
  drawer: Drawer,
  { next: summary, position, count }: SequencePoint,
  into: string | undefined,
  options: NextOptions,
  context: Context,
): Promise<void> {
  if (!summary) throw new DrawerError(count === 0 ? 'not-found/drawer-empty' : 'not-found/sequence-done', { count });
  const snippet = await drawer.get(summary.id);
  const pasted = into === undefined ? printed([snippet], options) : [snippet];
  if (into === undefined) {
    context.print(await inFormat(options, snippet.content, [snippet], await drawer.mediaOf(snippet.content), context));
    await moveOn(drawer, pasted, { position, into }, options, context);
  } else await land(drawer, snippet, into, position, options, context);
  if (!options.preview) await spendSecrets(drawer, pasted, context);
  if (!options.quiet && !options.json) tell(await drawer.sequence(), options, context, true);
}

async function land(
  drawer: Drawer,
  snippet: Snippet,
  into: string,
  position: number,
  options: NextOptions,
  context: Context,
): Promise<void> {
  const { content } = snippet;
  if (into === clipboardPlace) return landOnClipboard(drawer, snippet, position, options, context);
  const media = await drawer.mediaOf(content);
  const requests = await insertRequests(
    [into],
    { content, pieces: [content], media, languages: [options.language ?? snippet.language] },
    options,
    await drawer.settings(),
    context,
  );
  const { files, landed } = await planPaste(requests, { language: options.language ?? usualLanguage });
  const then = await drawer.sequenceChange(position + 1, placeAfter(into, landed[0], options), options.across);
  if (!options.preview) {
    const gone = removalSummary(options.takeOut ? [snippet] : []);
    await drawer.writeFiles({
      name: { kind: 'pastedInto', params: { count: 1, files: [landed[0]?.file ?? into] } },
      files,
      changes: [then, ...gone.changes],
    });
    gone.say(context);
  }
  await reportInserted(landed, `${position}`, { content, snippets: [snippet] }, options, context);
}

async function landOnClipboard(
  drawer: Drawer,
  snippet: Snippet,
  position: number,
  options: NextOptions,
  context: Context,
): Promise<void> {
  const { putOnClipboard, reportOnClipboard } = await import('../put-on-clipboard.ts');
  const offered = await offeredOf(drawer, snippet);
  if (!options.preview) {
    await putOnClipboard(offered, options, context);
    await moveOn(drawer, [snippet], { position, into: clipboardPlace }, options, context);
  }
  await reportOnClipboard(`${position}`, offered, options, context);
}

/** What a snippet is on a clipboard. */
export const offeredOf = async (drawer: Drawer, snippet: Snippet) => ({
  content: snippet.content,
  media: await drawer.mediaOf(snippet.content),
  languages: [snippet.language],
  snippets: [snippet],
});

/** Records that one was pasted, and where the next goes. */
export async function moveOn(
  drawer: Drawer,
  pasted: readonly Snippet[],
  { position, into }: { readonly position: number; readonly into: string | undefined },
  { across, takeOut }: Pick<NextOptions, 'across' | 'takeOut'>,
  context: Context,
): Promise<void> {
  const gone = removalSummary(takeOut ? pasted : []);
  const then = await drawer.sequenceChange(position + 1, into, across);
  await drawer.writeFiles({
    name: { kind: 'pasted', params: { count: 1 } },
    files: [],
    changes: [then, ...gone.changes],
  });
  gone.say(context);
}

/** In a sheet each lands under the last, or beside it; in a text at the same place, whose end has moved. */
function placeAfter(into: string, landed: PasteResult | undefined, { across }: NextOptions): string {
  const { file } = parsePlace(into);
  const cells = landed?.cells === undefined ? undefined : parsePlace(`x#${landed.cells}`).fragment;
  if (cells?.kind === 'table' && cells.cells) return inTable(into, cells, across);
  if (cells?.kind !== 'cells' || !cells.rows || !cells.columns) return into;
  const name = file.replaceAll('%', '%25').replaceAll('#', '%23');
  const sheet = cells.sheet === undefined ? '' : printFragment({ kind: 'cells', sheet: cells.sheet });
  const corner = across
    ? `${columnLetters(cells.columns.to + 1)}${cells.rows.from}`
    : `${columnLetters(cells.columns.from)}${cells.rows.to + 1}`;
  return `${name}#${sheet}${corner}`;
}

/** From cell to cell of a table in a text: under the last, or beside it. */
function inTable(into: string, { from, cells }: NumberedFragment, across: boolean | undefined): string {
  if (!cells || 'heading' in cells || !cells.rows || !cells.columns) return into;
  const only = (at: number) => ({ from: at, to: at });
  const next = across
    ? { rows: only(cells.rows.from), columns: only(cells.columns.to + 1) }
    : { rows: only(cells.rows.to + 1), columns: only(cells.columns.from) };
  return `${into.slice(0, into.indexOf('#'))}#${printFragment({ kind: 'table', from, to: from, cells: next })}`;
}

/** What comes next and how many are left, as a remark where something else is the result. */
function tell(
  { next: summary, position, left, into }: SequencePoint & { readonly into?: string },
  { json, quiet }: NextOptions,
  { print, remark, words }: Context,
  asRemark = false,
): void {
  if (json)
    return print(
      JSON.stringify(
        { position, left, ...(summary && { next: summary }), ...(into !== undefined && { into }) },
        null,
        2,
      ),
    );
  if (quiet) return;
  const what = summary
    ? words.tell('nextIs', {
        position,
        preview: clipped(summary.facts.preview, 60),
        left,
        into: into === undefined ? '' : words.tell('nextInto', { into }),
      })
    : words.tell('nextNoneLeft');
  (asRemark ? remark : print)(what);
}
