import { type Content, DrawerError, type Media } from '../content/index.ts';
import type { Drawer, Elsewhere, Snippet } from '../drawer/index.ts';
import {
  type Arrived,
  linkChanges,
  type PasteResult,
  pasteIntoDrawer,
  planPaste,
  planSnippets,
  takesSnippets,
  whileClaimed,
} from '../node/index.ts';
import { type Fragment, type Place, parseFragment, printFragment, type Span } from '../places/index.ts';
import { snippetCount } from './command-words.ts';
import type { Context } from './context.ts';
import { clipboardPlace, filesNamed, findPlace } from './gather.ts';
import { type InsertOptions, insertRequests, linkedRequestsOf, reportInserted } from './insert-options.ts';
import { usualLanguage } from './language.ts';
import { removalSummary } from './removal-summary.ts';

interface Options extends InsertOptions {
  readonly takeOut?: boolean;
  readonly language?: string;
}

interface Pasted {
  readonly snippets: readonly Snippet[];
  readonly content: Content;
  readonly pieces: readonly Content[];
  readonly languages: readonly (string | undefined)[];
  readonly media: Media;
}

/** The places by what they are. */
interface Places {
  readonly drawers: Place[];
  /** Files of snippets. */
  readonly files: Place[];
  /** All others, as they were named. */
  readonly documents: string[];
  /** Whether what other programs paste is one of them. */
  readonly isClipboard: boolean;
}

async function sorted(named: readonly string[]): Promise<Places> {
  const isClipboard = named.includes(clipboardPlace);
  const places: Places = { drawers: [], files: [], documents: [], isClipboard };
  for (const words of named.filter((each) => each !== clipboardPlace)) {
    const place = await findPlace(words);
    const takes = await takesSnippets(place);
    if (takes === undefined) places.documents.push(words);
    else places[takes === 'drawer' ? 'drawers' : 'files'].push(place);
  }
  return places;
}

/**
 * Pastes into files, as one action with what leaves the drawer, and into other drawers, which have histories of their own. All is
 * worked out before anything is changed. Gives the snippets that arrived somewhere.
 */
export async function pasteInto(
  drawer: Drawer,
  pasted: Pasted,
  options: Options,
  context: Context,
): Promise<readonly Snippet[]> {
  const { into = [], preview } = options;
  return whileClaimed(preview ? [] : filesNamed(into), () => pasteClaimed(drawer, pasted, options, context));
}

async function pasteClaimed(
  drawer: Drawer,
  pasted: Pasted,
  options: Options,
  context: Context,
): Promise<readonly Snippet[]> {
  const { snippets } = pasted;
  const places = await sorted(options.into ?? []);
  const planned = await planSnippets(places.files, pasted, options);
  const settings = await drawer.settings();
  if (options.linked && (places.drawers.length > 0 || places.files.length > 0 || places.isClipboard))
    throw new DrawerError('unsupported/bookmark-not-here');
  const requests = options.linked
    ? await linkedRequestsOf(drawer, places.documents, snippets, options, settings, context)
    : await insertRequests(places.documents, pasted, options, settings, context);
  const plan = await planPaste(requests, { language: options.language ?? usualLanguage });
  const { files } = plan;
  const links = options.linked ? await linkChanges(snippets, plan.landed) : [];
  const landed = options.linked ? linkedTogether(plan.landed, snippets.length) : plan.landed;
  const all = snippetCount(snippets.length);
  const clipboard = places.isClipboard ? await import('./put-on-clipboard.ts') : undefined;
  if (options.preview) {
    for (const { file } of [...places.drawers, ...places.files])
      context.print(context.words.tell('wouldPasteAll', { snippets: all, file }));
    if (landed.length > 0) await reportInserted(landed, all, pasted, options, context);
    if (clipboard) await clipboard.reportOnClipboard(all, pasted, options, context);
    return snippets;
  }
  await clipboard?.putOnClipboard(pasted, options, context);
  const elsewhere: Elsewhere[] = [];
  const ids = new Set(
    landed.length > 0 || clipboard ? snippets.map(({ id }) => id) : planned.flatMap((each) => each.ids),
  );
  for (const place of places.drawers) {
    const there = await pasteIntoDrawer(place, pasted, { side: options.side, passphraseOf: context.passphraseOf });
    for (const id of there.ids) ids.add(id);
    if (there.done) elsewhere.push(there.done);
    reportArrived(place.file, there, snippets, options, context);
  }
  const arrived = snippets.filter(({ id }) => ids.has(id));
  const names = [...new Set([...places.drawers, ...planned, ...landed].map(({ file }) => file))];
  const gone = options.takeOut ? removalSummary(arrived) : undefined;
  const changes = [...(gone?.changes ?? []), ...elsewhere, ...links];
  const name =
    names.length > 0
      ? { kind: 'pastedInto', params: { count: arrived.length, files: names } }
      : { kind: 'pasted', params: { count: arrived.length } };
  // What went on the clipboard alone is no action: there is nothing to take back.
  if (names.length > 0 || changes.length > 0)
    await drawer.writeFiles({ name, files: [...planned.map(({ write }) => write), ...files], changes });
  for (const each of planned) reportArrived(each.file, each, snippets, options, context);
  gone?.say(context);
  if (landed.length > 0) await reportInserted(landed, all, pasted, options, context);
  if (clipboard) await clipboard.reportOnClipboard(all, pasted, options, context);
  if (options.style !== undefined && options.style !== settings.style && landed.length > 0)
    await drawer.changeSettings({ style: options.style as typeof settings.style });
  return arrived;
}

/** Reports linked snippets, which land one after another, as one result: the first place in a text, the whole range in a sheet. */
function linkedTogether(landed: readonly PasteResult[], count: number): readonly PasteResult[] {
  return landed.flatMap((first, index) => {
    if (index % count !== 0) return [];
    const areas = landed
      .slice(index, index + count)
      .map(({ cells }) => (cells === undefined ? undefined : parseFragment(cells)));
    const cells = areas.reduce((all, each) => around(all, each));
    if (cells?.kind !== 'cells') return [first];
    const place = printFragment(cells);
    return [{ ...first, cells: place, where: { kind: 'landed.cells', params: { place } } }];
  });
}

/** The smallest area of a sheet that contains both. */
function around(one: Fragment | undefined, other: Fragment | undefined): Fragment | undefined {
  if (one?.kind !== 'cells' || other?.kind !== 'cells') return undefined;
  const both = (first: Span | undefined, second: Span | undefined): Span | undefined =>
    first && second && { from: Math.min(first.from, second.from), to: Math.max(first.to, second.to) };
  const [rows, columns] = [both(one.rows, other.rows), both(one.columns, other.columns)];
  return {
    kind: 'cells',
    ...(one.sheet !== undefined && { sheet: one.sheet }),
    ...(rows && { rows }),
    ...(columns && { columns }),
  };
}

function reportArrived(
  file: string,
  { from, to }: Arrived,
  snippets: readonly Snippet[],
  { quiet }: Options,
  { print, remark, words }: Context,
): void {
  const pasted = to - from + 1;
  const numbers = pasted === 0 ? '' : words.tell('arrivedAs', { numbers: from === to ? `${from}` : `${from}-${to}` });
  if (!quiet) print(words.tell('arrived', { snippets: snippetCount(pasted), file, numbers }));
  if (pasted < snippets.length) remark(words.tell('arrivedNot', { snippets: snippetCount(snippets.length - pasted) }));
}
